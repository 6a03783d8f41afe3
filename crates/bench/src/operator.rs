//! The technician's hands, one command a line: `put 20.5`, `take 20.5`, `clear`, `push`,
//! `setup 870 0.2 1`, `zero`, `span 600`, `point 300`, `factor 1.002`, `internal`, `keep 200.0004`,
//! `switch open`, `pad 2`, `save`, `quit`, `look`, `look at cable`, `mend cable`, `key F2`.

use ombret_core::quantity::{Decimal, Mass, Unit};

/// A command.
#[derive(Clone, Debug, PartialEq)]
pub enum Command {
    /// Put so many kg on.
    Put(f64),
    /// Put so many kg on at a place: from the left and from the rear, 0 to 1.
    PutAt(f64, f64, f64),
    /// Put so many kg on the middle of a pad, from 1.
    PutOn(f64, usize),
    /// Take so many kg off.
    Take(f64),
    /// Take everything off.
    Clear,
    /// Push by hand.
    Push,
    /// Key in Max, division, decimals.
    Setup(f64, f64, usize),
    /// Key: capture zero.
    Zero,
    /// Key: capture span with this weight, in the display's unit.
    Span(f64),
    /// Key: save.
    Save,
    /// Key: leave without saving.
    Quit,
    /// Just look.
    Look,
    /// Look closely at an item of the checklist.
    LookAt(String),
    /// Mend what was found at an item.
    Mend(String),
    /// Key: capture a further point with this weight.
    Point(f64),
    /// Key in a correction factor.
    Factor(f64),
    /// Key: adjust with the internal weight.
    Internal,
    /// Key in the mass of the internal weight.
    Keep(f64),
    /// Move the switch under the seal; true: open.
    Switch(bool),
    /// Press a key of the menu, by its name or the button's label.
    Key(String),
    /// Power on, or off.
    Power(bool),
    /// Power on while a key is held.
    Hold(String),
    /// The confirm button under the seal.
    Button,
    /// Show one pad, from 1; none: all of them together.
    Pad(Option<usize>),
}

/// How many kilograms a unit is.
fn kg_of(unit: &str) -> Option<f64> {
    let one = Mass::new(Decimal::from(1u32), unit.parse().ok()?);
    Some(one.value_in(Unit::Kg).to_f64())
}

/// Kilograms in a unit of the display; one that is not known stays in kilograms.
pub(crate) fn in_unit(kg: f64, unit: &str) -> f64 {
    kg / kg_of(unit).unwrap_or(1.0)
}

/// The command is not understood.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error(
    "not a command: “{0}”; there are put KG, put KG at X Y, put KG on PAD, take KG, clear, push, setup MAX D DECIMALS, zero, span WEIGHT, point WEIGHT, factor F, internal, keep MASS, switch open, switch closed, pad N, pad all, save, quit, look, look at ITEM, mend ITEM, key NAME, power on, power off, hold KEY, button"
)]
pub struct CommandError(pub String);

impl std::str::FromStr for Command {
    type Err = CommandError;

    fn from_str(line: &str) -> Result<Self, Self::Err> {
        let wrong = || CommandError(line.chars().take(60).collect());
        let words: Vec<&str> = line.split_whitespace().collect();
        let figure = |text: &str| {
            text.parse::<f64>().ok().filter(|f| f.is_finite() && *f >= 0.0 && *f < 1e9).ok_or_else(wrong)
        };
        // A weight may name its unit; without one it is in kilograms.
        let mass = |text: &str| {
            let at = text.find(|c: char| c.is_ascii_alphabetic()).unwrap_or(text.len());
            let (value, unit) = text.split_at(at);
            let kg = if unit.is_empty() { Some(1.0) } else { kg_of(unit) };
            Ok(figure(value)? * kg.ok_or_else(wrong)?)
        };
        Ok(match words.as_slice() {
            ["put", kg] => Self::Put(mass(kg)?),
            ["put", kg, "at", x, y] => {
                let (x, y) = (figure(x)?, figure(y)?);
                if x > 1.0 || y > 1.0 {
                    return Err(wrong());
                }
                Self::PutAt(mass(kg)?, x, y)
            }
            ["put", kg, "on", pad] => Self::PutOn(mass(kg)?, pad.parse().map_err(|_| wrong())?),
            ["take", kg] => Self::Take(mass(kg)?),
            ["clear"] => Self::Clear,
            ["push"] => Self::Push,
            ["setup", max, d, decimals] => {
                Self::Setup(figure(max)?, figure(d)?, decimals.parse().map_err(|_| wrong())?)
            }
            ["zero"] => Self::Zero,
            ["span", weight] => Self::Span(figure(weight)?),
            ["save"] => Self::Save,
            ["quit"] => Self::Quit,
            ["look"] => Self::Look,
            ["look", "at", item] => Self::LookAt((*item).into()),
            ["mend", item] => Self::Mend((*item).into()),
            ["point", weight] => Self::Point(figure(weight)?),
            ["factor", factor] => Self::Factor(figure(factor)?),
            ["internal"] => Self::Internal,
            ["keep", mass] => Self::Keep(figure(mass)?),
            ["switch", "open"] => Self::Switch(true),
            ["switch", "closed"] => Self::Switch(false),
            ["key", key @ ..] if !key.is_empty() => Self::Key(key.join(" ")),
            ["power", "on"] => Self::Power(true),
            ["power", "off"] => Self::Power(false),
            ["hold", key @ ..] if !key.is_empty() => Self::Hold(key.join(" ")),
            ["button"] => Self::Button,
            ["pad", "all"] => Self::Pad(None),
            ["pad", pad] => Self::Pad(Some(pad.parse().map_err(|_| wrong())?)),
            _ => return Err(wrong()),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn commands_are_read_and_nonsense_is_refused() {
        assert_eq!("put 20.5".parse(), Ok(Command::Put(20.5)));
        assert_eq!("put 150g".parse(), Ok(Command::Put(0.15)));
        assert!("put 150stone".parse::<Command>().is_err());
        assert_eq!("put 20 at 0.25 1".parse(), Ok(Command::PutAt(20.0, 0.25, 1.0)));
        assert!("put 20 at 0.25 1.5".parse::<Command>().is_err(), "beside the platform");
        assert_eq!("  setup 870 0.2 1 ".parse(), Ok(Command::Setup(870.0, 0.2, 1)));
        assert_eq!("look at cable".parse(), Ok(Command::LookAt("cable".into())));
        assert_eq!("pad all".parse(), Ok(Command::Pad(None)));
        for bad in [
            "",
            "pad x",
            "switch",
            "put 5 on x",
            "look at",
            "put",
            "put x",
            "put -5",
            "put NaN",
            "put inf",
            "span",
            "zero 1",
            "lift 5",
            "setup 1 2",
        ] {
            assert!(bad.parse::<Command>().is_err(), "{bad}");
        }
    }
}
