//! The technician's hands, one command a line: `put 20.5`, `take 20.5`, `clear`, `push`,
//! `setup 870 0.2 1`, `zero`, `span 600`, `save`, `quit`, `look`.

/// A command.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Command {
    /// Put so many kg on.
    Put(f64),
    /// Put so many kg on at a place: from the left and from the rear, 0 to 1.
    PutAt(f64, f64, f64),
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
}

/// The command is not understood.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("not a command: “{0}”; there are put KG, put KG at X Y, take KG, clear, push, setup MAX D DECIMALS, zero, span WEIGHT, save, quit, look")]
pub struct CommandError(pub String);

impl std::str::FromStr for Command {
    type Err = CommandError;

    fn from_str(line: &str) -> Result<Self, Self::Err> {
        let wrong = || CommandError(line.chars().take(60).collect());
        let words: Vec<&str> = line.split_whitespace().collect();
        let figure = |text: &str| text.parse::<f64>().ok().filter(|f| f.is_finite() && *f >= 0.0 && *f < 1e9).ok_or_else(wrong);
        Ok(match words.as_slice() {
            ["put", kg] => Self::Put(figure(kg)?),
            ["put", kg, "at", x, y] => {
                let (x, y) = (figure(x)?, figure(y)?);
                if x > 1.0 || y > 1.0 {
                    return Err(wrong());
                }
                Self::PutAt(figure(kg)?, x, y)
            }
            ["take", kg] => Self::Take(figure(kg)?),
            ["clear"] => Self::Clear,
            ["push"] => Self::Push,
            ["setup", max, d, decimals] => Self::Setup(figure(max)?, figure(d)?, decimals.parse().map_err(|_| wrong())?),
            ["zero"] => Self::Zero,
            ["span", weight] => Self::Span(figure(weight)?),
            ["save"] => Self::Save,
            ["quit"] => Self::Quit,
            ["look"] => Self::Look,
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
        assert_eq!("put 20 at 0.25 1".parse(), Ok(Command::PutAt(20.0, 0.25, 1.0)));
        assert!("put 20 at 0.25 1.5".parse::<Command>().is_err(), "beside the platform");
        assert_eq!("  setup 870 0.2 1 ".parse(), Ok(Command::Setup(870.0, 0.2, 1)));
        for bad in ["", "put", "put x", "put -5", "put NaN", "put inf", "span", "zero 1", "lift 5", "setup 1 2"] {
            assert!(bad.parse::<Command>().is_err(), "{bad}");
        }
    }
}
