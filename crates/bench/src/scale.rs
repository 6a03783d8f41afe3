//! A whole scale: its platforms with an indicator channel each, and what its file says.

use serde::{Deserialize, Serialize};

use ombret_core::keying::Act;
use ombret_core::practice::LessonText;

use crate::answer::{Answer, Standing};
use crate::cells::CellSettings;
use crate::indicator::{Calibration, Indicator, KeyRefusal, Manners, Panel};
use crate::menu::Menu;
use crate::operator::Command;
use crate::platform::{Platform, PlatformSettings, Surroundings};

/// A scale as a file.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ScaleSettings {
    /// What it is.
    pub about: String,
    /// The platform, or the first of several pads.
    pub platform: PlatformSettings,
    /// Further pads, each with its own calibration.
    #[serde(default)]
    pub pads: Vec<PadSettings>,
    /// How the indicator is set up.
    pub panel: Panel,
    /// How it was calibrated when it is found.
    pub calibration: Calibration,
    /// What the indicator asks of the hands.
    #[serde(default)]
    pub manners: Manners,
    /// The profile that its menu is run from, as text; `ombret-bench` also takes the name of a file
    /// beside this one.
    #[serde(default)]
    pub profile: Option<String>,
    /// A motor-driven internal weight.
    #[serde(default)]
    pub internal: Option<InternalWeight>,
    /// What is found on looking closely, and how that is mended.
    #[serde(default)]
    pub conditions: Vec<Condition>,
    /// Seed of its noise.
    pub seed: u64,
}

/// Why a file is no scale.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{part}: {says}")]
pub struct SettingsError {
    /// Which part.
    pub part: &'static str,
    /// What is wrong with it.
    pub says: &'static str,
}

impl ScaleSettings {
    /// Most pads.
    pub const MOST_PADS: usize = 8;
    /// Most cells under one.
    pub const MOST_CELLS: usize = 16;
    /// Most decimals of the display.
    pub const MOST_DECIMALS: usize = 9;

    /// Checks that it can be run: a file of a workshop may say anything.
    ///
    /// # Errors
    /// [`SettingsError`] with the part.
    pub fn check(&self) -> Result<(), SettingsError> {
        let wrong = |part, says| Err(SettingsError { part, says });
        let positive = |f: f64| f.is_finite() && f > 0.0;
        let panel = &self.panel;
        if !(positive(panel.max)
            && positive(panel.d)
            && panel.d < panel.max
            && panel.decimals <= Self::MOST_DECIMALS)
        {
            return wrong("panel", "Max and division above zero, the division below Max, at most 9 decimals");
        }
        if self.pads.len() >= Self::MOST_PADS {
            return wrong("pads", "at most 8 in all");
        }
        let first = (&self.platform, &self.calibration);
        for (platform, calibration) in
            std::iter::once(first).chain(self.pads.iter().map(|p| (&p.platform, &p.calibration)))
        {
            if platform.cells.len() > Self::MOST_CELLS {
                return wrong("platform.cells", "at most 16 under one platform");
            }
            if !(positive(platform.counts_per_kg)
                && positive(platform.swing_hz)
                && platform.swing_hz <= 50.0
                && (0.01..=10.0).contains(&platform.damping))
            {
                return wrong(
                    "platform",
                    "counts for a kilogram above zero, a swing of at most 50 Hz, a damping of 0.01 to 10",
                );
            }
            if !(positive(platform.stop_kg)
                && platform.cell_kg.is_none_or(positive)
                && platform.noise_counts >= 0.0)
            {
                return wrong("platform", "stops and cells above zero, noise not below it");
            }
            if !(calibration.zero.is_finite()
                && positive(calibration.per_unit.abs())
                && positive(calibration.factor))
            {
                return wrong("calibration", "counts for a unit and factor other than zero");
            }
        }
        if self.internal.as_ref().is_some_and(|i| !(positive(i.true_kg) && positive(i.kept))) {
            return wrong("internal", "masses above zero");
        }
        if let Some(text) = &self.profile
            && Menu::new(text).is_err()
        {
            return wrong("profile", "it is not readable as a profile");
        }
        Ok(())
    }
}

/// A further pad.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PadSettings {
    /// The platform.
    pub platform: PlatformSettings,
    /// How it was calibrated when it is found.
    pub calibration: Calibration,
}

/// A motor-driven internal weight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct InternalWeight {
    /// What it does to the cell, in kg.
    pub true_kg: f64,
    /// What the indicator takes it for, in its unit.
    pub kept: f64,
}

/// Something that is not as it should be, where the eye or the hand finds it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Condition {
    /// The item of the checklist.
    pub item: String,
    /// What is found there.
    pub seen: LessonText,
    /// What is done about it, in words; none: the hands cannot mend it here.
    #[serde(default)]
    pub mended: Option<LessonText>,
    /// The surroundings once it is mended.
    #[serde(default)]
    pub around: Option<Surroundings>,
    /// The cells once it is mended.
    #[serde(default)]
    pub cells: Vec<CellSettings>,
    /// Where the stops take over once it is mended, in kg.
    #[serde(default)]
    pub stop_kg: Option<f64>,
}

/// A scale in operation.
#[derive(Debug)]
pub struct Scale {
    pads: Vec<(Platform, Indicator)>,
    /// The pad that is shown; none: all together.
    shown: Option<usize>,
    internal: Option<InternalWeight>,
    conditions: Vec<Condition>,
    menu: Option<Menu>,
}

/// Seconds in which a motor sets the internal weight down and it comes to rest.
const MOTOR_S: f64 = 20.0;
/// Samples in that time.
const MOTOR_SAMPLES: u32 = 40;

impl Scale {
    /// As its file says, empty and at rest.
    pub fn new(settings: &ScaleSettings) -> Self {
        let first =
            PadSettings { platform: settings.platform.clone(), calibration: settings.calibration.clone() };
        let pad = |(seed, pad): (u64, &PadSettings)| {
            let indicator =
                Indicator::new(settings.panel.clone(), pad.calibration.clone(), settings.manners.clone());
            (Platform::new(pad.platform.clone(), settings.seed + seed), indicator)
        };
        let pads = (0..).zip(std::iter::once(&first).chain(&settings.pads)).map(pad).collect();
        let menu = settings.profile.as_deref().and_then(|text| Menu::new(text).ok());
        Self {
            menu,
            pads,
            shown: Some(0),
            internal: settings.internal.clone(),
            conditions: settings.conditions.clone(),
        }
    }

    /// Lets time pass and takes a sample; gives the line that is sent.
    pub fn tick(&mut self, seconds: f64) -> String {
        for (platform, indicator) in &mut self.pads {
            platform.pass(seconds);
            indicator.take(platform.sample());
        }
        match self.shown {
            Some(pad) => self.pads[pad].1.line(),
            None => crate::indicator::together(self.pads.iter().map(|(_, indicator)| indicator)),
        }
    }

    /// The pad in hand: the one that is shown, or the first.
    fn here(&mut self) -> &mut (Platform, Indicator) {
        &mut self.pads[self.shown.unwrap_or(0)]
    }

    fn pad(&self, pad: usize) -> Result<usize, KeyRefusal> {
        pad.checked_sub(1).filter(|p| *p < self.pads.len()).ok_or(KeyRefusal::None)
    }

    /// Does what the hands do.
    ///
    /// # Errors
    /// [`KeyRefusal`] where a key does nothing.
    pub fn act(&mut self, command: Command) -> Result<Answer, KeyRefusal> {
        match command {
            Command::Key(key) => self.at_menu(Act::Key { key })?,
            Command::Hold(key) => self.at_menu(Act::HoldAtPowerOn { key })?,
            Command::Power(on) => self.at_menu(if on { Act::PowerOn } else { Act::PowerOff })?,
            Command::Button => self.at_menu(Act::Button)?,
            Command::Put(kg) => self.here().0.put(kg),
            Command::PutAt(kg, x, y) => self.here().0.put_at(kg, x, y),
            Command::PutOn(kg, pad) => {
                let pad = self.pad(pad)?;
                self.pads[pad].0.put(kg);
            }
            Command::Take(kg) => self.here().0.put(-kg),
            Command::Clear => {
                self.pads.iter_mut().for_each(|(platform, _)| platform.put(-platform.load_kg()))
            }
            Command::Push => {
                let push = 20.0 * self.here().1.panel().d;
                self.here().0.push(push);
            }
            Command::Setup(max, d, decimals) => {
                for (_, indicator) in &mut self.pads {
                    let unit = indicator.panel().unit.clone();
                    indicator.key_setup(Panel { unit, max, d, decimals })?;
                }
            }
            Command::Zero => self.here().1.key_zero()?,
            Command::Span(weight) => self.here().1.key_span(weight)?,
            Command::Point(weight) => self.here().1.key_point(weight)?,
            Command::Factor(factor) => self.here().1.key_factor(factor)?,
            Command::Internal => self.turn_internal()?,
            Command::Keep(mass) => self.keep_internal(mass)?,
            Command::Switch(open) if self.menu.is_some() => self.at_menu(Act::Switch { on: open })?,
            Command::Switch(open) => {
                self.pads.iter_mut().try_for_each(|(_, indicator)| indicator.switch(open))?
            }
            Command::Pad(pad) => self.shown = pad.map(|pad| self.pad(pad)).transpose()?,
            Command::Save => self.here().1.key_save()?,
            Command::Quit => self.here().1.key_quit(),
            Command::Look => {}
            Command::LookAt(item) => return Ok(Answer::Found(self.look_at(&item))),
            Command::Mend(item) => return self.mend(&item).map(Answer::Mended),
        }
        Ok(Answer::Stands(self.standing()))
    }

    /// Something is done at the menu; first it is told what lies on the platform.
    fn at_menu(&mut self, act: Act) -> Result<(), KeyRefusal> {
        let Some(mut menu) = self.menu.take() else { return Err(KeyRefusal::None) };
        let (platform, indicator) = self.here();
        let lies = if platform.load_kg() > 1e-9 {
            Act::Load { what: format!("{:.3} kg", platform.load_kg()).into() }
        } else {
            Act::Unload
        };
        let done = menu.act(lies, indicator).and_then(|()| menu.act(act, indicator));
        self.menu = Some(menu);
        done
    }

    /// The motor sets the internal weight down on the empty platform, the indicator takes it for
    /// what it keeps, and the weight is lifted again.
    fn turn_internal(&mut self) -> Result<(), KeyRefusal> {
        let internal = self.internal.clone().ok_or(KeyRefusal::None)?;
        let (platform, indicator) = self.here();
        if !indicator.steady() || platform.load_kg() > 1e-9 {
            return Err(KeyRefusal::Motion);
        }
        let zero = indicator.signal();
        let rest = |platform: &mut Platform, indicator: &mut Indicator| {
            for _ in 0..MOTOR_SAMPLES {
                platform.pass(MOTOR_S / f64::from(MOTOR_SAMPLES));
                indicator.take(platform.sample());
            }
        };
        platform.put(internal.true_kg);
        rest(platform, indicator);
        indicator.match_internal(zero, internal.kept);
        platform.put(-internal.true_kg);
        rest(platform, indicator);
        Ok(())
    }

    fn keep_internal(&mut self, mass: f64) -> Result<(), KeyRefusal> {
        let internal = self.internal.as_mut().ok_or(KeyRefusal::None)?;
        // What a matched weight can differ by is far below a tenth.
        if !(0.9..=1.1).contains(&(mass / internal.kept)) {
            return Err(KeyRefusal::BadFigures);
        }
        internal.kept = mass;
        Ok(())
    }

    fn look_at(&self, item: &str) -> Option<LessonText> {
        self.conditions.iter().find(|c| c.item == item).map(|c| c.seen.clone())
    }

    fn mend(&mut self, item: &str) -> Result<LessonText, KeyRefusal> {
        let index = self.conditions.iter().position(|c| c.item == item).ok_or(KeyRefusal::Nothing)?;
        let Some(mended) = self.conditions[index].mended.clone() else { return Err(KeyRefusal::None) };
        let condition = self.conditions.remove(index);
        let (platform, _) = self.here();
        platform.mend(condition.around.as_ref(), &condition.cells);
        if let Some(kg) = condition.stop_kg {
            platform.set_stops(kg);
        }
        Ok(mended)
    }

    fn standing(&self) -> Standing {
        let (platform, indicator) = &self.pads[self.shown.unwrap_or(0)];
        let panel = indicator.panel();
        // Nothing on it is nothing, whatever the rounding leaves.
        let on = crate::operator::in_unit(platform.load_kg(), &panel.unit);
        let on = if on.abs() < 5e-4 { 0.0 } else { on };
        Standing {
            on: format!("{on:.3}"),
            unit: panel.unit.clone(),
            max: panel.max.to_string(),
            d: panel.d.to_string(),
            pads: self.pads.len(),
            pad: self.shown.map(|pad| pad + 1),
            calibrating: indicator.calibrating(),
            internal: self.internal.as_ref().map(|internal| internal.kept.to_string()),
            menu: self.menu.as_ref().and_then(Menu::display),
            switch_closed: !indicator.open(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn settings() -> ScaleSettings {
        serde_json::from_value(serde_json::json!({
            "about": "a platform for tests",
            "platform": {"dead_counts": 41250, "counts_per_kg": 333.0, "noise_counts": 0, "swing_hz": 1.6, "damping": 0.6, "stop_kg": 1300},
            "panel": {"unit": "kg", "max": 870, "d": 0.2, "decimals": 1},
            "calibration": {"zero": 41250, "per_unit": 333.0},
            "seed": 3
        }))
        .unwrap()
    }

    #[test]
    fn a_file_that_cannot_be_run_is_refused_with_its_part() {
        assert_eq!(settings().check(), Ok(()));
        let part = |change: fn(&mut ScaleSettings)| {
            let mut bad = settings();
            change(&mut bad);
            bad.check().map_err(|e| e.part)
        };
        assert_eq!(part(|s| s.panel.decimals = 4_000_000_000), Err("panel"));
        assert_eq!(part(|s| s.panel.d = 0.0), Err("panel"));
        assert_eq!(part(|s| s.platform.swing_hz = 1e9), Err("platform"));
        assert_eq!(part(|s| s.platform.damping = f64::INFINITY), Err("platform"));
        assert_eq!(part(|s| s.platform.cells = vec![CellSettings::at(0.5, 0.5); 17]), Err("platform.cells"));
        assert_eq!(part(|s| s.calibration.per_unit = 0.0), Err("calibration"));
        assert_eq!(
            part(|s| s.pads =
                vec![PadSettings { platform: s.platform.clone(), calibration: s.calibration.clone() }; 8]),
            Err("pads")
        );
        assert_eq!(part(|s| s.internal = Some(InternalWeight { true_kg: 1.0, kept: 0.0 })), Err("internal"));
        assert_eq!(part(|s| s.profile = Some("nonsense".into())), Err("profile"));
    }

    fn rests(scale: &mut Scale) -> f64 {
        let mut line = String::new();
        for _ in 0..200 {
            line = scale.tick(0.1);
        }
        line.split(' ').nth(1).and_then(|f| f.parse().ok()).unwrap_or(f64::NAN)
    }

    fn act(scale: &mut Scale, line: &str) -> Result<Answer, KeyRefusal> {
        scale.act(line.parse().unwrap())
    }

    #[test]
    fn pads_read_what_stands_on_each_and_together_the_sum() {
        let mut settings = settings();
        let pad =
            PadSettings { platform: settings.platform.clone(), calibration: settings.calibration.clone() };
        settings.pads = vec![pad.clone(), pad];
        let mut scale = Scale::new(&settings);
        act(&mut scale, "put 100 on 1").unwrap();
        act(&mut scale, "put 50 on 3").unwrap();
        act(&mut scale, "pad all").unwrap();
        assert!((rests(&mut scale) - 150.0).abs() < 0.01);
        act(&mut scale, "pad 3").unwrap();
        assert!((rests(&mut scale) - 50.0).abs() < 0.01);
        assert_eq!(act(&mut scale, "pad 4"), Err(KeyRefusal::None));
        assert_eq!(act(&mut scale, "put 4 on 0"), Err(KeyRefusal::None));
    }

    #[test]
    fn an_internal_weight_cures_drift_as_well_as_it_is_known() {
        let mut settings = settings();
        settings.calibration.per_unit = 335.0;
        settings.internal = Some(InternalWeight { true_kg: 400.1, kept: 400.0 });
        let mut scale = Scale::new(&settings);
        rests(&mut scale);
        act(&mut scale, "internal").unwrap();
        act(&mut scale, "put 800").unwrap();
        // Known a quarter of a gram in a kilogram wrong, it adjusts by as much wrong.
        assert!((rests(&mut scale) - 799.8).abs() < 0.01);
        act(&mut scale, "clear").unwrap();
        rests(&mut scale);
        act(&mut scale, "keep 400.1").unwrap();
        act(&mut scale, "internal").unwrap();
        act(&mut scale, "put 800").unwrap();
        assert!((rests(&mut scale) - 800.0).abs() < 0.01);
        assert_eq!(act(&mut scale, "internal"), Err(KeyRefusal::Motion), "something is on it");
        assert_eq!(act(&mut scale, "keep 200"), Err(KeyRefusal::BadFigures));
    }

    #[test]
    fn what_is_wrong_is_found_where_it_is_and_mended_there() {
        let mut settings = settings();
        settings.platform.around.debris_from_kg = Some(300.0);
        settings.platform.around.debris_share = 0.2;
        settings.conditions = vec![Condition {
            item: "gap".into(),
            seen: "a stone".into(),
            mended: Some("it is out".into()),
            around: Some(Surroundings::default()),
            cells: Vec::new(),
            stop_kg: None,
        }];
        let mut scale = Scale::new(&settings);
        act(&mut scale, "put 600").unwrap();
        assert!((rests(&mut scale) - 540.0).abs() < 0.01);
        assert_eq!(act(&mut scale, "look at cable"), Ok(Answer::Found(None)));
        assert_eq!(act(&mut scale, "look at gap"), Ok(Answer::Found(Some("a stone".into()))));
        assert_eq!(act(&mut scale, "mend cable"), Err(KeyRefusal::Nothing));
        assert_eq!(act(&mut scale, "mend gap"), Ok(Answer::Mended("it is out".into())));
        assert!((rests(&mut scale) - 600.0).abs() < 0.01);
    }
}
