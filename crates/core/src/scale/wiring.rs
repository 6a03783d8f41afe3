//! The wiring card: which wire is which, each with its colour as it was found. Colours differ from cell to
//! cell; none is assumed.

use crate::wording::Text;
/// A wire of a cell's cable.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Wire {
    /// Its stable name.
    pub id: &'static str,
    /// As it is written in the lines of a card that is kept.
    pub name: &'static str,
    /// It is one of the two that sense the excitation.
    pub sense: bool,
}

impl Wire {
    /// In words, as it stands on the card.
    pub fn label(&self) -> Text {
        Text::of("wire", self.id)
    }
}

const fn wire(id: &'static str, name: &'static str, sense: bool) -> Wire {
    Wire { id, name, sense }
}

/// The wires: four or six, and the shield.
pub const WIRES: [Wire; 7] = [
    wire("excitation_plus", "excitation +", false),
    wire("excitation_minus", "excitation −", false),
    wire("signal_plus", "signal +", false),
    wire("signal_minus", "signal −", false),
    wire("sense_plus", "sense +", true),
    wire("sense_minus", "sense −", true),
    wire("shield", "shield", false),
];

/// Colours that wires have; any other may be typed.
pub const WIRE_COLOURS: [&str; 12] =
    ["black", "blue", "brown", "green", "grey", "orange", "pink", "red", "violet", "white", "yellow", "bare"];

/// What a card comes to, in a sentence; none where nothing is noted.
pub fn wiring_says(lines: &[String]) -> Option<Text> {
    if lines.is_empty() {
        return None;
    }
    let noted = |wire: &Wire| {
        lines.iter().any(|line| {
            line.split_once(':').is_some_and(|(name, colour)| {
                name.trim().replace('-', "−").eq_ignore_ascii_case(wire.name) && !colour.trim().is_empty()
            })
        })
    };
    let six = WIRES.iter().any(|wire| wire.sense && noted(wire));
    let missing: Vec<Text> =
        WIRES.iter().filter(|w| (six || !w.sense) && !noted(w)).map(Wire::label).collect();
    let wires = if six {
        text!("wiring-six-wires-and-the-shield")
    } else {
        text!("wiring-four-wires-and-the-shield")
    };
    Some(if missing.is_empty() {
        text!("wiring-the-card-is-complete-wires", wires)
    } else {
        text!("wiring-the-card-is-not-complete", missing)
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_card_is_complete_with_four_or_six_wires_and_the_shield() {
        let card = |labels: &[&str]| labels.iter().map(|l| format!("{l}: red")).collect::<Vec<_>>();
        let four = card(&["excitation +", "excitation -", "signal +", "signal −", "shield"]);
        assert_eq!(wiring_says(&four).unwrap(), "The card is complete: four wires and the shield.");
        let mut five = four.clone();
        five.push("sense +: pink".into());
        assert_eq!(wiring_says(&five).unwrap(), "The card is not complete: sense − not noted.");
        assert_eq!(wiring_says(&[]), None);
        assert!(wiring_says(&["signal +:".into()]).unwrap().to_string().contains("signal +"));
    }
}
