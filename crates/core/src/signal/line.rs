//! Lines from an indicator. A line pattern says which part of a line is the value, the unit, the
//! steady mark; a line that does not fit is never taken for a reading.

use std::sync::LazyLock;

use regex::Regex;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::quantity::{Decimal, Mass, Unit};
use crate::wording::Text;

/// Longest line that is read, in bytes.
pub const LONGEST_LINE: usize = 256;

/// The pattern of Ombret's own line format (docs/line-format.md).
pub const OWN_PATTERN: &str = r"^(?:(?<limit>over|under)|(?<mark>steady|moving) (?<value>-?\d+(?:\.\d+)?) (?<unit>mg|g|kg|t|lb|oz|tn)(?: fine=(?<fine>-?\d+(?:\.\d+)?))?(?: counts=(?<counts>-?\d+))?)$";

/// Groups for the counts of each cell.
const CELLS: [&str; 8] = ["cell1", "cell2", "cell3", "cell4", "cell5", "cell6", "cell7", "cell8"];

/// How a line is described: a regular expression with the named groups `value` (needed), `unit`,
/// `mark`, `fine`, `counts`, `cell1` to `cell8` for the counts of each cell, and `limit` for a display that shows no figure.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct LinePattern {
    /// The expression.
    pub pattern: String,
    /// The text of the group `mark` that means steady.
    pub steady: String,
    /// The unit, where the line does not say it.
    #[serde(default)]
    pub unit: Option<Unit>,
}

impl Default for LinePattern {
    fn default() -> Self {
        Self { pattern: OWN_PATTERN.into(), steady: "steady".into(), unit: None }
    }
}

/// Why a pattern or a line is not understood.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LineError {
    /// The pattern is no regular expression.
    Pattern(Text),
    /// The pattern does not say where the value stands.
    NoValue,
    /// Neither the line nor the pattern says the unit.
    NoUnit,
    /// The line does not fit.
    NoMatch(String),
    /// The line is too long.
    TooLong,
}

impl From<&LineError> for Text {
    fn from(error: &LineError) -> Self {
        match error {
            LineError::Pattern(f0) => text!("line-pattern", f0),
            LineError::NoValue => text!("line-no-value"),
            LineError::NoUnit => text!("line-no-unit"),
            LineError::NoMatch(f0) => text!("line-no-match", f0),
            LineError::TooLong => text!("line-too-long", longest_line = LONGEST_LINE),
        }
    }
}

impl From<LineError> for Text {
    fn from(error: LineError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for LineError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// A line, understood.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Line {
    /// A reading.
    Reading(LineReading),
    /// The display shows no figure; what it says instead.
    Blank(String),
}

/// A line, read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LineReading {
    /// What the display shows.
    pub shown: Mass,
    /// A finer reading than the display's, where the indicator gives one.
    pub fine: Option<Mass>,
    /// Internal counts.
    pub counts: Option<Decimal>,
    /// Counts of each cell, where the line carries them.
    pub cells: Vec<Decimal>,
    /// The indicator's own steady mark.
    pub mark: Option<bool>,
}

/// A pattern ready for use.
#[derive(Clone, Debug)]
pub struct LineReader {
    regex: Regex,
    pattern: LinePattern,
}

static SPACES: LazyLock<Option<Regex>> = LazyLock::new(|| Regex::new(r"\s+").ok());

impl LineReader {
    /// Reads the pattern.
    ///
    /// # Errors
    /// [`LineError`] where it cannot be used.
    pub fn new(pattern: LinePattern) -> Result<Self, LineError> {
        if pattern.pattern.len() > 1_000 {
            return Err(LineError::Pattern(text!("line-pattern-too-long")));
        }
        let regex = regex::RegexBuilder::new(&pattern.pattern).size_limit(1 << 20).build().map_err(|e| {
            LineError::Pattern(Text::from(e.to_string().lines().last().unwrap_or_default().to_owned()))
        })?;
        let has = |name: &str| regex.capture_names().flatten().any(|n| n == name);
        if !has("value") {
            return Err(LineError::NoValue);
        }
        if !has("unit") && pattern.unit.is_none() {
            return Err(LineError::NoUnit);
        }
        Ok(Self { regex, pattern })
    }

    /// Reads a line.
    ///
    /// # Errors
    /// [`LineError::NoMatch`] or [`LineError::TooLong`]; never a guessed reading.
    pub fn read(&self, line: &str) -> Result<Line, LineError> {
        if line.len() > LONGEST_LINE {
            return Err(LineError::TooLong);
        }
        let line = line.trim_end_matches(['\r', '\n']);
        let wrong = || {
            LineError::NoMatch(
                SPACES
                    .as_ref()
                    .map_or_else(|| line.to_owned(), |s| s.replace_all(line, " ").into_owned())
                    .chars()
                    .take(60)
                    .collect(),
            )
        };
        let parts = self.regex.captures(line).ok_or_else(wrong)?;
        let text = |name: &str| parts.name(name).map(|m| m.as_str());
        if let Some(limit) = text("limit") {
            return Ok(Line::Blank(limit.to_owned()));
        }
        let number = |name: &str| {
            text(name)
                .map(|t| t.trim_start_matches('+').replace(' ', "").replace(',', ".").parse::<Decimal>())
        };
        let unit = match text("unit") {
            Some(symbol) => symbol.parse().map_err(|_| wrong())?,
            None => self.pattern.unit.ok_or_else(wrong)?,
        };
        let mass = |value: Decimal| Mass::new(value, unit);
        Ok(Line::Reading(LineReading {
            shown: mass(number("value").ok_or_else(wrong)?.map_err(|_| wrong())?),
            fine: number("fine").transpose().map_err(|_| wrong())?.map(mass),
            counts: number("counts").transpose().map_err(|_| wrong())?,
            cells: CELLS
                .iter()
                .map_while(|name| number(name))
                .collect::<Result<_, _>>()
                .map_err(|_| wrong())?,
            mark: text("mark").map(|mark| mark == self.pattern.steady),
        }))
    }
}

/// Patterns that a line allows, the likeliest first, and what each makes of the line: a line may carry
/// several figures, and which of them the display shows only a person knows. A figure beside a unit that
/// stands by itself comes first, then one with a point, then the last. A first word is the steady mark, what
/// stands between is left open, what follows too.
///
/// # Errors
/// [`LineError`] where no figure stands in it, or its unit is not known.
pub fn candidates(example: &str, unit: Option<Unit>) -> Result<(LinePattern, Vec<LinePattern>), LineError> {
    if example.len() > LONGEST_LINE {
        return Err(LineError::TooLong);
    }
    let line = example.trim_matches(['\r', '\n']);
    let unfit = || LineError::NoMatch(line.chars().take(60).collect());
    let figures = FIGURE.as_ref().ok_or_else(unfit)?;
    let mut all: Vec<Figure> = figures.captures_iter(line).filter_map(|c| Figure::of(line, &c)).collect();
    // Sorting keeps the order of equals: the last figure of a kind is the likelier.
    all.reverse();
    all.sort_by_key(Figure::rank);
    let mut made: Vec<LinePattern> = Vec::new();
    let mut why = None;
    for figure in &all {
        match figure.pattern(line, unit) {
            Ok(pattern) if !made.contains(&pattern) => made.push(pattern),
            Ok(_) => {}
            Err(error) => why = Some(error),
        }
    }
    let mut made = made.into_iter();
    made.next().map(|first| (first, made.collect())).ok_or_else(|| why.unwrap_or_else(unfit))
}

/// A figure of a line.
struct Figure {
    start: usize,
    /// A unit stands beside it: after it or before.
    after: bool,
    before: Option<usize>,
    /// A letter or a digit stands right before it: part of a name.
    glued: bool,
    point: bool,
}

impl Figure {
    fn of(line: &str, captures: &regex::Captures) -> Option<Self> {
        let value = captures.name("value")?;
        let head = &line[..value.start()];
        let before = BEFORE.as_ref()?.captures(head).and_then(|c| c.name("unit")).map(|m| m.start());
        Some(Self {
            start: value.start(),
            after: captures.name("unit").is_some(),
            glued: value.as_str().starts_with(|c: char| c.is_ascii_digit())
                && head.ends_with(|c: char| c.is_alphanumeric())
                && before.is_none(),
            before,
            point: value.as_str().contains(['.', ',']),
        })
    }

    fn rank(&self) -> (bool, bool, bool) {
        (self.glued, !(self.after || self.before.is_some()), !self.point)
    }

    fn pattern(&self, line: &str, unit: Option<Unit>) -> Result<LinePattern, LineError> {
        let mut pattern = String::from("^");
        let mut steady = String::new();
        // A unit that stands before its figure belongs to it, where none stands after.
        let before = self.before.filter(|_| !self.after);
        let head = &line[..before.unwrap_or(self.start)];
        let mut rest = head;
        let word: String = head
            .trim_start()
            .chars()
            .take_while(|c| c.is_ascii_alphabetic() || matches!(c, '*' | '?'))
            .collect();
        if !word.is_empty() {
            let gap = head.len() - head.trim_start().len();
            pattern.push_str(&open(&head[..gap]));
            pattern.push_str(r"(?<mark>[A-Za-z*?]+)");
            rest = &head[gap + word.len()..];
            steady = word;
        }
        pattern.push_str(&open(rest));
        if let Some(before) = before {
            pattern.push_str(r"(?<unit>mg|kg|g|t|lb|oz|tn)");
            pattern.push_str(&open(
                line[before..self.start].trim_start_matches(|c: char| c.is_ascii_alphabetic()),
            ));
        }
        pattern.push_str(r"(?<value>[+-]? *\d+(?:[.,]\d+)?)");
        if self.after {
            pattern.push_str(r"[\s>)\]:;|]{0,3}(?<unit>mg|kg|g|t|lb|oz|tn)");
        }
        pattern.push_str(r"(?:[^\d.,].*)?$");
        // What was made must read the line it was made from.
        let made = LinePattern { pattern, steady, unit };
        match LineReader::new(made.clone())?.read(line)? {
            Line::Reading(_) => Ok(made),
            Line::Blank(_) => Err(LineError::NoMatch(line.chars().take(60).collect())),
        }
    }
}

static FIGURE: LazyLock<Option<Regex>> = LazyLock::new(|| {
    Regex::new(r"(?<value>[+-]? *\d+(?:[.,]\d+)?)(?:[\s>)\]:;|]{0,3}(?<unit>mg|kg|g|t|lb|oz|tn)\b)?").ok()
});

/// A unit right before a figure.
static BEFORE: LazyLock<Option<Regex>> =
    LazyLock::new(|| Regex::new(r"(?:^|[^A-Za-z0-9])(?<unit>mg|kg|g|t|lb|oz|tn)[ :=]*$").ok());

/// Separators as they stand, runs of spaces of any length, words of any content.
fn open(text: &str) -> String {
    let mut out = String::new();
    let mut chars = text.chars().peekable();
    while let Some(c) = chars.next() {
        if c.is_whitespace() {
            while chars.next_if(|c| c.is_whitespace()).is_some() {}
            out.push_str(r"\s*");
        } else if c.is_ascii_alphanumeric() {
            while chars.next_if(char::is_ascii_alphanumeric).is_some() {}
            out.push_str(r"[A-Za-z0-9]*");
        } else {
            out.push_str(&regex::escape(&c.to_string()));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn propose(example: &str, unit: Option<Unit>) -> Result<LinePattern, LineError> {
        candidates(example, unit).map(|(likeliest, _)| likeliest)
    }
    use proptest::prelude::*;

    fn shown(pattern: &LinePattern, line: &str) -> String {
        match LineReader::new(pattern.clone()).unwrap().read(line).unwrap() {
            Line::Reading(reading) => format!("{} {:?}", reading.shown, reading.mark),
            Line::Blank(says) => says,
        }
    }

    proptest! {
        #[test]
        fn a_pattern_made_from_one_line_reads_others_of_its_kind(a in 0i64..99_999, b in 0i64..99_999, which in 0usize..4, places in 0i64..4) {
            let number = |n: i64| Decimal::new(n, places).fixed(u32::try_from(places).unwrap());
            let line = |n: i64, mark: &str| match which {
                0 => format!("{mark},GS,+{:>9} kg", number(n)),
                1 => format!("{mark} {} kg", number(n)),
                2 => format!("  {mark}   {}kg B", number(n)),
                _ => format!("{mark};{}", number(n)),
            };
            let made = propose(&line(a, "ST"), Some(Unit::Kg)).unwrap();
            let kg = |n: i64| Mass::new(Decimal::new(n, places), Unit::Kg);
            prop_assert_eq!(shown(&made, &line(b, "ST")), format!("{} Some(true)", kg(b)));
            prop_assert_eq!(shown(&made, &line(b, "US")), format!("{} Some(false)", kg(b)));
        }

        #[test]
        fn any_line_gives_a_pattern_that_reads_it_or_an_error(line in "[ -~]{0,60}") {
            if let Ok(made) = propose(&line, Some(Unit::Kg)) {
                let read = LineReader::new(made).unwrap().read(&line);
                prop_assert!(matches!(read, Ok(Line::Reading(_))), "{line:?}: {read:?}");
            }
        }
    }

    #[test]
    fn a_line_without_a_figure_or_a_unit_makes_no_pattern() {
        assert!(matches!(propose("STEADY", Some(Unit::Kg)), Err(LineError::NoMatch(_))));
        assert!(matches!(propose("S 20.5", None), Err(LineError::NoUnit)));
        assert!(matches!(propose(&"9".repeat(400), None), Err(LineError::TooLong)));
        assert_eq!(shown(&propose("01 N  0020.50 lb", None).unwrap(), "02 G  0019.00 lb"), "19 lb None");
    }

    /// Invented formats, what the display showed, and whether the first guess is right.
    const INVENTED: [(&str, &str, bool); 20] = [
        ("calm | net 0020.5 kg | no. 17", "20.5 kg", true),
        ("W+ 0020.5kg *", "20.5 kg", true),
        ("kg 20.5 R", "20.5 kg", true),
        ("rest - 20.5 kg", "-20.5 kg", true),
        ("G 120.5 kg T 100.0 kg N 20.5 kg", "20.5 kg", true),
        ("N 20.5 kg T 100.0 kg", "20.5 kg", false),
        ("pos1:20.5:ok", "20.5 kg", true),
        ("<20.50>lb", "20.5 lb", true),
        ("0 1 2 0020.5", "20.5 kg", true),
        ("20.5", "20.5 kg", true),
        ("20,5 kg", "20.5 kg", true),
        ("ch2 20.5 kg", "20.5 kg", true),
        ("M2kg 20.5", "20.5 kg", true),
        ("= 20.500 g !", "20.5 g", true),
        ("20.5 kg 7", "20.5 kg", true),
        ("Z 000.0 t", "0 t", true),
        ("20.5kg#A1", "20.5 kg", true),
        ("S20.5kgE", "20.5 kg", true),
        ("kg:+20.5", "20.5 kg", true),
        ("12:30 31 20.5 kg 0.5 lb", "20.5 kg", false),
    ];

    #[test]
    fn twenty_invented_formats_are_guessed_or_asked_about() {
        let reads =
            |pattern: &LinePattern, line: &str| match LineReader::new(pattern.clone()).unwrap().read(line) {
                Ok(Line::Reading(reading)) => reading.shown.to_string(),
                other => panic!("{line}: {other:?}"),
            };
        for (line, shown, first) in INVENTED {
            let (best, others) = candidates(line, Some(Unit::Kg)).unwrap();
            assert_eq!(reads(&best, line) == shown, first, "{line}: {}", reads(&best, line));
            // A wrong guess is a question: the right one is among the others.
            assert!(first || others.iter().any(|p| reads(p, line) == shown), "{line}: {others:?}");
        }
    }

    #[test]
    fn the_counts_of_each_cell_are_read_where_the_line_has_them() {
        let pattern = LinePattern {
            pattern: r"^(?<value>\d+\.\d) (?<unit>kg) a=(?<cell1>\d+) b=(?<cell2>\d+)$".into(),
            ..LinePattern::default()
        };
        let read = reading(&LineReader::new(pattern).unwrap(), "20.5 kg a=9012 b=8990");
        assert_eq!(read.cells, [Decimal::from(9012u32), Decimal::from(8990u32)]);
    }

    fn own() -> LineReader {
        LineReader::new(LinePattern::default()).unwrap()
    }

    fn reading(reader: &LineReader, line: &str) -> LineReading {
        match reader.read(line) {
            Ok(Line::Reading(reading)) => reading,
            other => panic!("{line}: {other:?}"),
        }
    }

    #[test]
    fn a_display_without_a_figure_is_understood_and_is_no_reading() {
        assert_eq!(own().read("over"), Ok(Line::Blank("over".into())));
        assert!(own().read("over 5").is_err());
    }

    #[test]
    fn the_own_format_is_read_whole_and_in_part() {
        let read = reading(&own(), "steady 600.2 kg fine=600.213 counts=241320\r\n");
        assert_eq!(
            (read.shown.to_string(), read.fine.unwrap().to_string()),
            ("600.2 kg".into(), "600.213 kg".into())
        );
        assert_eq!((read.counts.unwrap().to_string(), read.mark), ("241320".into(), Some(true)));
        let short = reading(&own(), "moving -0.2 lb");
        assert_eq!((short.shown.unit, short.fine, short.mark), (Unit::Lb, None, Some(false)));
    }

    #[test]
    fn a_line_that_does_not_fit_is_no_reading() {
        for line in [
            "",
            "overload",
            "steady 600.2",
            "steady 6O0.2 kg",
            "steady 600.2 kgx",
            "xsteady 600.2 kg",
            "steady 600.2 kg counts=x",
            &"9".repeat(300),
        ] {
            assert!(own().read(line).is_err(), "{line}");
        }
    }

    #[test]
    fn a_pattern_of_another_indicator_can_be_given() {
        let pattern = LinePattern {
            pattern: r"^(?<mark>[SU])\s*(?<value>[+-] *\d+\.\d)$".into(),
            steady: "S".into(),
            unit: Some(Unit::Kg),
        };
        let read = reading(&LineReader::new(pattern).unwrap(), "S +  20.5");
        assert_eq!((read.shown.to_string(), read.mark), ("20.5 kg".into(), Some(true)));
    }

    #[test]
    fn a_pattern_without_value_or_unit_or_sense_is_refused() {
        let with = |pattern: &str| {
            LineReader::new(LinePattern { pattern: pattern.into(), ..LinePattern::default() }).map(|_| ())
        };
        assert_eq!(with(r"(?<unit>kg)"), Err(LineError::NoValue));
        assert_eq!(with(r"(?<value>\d+)"), Err(LineError::NoUnit));
        assert!(matches!(with("(?<value>"), Err(LineError::Pattern(_))));
    }

    proptest! {
        #[test]
        fn any_line_at_all_is_answered(line in "\\PC{0,300}") {
            let _ = own().read(&line);
        }
    }
}
