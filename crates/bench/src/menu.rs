//! The menu of an indicator, run from a profile: keys are pressed by name, and what the menu captures
//! and keeps is done to the simulated indicator. What is keyed in for the set-up stays in the menu.

use ombret_core::keying::{Act, Machine, Meaning, Profile, Slot, Values, read_profile};

use crate::indicator::{Indicator, KeyRefusal};

/// Most acts that are remembered; a menu in which nobody ever leaves is begun anew.
const MOST_ACTS: usize = 4_000;

/// A menu in operation. The machine borrows its profile, so it is played from its acts.
#[derive(Debug)]
pub struct Menu {
    profile: Profile,
    held: Values,
    acts: Vec<Act>,
}

impl Menu {
    /// From the text of a profile.
    ///
    /// # Errors
    /// What is wrong with it.
    pub fn new(profile: &str) -> Result<Self, String> {
        let profile = read_profile(profile).map_err(|problems| {
            problems.iter().map(|p| format!("line {}: {}", p.line, p.says)).collect::<Vec<_>>().join("; ")
        })?;
        Ok(Self { held: profile.untouched(), profile, acts: Vec::new() })
    }

    fn machine(&self) -> Machine<'_> {
        let mut machine = Machine::new(&self.profile, self.held.clone());
        self.acts.iter().for_each(|act| machine.act(act));
        machine
    }

    /// What its display shows; none while it weighs.
    pub fn display(&self) -> Option<String> {
        let machine = self.machine();
        (!machine.weighs()).then(|| machine.display())
    }

    /// Does something at it; what it captures and keeps is done to the indicator.
    ///
    /// # Errors
    /// [`KeyRefusal`] of the indicator; the menu then stays where it was.
    pub fn act(&mut self, act: Act, indicator: &mut Indicator) -> Result<(), KeyRefusal> {
        let mut machine = self.machine();
        let (captured, kept, weighed) = (machine.captures().len(), machine.kept().clone(), machine.weighs());
        machine.act(&act);
        for slot in &machine.captures()[captured..] {
            match slot.meaning {
                Meaning::Zero => indicator.key_zero()?,
                _ => capture(&self.profile, indicator, *slot, machine.current())?,
            }
        }
        if machine.kept() != &kept {
            indicator.keep_now();
        }
        if act == Act::PowerOff {
            indicator.forget();
        }
        let left = !weighed && machine.weighs() && machine.current() == machine.kept();
        let held = machine.kept().clone();
        drop(machine);
        self.acts.push(act);
        // Once it is left nothing but what is kept matters. On the way in the keys so far do matter.
        if left || self.acts.len() > MOST_ACTS {
            self.held = held;
            self.acts.clear();
        }
        Ok(())
    }
}

/// Span or a further point: its weight stands in the menu as it was keyed in.
fn capture(
    profile: &Profile,
    indicator: &mut Indicator,
    slot: Slot,
    values: &Values,
) -> Result<(), KeyRefusal> {
    let keyed = Slot { meaning: Meaning::SpanWeight, ..slot };
    let text = values
        .get(&keyed)
        .or_else(|| values.iter().find(|(s, _)| s.meaning == Meaning::SpanWeight).map(|(_, text)| text))
        .ok_or(KeyRefusal::BadFigures)?;
    let figure: f64 = text.parse().map_err(|_| KeyRefusal::BadFigures)?;
    let field = profile.parameters.iter().find(|p| p.meaning == Meaning::SpanWeight && p.point == slot.point);
    // Digits without a point count the last digit of the field, or of the display.
    let places = match field {
        Some(field) if field.with_point => 0,
        field => field
            .and_then(|f| f.decimals)
            .map_or_else(|| i32::try_from(indicator.panel().decimals).unwrap_or(0), i32::from),
    };
    let weight = figure / 10f64.powi(places);
    if slot.point <= 1 { indicator.key_span(weight) } else { indicator.key_point(weight) }
}
