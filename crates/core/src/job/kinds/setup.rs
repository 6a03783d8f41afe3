//! The setup of an indicator: keyed in, found, its counters.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::adjust::{Site, given_g};
use crate::assessment::{Around, judge_setup};
use crate::grade::Grade;
use crate::journal::{Body, Counters, Entry, FIRST_PAD, JobState, ReadStage, Setup, entries};
use crate::keying::RangeMode;
use crate::quantity::{Decimal, Division, Mass, Range, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::scale::Check;
use crate::wording::Text;

use super::kind::{Admitted, Understood};
use super::pads::known_pad;
use super::uncounted::factor;
use super::words::{reasoned, said};

/// A set-up as it is typed.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SetupDraft {
    /// Max, as typed.
    pub max: String,
    /// Division, as typed.
    pub d: String,
    /// The unit for both.
    pub unit: Unit,
    /// Decimals, as typed; empty: as the division needs.
    #[serde(default)]
    pub decimals: String,
    /// How the ranges work.
    #[serde(default)]
    pub mode: RangeMode,
    /// Upper limit of the finer range, as typed.
    #[serde(default)]
    pub fine_max: String,
    /// Division of the finer range, as typed.
    #[serde(default)]
    pub fine_d: String,
    /// The unit that weights are keyed in; none: the display's.
    #[serde(default)]
    pub calibrated_in: Option<Unit>,
    /// Where it is adjusted, where that is not the place of use.
    #[serde(default)]
    pub adjusted_at: Option<Site>,
    /// g to be entered, as typed; empty: none.
    #[serde(default)]
    pub gravity: String,
    /// Which pad; 0: all of them; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
    /// It is understood that a capture under way is voided by it.
    #[serde(default)]
    pub agreed: bool,
    /// Why it is entered although it is judged not to be fit; empty: no reason.
    #[serde(default)]
    pub because: String,
}

impl SetupDraft {
    /// One range, nothing else said.
    pub fn new(max: &str, d: &str, unit: Unit) -> Self {
        Self {
            max: max.into(),
            d: d.into(),
            unit,
            decimals: String::new(),
            mode: RangeMode::Single,
            fine_max: String::new(),
            fine_d: String::new(),
            calibrated_in: None,
            adjusted_at: None,
            gravity: String::new(),
            pad: None,
            agreed: false,
            because: String::new(),
        }
    }
}

impl SetupDraft {
    /// The set-up, understood.
    ///
    /// # Errors
    /// A [`Refusal`] at its field.
    pub fn read(&self) -> Result<Setup, Refusal> {
        let mut setup = one_range(&self.max, &self.d, self.unit, &self.decimals)?;
        setup.mode = self.mode;
        setup.fine = fine_range(self.mode, &self.fine_max, &self.fine_d, self.unit)?;
        if let (Some(fine), "") = (&setup.fine, self.decimals.trim()) {
            setup.decimals = Division::new(&fine.d.value)
                .map_err(|e| Refusal::from(e).at("fine_d"))?
                .decimals()
                .max(setup.decimals);
        }
        setup.calibrated_in = self.calibrated_in.filter(|calibrated| *calibrated != self.unit);
        setup.gravity = gravity_entry(&self.gravity)?;
        if let Some(site) = &self.adjusted_at {
            site.g().map_err(|e| Refusal::from(e).at("adjusted_at"))?;
        }
        setup.adjusted_at.clone_from(&self.adjusted_at);
        Ok(setup)
    }
}

/// A setup that is keyed in.
pub(in crate::job) fn typed(state: &JobState, typed: SetupDraft) -> Result<Body, Refusal> {
    let pad = typed.pad.unwrap_or_else(|| state.pad_in_hand());
    let setup = typed.read()?;
    voiding(state, &setup, pad, typed.agreed)?;
    // A reason stands only where there is something to overrule.
    let refused = || judge_setup(state, &setup, pad.max(FIRST_PAD)).overall == Grade::Refuse;
    let because = said(typed.because).filter(|_| refused());
    Ok(Body::SetUp(entries::SetUp { setup: Box::new(setup), pad, because }))
}

impl Understood for SetupDraft {
    fn understood(self, state: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        typed(state, self)
    }
}

/// A setup that is found in it.
pub(in crate::job) fn found(setup: &SetupDraft, factor_typed: &str) -> Result<Body, Refusal> {
    let pad = setup.pad.unwrap_or(FIRST_PAD);
    let factor = if factor_typed.trim().is_empty() { None } else { Some(factor(factor_typed)?) };
    Ok(Body::SetupFound(entries::SetupFound { setup: Box::new(setup.read()?), factor, pad }))
}

/// A capture that a changed set-up would void is not voided unasked.
fn voiding(state: &JobState, setup: &Setup, pad: u8, agreed: bool) -> Result<(), Refusal> {
    let pads = if pad == 0 { 1..=state.sheet.pads } else { pad..=pad };
    let voids = pads.into_iter().any(|pad| state.pad(pad).adjusting() && state.setup_of(pad).0 != *setup);
    if agreed || !voids {
        return Ok(());
    }
    Err(Refusal::from(Refused::WouldVoid))
}

fn counters(setup: &str, calibration: &str) -> Result<Counters, Refusal> {
    let read = |field: &str, text: &str| match text.trim() {
        "" => Ok(None),
        text => text.parse::<u32>().map(Some).map_err(|_| {
            Refusal::from(Refused::NoCounter { string: text.chars().take(24).collect::<String>() }).at(field)
        }),
    };
    let counters = Counters {
        setup: read("counter_setup", setup)?,
        calibration: read("counter_calibration", calibration)?,
    };
    if counters.setup.is_none() && counters.calibration.is_none() {
        return Err(Refusal::from(Refused::Missing));
    }
    Ok(counters)
}

fn gravity_entry(text: &str) -> Result<Option<Decimal>, Refusal> {
    let text = text.trim().replace(',', ".");
    if text.is_empty() {
        return Ok(None);
    }
    let g: Decimal = text.parse().map_err(|e| Refusal::from(e).at("gravity"))?;
    given_g(&g).map_err(|e| {
        let mut refusal = Refusal::from(e);
        refusal.field = Some("gravity".into());
        refusal
    })?;
    Ok(Some(g))
}

fn fine_range(mode: RangeMode, max: &str, d: &str, unit: Unit) -> Result<Option<Range>, Refusal> {
    if mode == RangeMode::Single {
        return Ok(None);
    }
    let in_unit = |field: &str, text: &str| -> Result<Mass, Refusal> {
        let mass = parse_mass(text, unit, field)?;
        if mass.unit != unit {
            return Err(Refusal::from(Refused::FigureInOtherUnit { unit: mass.unit, unit2: unit }).at(field));
        }
        if !mass.value.is_positive() {
            return Err(Refusal::from(Refused::NotPositive { mass }).at(field));
        }
        Ok(mass)
    };
    Ok(Some(Range { max: in_unit("fine_max", max)?, d: in_unit("fine_d", d)? }))
}

/// Max and division in one unit.
fn one_range(max: &str, d: &str, unit: Unit, decimals: &str) -> Result<Setup, Refusal> {
    let max = parse_mass(max, unit, "max")?;
    let d = parse_mass(d, unit, "d")?;
    if max.unit != unit || d.unit != unit {
        let (field, typed) = if max.unit == unit { ("d", d.unit) } else { ("max", max.unit) };
        return Err(Refusal::from(Refused::DivisionInOtherUnit { typed, unit })
            .at(field)
            .then(text!("draft-choose-the-unit-that-the")));
    }
    for (field, mass) in [("max", &max), ("d", &d)] {
        if !mass.value.is_positive() {
            return Err(Refusal::from(Refused::NotPositive { mass: mass.clone() }).at(field));
        }
    }
    let needed = Division::new(&d.value).map_err(|e| Refusal::from(e).at("d"))?.decimals();
    let decimals = match decimals.trim() {
        "" => needed,
        text => text.parse().ok().filter(|n| *n <= 9).ok_or_else(|| Refusal::from(Refused::NoDecimals))?,
    };
    Ok(Setup { decimals, ..Setup::of(max, d) })
}

/// Whether a setup that is keyed in may follow.
pub(in crate::job) fn admit(
    state: &JobState,
    setup: &Setup,
    pad: u8,
    because: Option<&str>,
) -> Result<(), Refusal> {
    if pad != 0 {
        known_pad(state, pad)?;
    }
    because.map_or(Ok(()), |why| reasoned("because", why))?;
    fit(state, setup, pad.max(1), because.is_some())
}

/// Whether one that is found may.
pub(in crate::job) fn admit_found(state: &JobState, setup: &Setup, pad: u8) -> Result<(), Refusal> {
    known_pad(state, pad)?;
    if state.pad(pad).setup.is_some() || state.pad(pad).adjusting() || state.pad(pad).adjusted.is_some() {
        return Err(Refusal::from(Refused::AlreadyAdjusted));
    }
    if state.found.iter().any(|r| r.pad == pad) {
        return Err(Refusal::from(Refused::ReadAlready));
    }
    state
        .tolerance
        .0
        .check(&setup.d, &setup.max)
        .map_err(|e| Refusal::from(e).at("max").then(text!("admit-choose-a-tolerance-that-covers")))
}

/// The tolerance must cover a Max that is raised.
pub(in crate::job) fn covered(state: &JobState, setup: &Setup) -> Result<(), Refusal> {
    if let Err(why) = state.tolerance.0.check(&setup.d, &setup.max) {
        let refusal = Refusal::from(Refused::ToleranceDoesNotCover {
            max: setup.max.clone(),
            d: setup.d.clone(),
            why: Text::from(&why),
        });
        return Err(refusal.at("max").then(text!("admit-choose-a-tolerance-that-covers-2")));
    }
    Ok(())
}

/// Findings that no reason overrules: what contradicts itself cannot be entered.
const fn contradicts_itself(check: Check) -> bool {
    matches!(
        check,
        Check::Series | Check::Decimals | Check::WholeN | Check::MultiInterval | Check::FinerRange
    )
}

/// What is judged to be no setup is not keyed in without a reason.
fn fit(state: &JobState, setup: &Setup, pad: u8, overruled: bool) -> Result<(), Refusal> {
    let judgement = judge_setup(state, setup, pad);
    let refused = || judgement.findings.iter().filter(|f| f.grade == Some(Grade::Refuse));
    let itself = refused().find(|f| contradicts_itself(f.check));
    let Some(worst) = itself.or_else(|| refused().next().filter(|_| !overruled)) else {
        return Ok(());
    };
    let field = match worst.check {
        Check::PlateMax | Check::WholeN => "max",
        Check::Decimals => "decimals",
        Check::FinerRange | Check::MultiInterval => "fine_max",
        _ => "d",
    };
    let mut refusal = Refusal::from(Refused::NotFit { says: worst.says.clone() }).at(field);
    refusal.figures = worst.figures.clone();
    Err(refusal.then(if judgement.alternatives.is_empty() {
        text!("admit-choose-another-max")
    } else {
        text!("admit-take-one-of-the-divisions")
    }))
}

/// How the indicator was found to be set up.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SetupFoundDraft {
    /// As found.
    pub setup: SetupDraft,
    /// The correction factor that it holds, as typed; empty: none.
    #[serde(default)]
    pub factor: String,
}

impl Understood for SetupFoundDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        found(&self.setup, &self.factor)
    }
}

impl Admitted for entries::SetupFound {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_found(state, &self.setup, self.pad)
    }
}

impl Admitted for entries::SetUp {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit(state, &self.setup, self.pad, self.because.as_deref())
    }

    fn believe(&self, state: &JobState) -> Result<(), Refusal> {
        covered(state, &self.setup)
    }
}

/// The counters of changes, as typed.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct CountersReadDraft {
    /// As found or as left.
    pub stage: ReadStage,
    /// Changes of the set-up.
    #[serde(default)]
    pub setup: String,
    /// Calibrations.
    #[serde(default)]
    pub calibration: String,
}

impl Understood for CountersReadDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let counters = counters(&self.setup, &self.calibration)?;
        Ok(entries::CountersRead { stage: self.stage, counters }.into())
    }
}

impl Admitted for entries::CountersRead {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        Ok(())
    }
}

crate::refusals! {
    enum Refused {
        WouldVoid = "would_void" at "agreed":
            text!("draft-zero-or-span-is-captured"),
            then text!("draft-save-or-abandon-the-adjustment");
        NoCounter { string: String } = "not_a_number": text!("draft-string-is-no-counter-a", string);
        Missing = "missing" at "counter_setup": text!("draft-type-what-a-counter-shows");
        FigureInOtherUnit { unit: Unit, unit2: Unit } = "unit_differs":
            text!("draft-typed-in-unit-while-the", unit, unit2);
        NotPositive { mass: Mass } = "not_positive": text!("draft-mass-is-not-above-zero", mass);
        DivisionInOtherUnit { typed: Unit, unit: Unit } = "unit_differs":
            text!("draft-typed-in-typed-while-the", typed, unit);
        NoDecimals = "not_a_number" at "decimals": text!("draft-decimals-are-a-whole-number");
        AlreadyAdjusted = "already_adjusted": text!("admit-as-found-is-how-it");
        ReadAlready = "read_already":
            text!("admit-readings-as-found-were-taken"),
            then text!("admit-strike-them-out-first-then");
        ToleranceDoesNotCover { max: Mass, d: Mass, why: Text } = "tolerance_does_not_cover":
            text!("admit-the-tolerance-does-not-cover", max, d, why);
        NotFit { says: Text } = "setup_refused": says;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kg(text: &str) -> Mass {
        parse_mass(text, Unit::Kg, "test").unwrap()
    }

    #[test]
    fn a_setup_is_read_with_its_unit_and_refused_at_its_field() {
        let made = one_range("870", "0,2", Unit::Kg, "").unwrap();
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
            let refused = one_range(max, d, Unit::Kg, decimals).unwrap_err();
            assert_eq!(refused.field.as_deref(), Some(field), "{max} {d} {decimals}: {refused:?}");
        }
    }
}
