//! From what was typed, or read from the connected indicator, to an entry. Text stays text until
//! here, so that every field is read by the same rules and refused at its place.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::{Body, Capture, CheckFinding, JobState, ReadStage, ScaleKind, ScaleSheet, Settlement, Setup, Taken, Way};
use crate::quantity::{Decimal, Division, Mass, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::setup::Plate;
use crate::tolerance::Tolerance;

/// Where a figure comes from.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum Source {
    /// Typed by a person.
    Typed {
        /// As typed.
        text: String,
        /// The person saw the steady sign for about three seconds.
        #[serde(default)]
        steady: bool,
    },
    /// From the connected indicator.
    Live,
}

/// What the connected indicator says at this moment.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Observation {
    /// Held still for the hold time.
    pub steady: bool,
    /// What it shows.
    pub shown: Mass,
    /// Mean of its raw signal.
    pub mean: Option<Mass>,
    /// Mean of its internal counts.
    pub counts: Option<Decimal>,
    /// Hold time in seconds.
    pub hold_s: Decimal,
    /// Restarts.
    pub restarts: u32,
    /// Samples.
    pub samples: u32,
}

/// Why nothing can be taken from an indicator at this moment, such as `the display shows no figure`.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Silence(pub String);

impl Silence {
    /// No indicator is connected.
    pub fn not_connected() -> Self {
        Self("none is connected".into())
    }
}

/// What a connected indicator gives at this moment.
pub type Heard = Result<Observation, Silence>;

/// An entry as it is typed.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Draft {
    /// An item of the checklist.
    LookedOver {
        /// Which.
        item: String,
        /// What was found.
        finding: CheckFinding,
        /// A note.
        #[serde(default)]
        note: String,
    },
    /// A fault settled.
    FaultSettled {
        /// Which item.
        item: String,
        /// How.
        how: Settlement,
        /// What was done or why.
        #[serde(default)]
        reason: String,
    },
    /// Another tolerance for this job.
    ToleranceChosen {
        /// Which.
        tolerance: Tolerance,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// A reading.
    Read {
        /// As found or to prove.
        stage: ReadStage,
        /// What was put on, as typed.
        load: String,
        /// What was shown.
        shown: Source,
        /// Up or down.
        way: Way,
    },
    /// Left alone.
    LeftAlone {
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// The set-up.
    SetUp {
        /// Max, as typed.
        max: String,
        /// Division, as typed.
        d: String,
        /// The unit for both.
        unit: Unit,
        /// Decimals, as typed; empty: as the division needs.
        #[serde(default)]
        decimals: String,
    },
    /// Zero.
    ZeroCaptured {
        /// Its counts.
        counts: Source,
    },
    /// The span weight.
    SpanChosen {
        /// As typed.
        weight: String,
    },
    /// Span.
    SpanCaptured {
        /// Its counts.
        counts: Source,
    },
    /// Saved in the indicator.
    AdjustmentSaved,
    /// Abandoned.
    AdjustmentAbandoned {
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// Seals, switch, lock.
    SealedUp {
        /// Seal numbers.
        #[serde(default)]
        seals: String,
        /// Switch back, cover on.
        switch_back: bool,
        /// Set-up locked.
        locked: bool,
    },
    /// A remark.
    Remarked {
        /// The remark.
        text: String,
    },
    /// Stopped short.
    StoppedShort {
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// An entry struck out.
    StruckOut {
        /// Which.
        entry: Uuid,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// Signed.
    Closed {
        /// The name.
        name: String,
    },
}

/// Reads a draft in the light of the job: units that were not typed are those of the display.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn interpret(state: &JobState, draft: Draft, live: &Heard) -> Result<Body, Refusal> {
    Ok(match draft {
        Draft::LookedOver { item, finding, note } => Body::LookedOver { item, finding, note: Some(note).filter(|n| !n.trim().is_empty()) },
        Draft::FaultSettled { item, how, reason } => Body::FaultSettled { item, how, reason },
        Draft::ToleranceChosen { tolerance, reason } => Body::ToleranceChosen { tolerance, reason },
        Draft::Read { stage, load, shown, way } => read(state, stage, &load, &shown, way, live)?,
        Draft::LeftAlone { reason } => Body::LeftAlone { reason },
        Draft::SetUp { max, d, unit, decimals } => Body::SetUp { setup: set_up(&max, &d, unit, &decimals)? },
        Draft::ZeroCaptured { counts } => Body::ZeroCaptured { capture: capture(&counts, live)? },
        Draft::SpanChosen { weight } => {
            let (setup, _) = state.setup_in_force();
            Body::SpanChosen { weight: parse_mass(&weight, setup.d.unit, "weight")? }
        }
        Draft::SpanCaptured { counts } => Body::SpanCaptured { capture: capture(&counts, live)? },
        Draft::AdjustmentSaved => Body::AdjustmentSaved,
        Draft::AdjustmentAbandoned { reason } => Body::AdjustmentAbandoned { reason },
        Draft::SealedUp { seals, switch_back, locked } => Body::SealedUp { seals, switch_back, locked },
        Draft::Remarked { text } => Body::Remarked { text },
        Draft::StoppedShort { reason } => Body::StoppedShort { reason },
        Draft::StruckOut { entry, reason } => Body::StruckOut { entry, reason },
        Draft::Closed { name } => Body::Closed { name: name.trim().to_owned() },
    })
}

fn read(state: &JobState, stage: ReadStage, load: &str, shown: &Source, way: Way, live: &Heard) -> Result<Body, Refusal> {
    let (setup, _) = match stage {
        ReadStage::AsFound => state.setup_as_found(),
        ReadStage::Prove => state.setup_in_force(),
    };
    let load = parse_mass(load, setup.d.unit, "load")?;
    let (shown, taken) = match shown {
        Source::Typed { text, .. } => (parse_mass(text, setup.d.unit, "shown")?, Taken::Typed),
        Source::Live => {
            let now = steady(live)?;
            (now.shown.clone(), taken(now))
        }
    };
    Ok(Body::Read { stage, load, shown, way, taken })
}

fn steady(live: &Heard) -> Result<&Observation, Refusal> {
    let now = match live {
        Ok(now) => now,
        Err(Silence(why)) => {
            let refusal = Refusal::new("no_signal", format!("no reading comes from the indicator: {why}"));
            return Err(refusal.at("shown").then("Look at the display, the cable and the address, or type the reading."));
        }
    };
    if now.steady {
        return Ok(now);
    }
    Err(Refusal::new("motion", "the reading is still moving").at("shown").then(
        "Hands off, wait until it has held for about three seconds. If it keeps starting again there is vibration or moving air: shield it, or suspect the cell.",
    ))
}

fn taken(now: &Observation) -> Taken {
    Taken::Live { hold_s: now.hold_s.clone(), restarts: now.restarts, samples: now.samples, mean: now.mean.clone() }
}

fn capture(counts: &Source, live: &Heard) -> Result<Capture, Refusal> {
    match counts {
        Source::Typed { text, steady } => {
            let text = text.trim().replace(['\u{2212}'], "-").replace([' ', '\u{A0}', '\u{2009}', '\u{202F}'], "");
            let counts = if text.is_empty() {
                None
            } else {
                let whole = |c: &Decimal| c.is_whole();
                let refused = || Refusal::new("not_counts", format!("“{}” are no internal counts: a whole number, or nothing if the indicator shows none", text.chars().take(24).collect::<String>())).at("counts");
                Some(text.parse::<Decimal>().ok().filter(whole).ok_or_else(refused)?)
            };
            if !steady {
                return Err(Refusal::new("motion", "it is not said that the reading was steady").at("steady").then(
                    "Wait until the steady sign has not flickered for about three seconds, then say so.",
                ));
            }
            Ok(Capture { counts, taken: Taken::Typed })
        }
        Source::Live => {
            let now = self::steady(live)?;
            Ok(Capture { counts: now.counts.as_ref().map(|c| c.round_to(1)), taken: taken(now) })
        }
    }
}

fn set_up(max: &str, d: &str, unit: Unit, decimals: &str) -> Result<Setup, Refusal> {
    let max = parse_mass(max, unit, "max")?;
    let d = parse_mass(d, unit, "d")?;
    if max.unit != unit || d.unit != unit {
        let (field, typed) = if max.unit == unit { ("d", d.unit) } else { ("max", max.unit) };
        return Err(Refusal::new("unit_differs", format!("typed in {typed} while the unit chosen is {unit}")).at(field).then("Choose the unit that the display will show, and type both in it."));
    }
    for (field, mass) in [("max", &max), ("d", &d)] {
        if !mass.value.is_positive() {
            return Err(Refusal::new("not_positive", format!("{mass} is not above zero")).at(field));
        }
    }
    let needed = Division::new(&d.value).map_err(|e| Refusal::from(e).at("d"))?.decimals();
    let decimals = match decimals.trim() {
        "" => needed,
        text => text.parse().ok().filter(|n| *n <= 9).ok_or_else(|| Refusal::new("not_a_number", "decimals are a whole number from 0 to 9").at("decimals"))?,
    };
    Ok(Setup { max, d, decimals })
}

/// A sheet from plain typed fields.
///
/// # Errors
/// A [`Refusal`] at its field.
#[expect(clippy::too_many_arguments, reason = "one argument a field of the sheet, each typed by a person")]
pub fn sheet_from_plain(
    id: Uuid,
    name: &str,
    owner: &str,
    place: &str,
    kind: ScaleKind,
    serial: &str,
    indicator: &str,
    unit: Unit,
    plate_max: &str,
    plate_d: &str,
    trade: bool,
    tolerance: Tolerance,
    interval_months: u8,
    field_width: u8,
) -> Result<ScaleSheet, Refusal> {
    let trimmed = |text: &str| text.trim().to_owned();
    let sheet = ScaleSheet {
        id,
        name: trimmed(name),
        owner: trimmed(owner),
        place: trimmed(place),
        kind,
        serial: trimmed(serial),
        indicator: trimmed(indicator),
        plate: Plate { max: parse_mass(plate_max, unit, "plate_max")?, d_min: parse_mass(plate_d, unit, "plate_d")? },
        trade,
        tolerance,
        interval_months,
        field_width,
    };
    sheet.check()?;
    Ok(sheet)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kg(text: &str) -> Mass {
        parse_mass(text, Unit::Kg, "test").unwrap()
    }

    #[test]
    fn a_set_up_is_read_with_its_unit_and_refused_at_its_field() {
        let made = set_up("870", "0,2", Unit::Kg, "").unwrap();
        assert_eq!((made.max, made.d, made.decimals), (kg("870"), kg("0.2"), 1));
        for (max, d, decimals, field) in [
            ("-870", "0.2", "", "max"),
            ("8.7.0", "0.2", "", "max"),
            ("1000000000000000000000000000000", "0.2", "", "max"),
            ("870", "3", "", "d"),
            ("870", "abc", "", "d"),
            ("870 lb", "0.2", "", "max"),
            ("870", "0.2", "one", "decimals"),
            ("870", "0.2", "-1", "decimals"),
        ] {
            let refused = set_up(max, d, Unit::Kg, decimals).unwrap_err();
            assert_eq!(refused.field.as_deref(), Some(field), "{max} {d} {decimals}: {refused:?}");
        }
    }

    #[test]
    fn counts_are_whole_may_be_missing_and_need_the_steady_sign() {
        let typed = |text: &str, steady| capture(&Source::Typed { text: text.into(), steady }, &Err(Silence::not_connected()));
        assert_eq!(typed("412 118", true).unwrap().counts, Some("412118".parse().unwrap()));
        assert_eq!(typed(" ", true).unwrap().counts, None);
        assert_eq!(typed("-250", true).unwrap().counts, Some("-250".parse().unwrap()));
        assert_eq!(typed("4.5", true).unwrap_err().code, "not_counts");
        assert_eq!(typed("1e9", true).unwrap_err().code, "not_counts");
        assert_eq!(typed("412118", false).unwrap_err().code, "motion");
        assert_eq!(capture(&Source::Live, &Err(Silence::not_connected())).unwrap_err().code, "no_signal");
    }
}
