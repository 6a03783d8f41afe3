//! A whole scale: platform and indicator together, and what its file says.

use serde::{Deserialize, Serialize};

use crate::hands::Command;
use crate::indicator::{Calibration, Indicator, KeyRefusal, Panel};
use crate::platform::{Platform, PlatformSettings};

/// A scale as a file.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ScaleSettings {
    /// What it is.
    pub about: String,
    /// The platform.
    pub platform: PlatformSettings,
    /// How the indicator is set up.
    pub panel: Panel,
    /// How it was calibrated when it is found.
    pub calibration: Calibration,
    /// Seed of its noise.
    pub seed: u64,
}

/// A scale in operation.
#[derive(Debug)]
pub struct Scale {
    platform: Platform,
    indicator: Indicator,
}

impl Scale {
    /// As its file says, empty and at rest.
    pub fn new(settings: &ScaleSettings) -> Self {
        Self {
            platform: Platform::new(settings.platform.clone(), settings.seed),
            indicator: Indicator::new(settings.panel.clone(), settings.calibration.clone()),
        }
    }

    /// Lets time pass and takes a sample; gives the line that is sent.
    pub fn tick(&mut self, seconds: f64) -> String {
        self.platform.pass(seconds);
        let counts = self.platform.sample();
        self.indicator.take(counts);
        self.indicator.line()
    }

    /// Does what the hands do.
    ///
    /// # Errors
    /// [`KeyRefusal`] where a key does nothing.
    pub fn act(&mut self, command: Command) -> Result<String, KeyRefusal> {
        match command {
            Command::Put(kg) => self.platform.put(kg),
            Command::PutAt(kg, x, y) => self.platform.put_at(kg, x, y),
            Command::Take(kg) => self.platform.put(-kg),
            Command::Clear => self.platform.put(-self.platform.load_kg()),
            Command::Push => self.platform.push(4.0),
            Command::Setup(max, d, decimals) => {
                let unit = self.indicator.panel().unit.clone();
                self.indicator.key_setup(Panel { unit, max, d, decimals })?;
            }
            Command::Zero => self.indicator.key_zero()?,
            Command::Span(weight) => self.indicator.key_span(weight)?,
            Command::Save => self.indicator.key_save()?,
            Command::Quit => self.indicator.key_quit(),
            Command::Look => {}
        }
        Ok(self.seen())
    }

    fn seen(&self) -> String {
        let panel = self.indicator.panel();
        let menu = if self.indicator.calibrating() { " calibrating" } else { "" };
        format!("on={:.3}kg max={} d={} {}{menu}", self.platform.load_kg(), panel.max, panel.d, panel.unit)
    }
}
