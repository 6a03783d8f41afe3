//! The tests of a check beside the loads across the range: corners, repeats, the smallest step that
//! moves the display, zero after a load. What the scheme asks for, how far it is done, what it came
//! to. Sources: OIML R 76-1:2006, 3.6, 3.8, 3.9.4.1, A.4; NIST Handbook 44 §2.20, N.1, T.N.5.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::{TrimMeans, TrimPosition, trim};
use crate::journal::{
    Direction, JobState, Phase, Position, Purpose, ReadStage, Reading, Setup, positions, readings_of,
    setup_for, supports,
};
use crate::measurement::{
    CornerLoadRule, ZeroRule, corner_load, corners, discriminates, largest_from_centre, repeatability,
    spread, weighings, zero_return,
};
use crate::quantity::{Decimal, Mass};
use crate::scale::ScaleKind;
use crate::tolerance::{Class, Scheme};
use crate::weights::{CheckLoad, LoadReason, round_figure};
use crate::wording::{Between, Text};
use crate::working::Working;

/// Which test.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TestKind {
    /// Eccentricity.
    Eccentricity,
    /// Repeatability.
    Repeatability,
    /// The smallest step that moves the display.
    Discrimination,
    /// Zero after a load.
    ZeroReturn,
}

/// A place on the platform, with what was read there last.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct PositionView {
    /// Its number; 0: the middle.
    pub position: u8,
    /// In words.
    pub place: Text,
    /// From the left edge, 0 to 1.
    pub x: f64,
    /// From the rear edge, 0 to 1.
    pub y: f64,
    /// What was shown there.
    #[schema(required)]
    pub shown_text: Option<String>,
    /// Its error.
    #[schema(required)]
    pub error_text: Option<String>,
    /// Its error in divisions, for the drawing.
    #[schema(required)]
    pub error_d: Option<f64>,
    /// Against the middle.
    #[schema(required)]
    pub from_centre: Option<String>,
    /// |E| ≤ MPE.
    #[schema(required)]
    pub within: Option<bool>,
    /// The entry it stands in.
    #[schema(required)]
    pub entry: Option<Uuid>,
}

/// A weighing of a series.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct RepeatView {
    /// The entry it stands in.
    pub entry: Uuid,
    /// What was shown.
    pub shown_text: String,
    /// From the mean of the series, in divisions.
    pub off_d: f64,
}

/// A test as it stands.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct TestView {
    /// Which.
    pub test: TestKind,
    /// At which pad, from 1.
    pub pad: u8,
    /// In words.
    pub label: Text,
    /// The scheme asks for it.
    pub asked: bool,
    /// The load that is wanted for it.
    #[schema(required)]
    pub load: Option<Mass>,
    /// Why that load, and how.
    pub how: Text,
    /// How many readings are wanted.
    pub wanted: usize,
    /// How many there are.
    pub done: usize,
    /// What it came to; none: not enough yet.
    #[schema(required)]
    pub within: Option<bool>,
    /// In a sentence.
    pub says: Text,
    /// The places, for the corners.
    pub positions: Vec<PositionView>,
    /// The weighings, for the repeats.
    pub series: Vec<RepeatView>,
    /// How it comes about.
    pub working: Vec<Working>,
}

impl TestView {
    /// Asked for and not done.
    pub fn open(&self) -> bool {
        self.asked && self.within.is_none()
    }
}

/// Where a test is done.
#[derive(Clone, Copy)]
struct At<'a> {
    state: &'a JobState,
    phase: Phase,
    pad: u8,
    setup: &'a Setup,
}

impl At<'_> {
    /// The readings that count there, for this.
    fn readings(&self, purpose: Purpose) -> Vec<&Reading> {
        counted(self.state, self.phase, self.pad, purpose)
    }
}

fn counted(state: &JobState, phase: Phase, pad: u8, purpose: Purpose) -> Vec<&Reading> {
    readings_of(state, phase)
        .into_iter()
        .filter(|r| r.counts && r.purpose == purpose && r.pad == pad)
        .collect()
}

/// Every test of a phase, pad by pad, those that the scheme asks for first.
pub(crate) fn tests(state: &JobState, phase: Phase) -> Vec<TestView> {
    let of_pad = |pad: u8| {
        let setup = setup_for(state, phase, pad);
        let at = At { state, phase, pad, setup: &setup };
        let mut out: Vec<TestView> =
            [corner_test(at), Some(repeat_test(at)), Some(discrimination_test(at)), Some(zero_test(at))]
                .into_iter()
                .flatten()
                .collect();
        out.sort_by_key(|test| !test.asked);
        out
    };
    (1..=state.sheet.pads).flat_map(of_pad).collect()
}

/// Which tests a scheme asks for beside the loads; a rule of the house says so itself.
fn asks(state: &JobState, test: TestKind) -> bool {
    let scheme = state.tolerance.0.scheme;
    if let (Scheme::House | Scheme::Table, Some(own)) = (scheme, state.sheet.house_tests) {
        return match test {
            TestKind::Eccentricity => own.corners,
            TestKind::Repeatability => own.repeats > 0,
            TestKind::Discrimination => own.discrimination,
            TestKind::ZeroReturn => own.zero_return,
        };
    }
    matches!(
        (scheme, test),
        (Scheme::R76Initial | Scheme::Hb44Acceptance, _)
            | (Scheme::R76InService | Scheme::Hb44Maintenance, TestKind::Eccentricity | TestKind::ZeroReturn)
            | (Scheme::Hb44Maintenance, TestKind::Repeatability)
            | (Scheme::House | Scheme::Table, TestKind::Eccentricity)
    )
}

/// The largest of the differences between corners and middle, and the load: a term of the budget.
pub(crate) fn eccentricity(state: &JobState, phase: Phase, pad: u8) -> Option<(Mass, Mass)> {
    let setup = setup_for(state, phase, pad);
    let readings = counted(state, phase, pad, Purpose::Eccentricity);
    let load = readings.last()?.load.clone();
    let at = latest(&readings, &load);
    let centre = at.iter().find(|(number, _)| *number == 0).map(|(_, r)| r.shown.to(setup.d.unit))?;
    let largest = at.iter().map(|(_, r)| r.shown.to(setup.d.unit).minus(&centre).abs()).max()?;
    Some((largest, load))
}

/// Series of repeated readings at a pad, by load.
pub(crate) fn series(state: &JobState, phase: Phase, pad: u8) -> Vec<Vec<Mass>> {
    let mut by_load: Vec<(Mass, Vec<Mass>)> = Vec::new();
    for reading in counted(state, phase, pad, Purpose::Repeatability) {
        match by_load.iter_mut().find(|(load, _)| *load == reading.load) {
            Some((_, shown)) => shown.push(reading.shown.clone()),
            None => by_load.push((reading.load.clone(), vec![reading.shown.clone()])),
        }
    }
    by_load.into_iter().map(|(_, shown)| shown).collect()
}

/// The last reading at each place with this load.
fn latest<'a>(readings: &[&'a Reading], load: &Mass) -> Vec<(u8, &'a Reading)> {
    let mut out: Vec<(u8, &Reading)> = Vec::new();
    for reading in readings.iter().filter(|r| r.load == *load) {
        let Some(number) = reading.position else { continue };
        match out.iter_mut().find(|(at, _)| *at == number) {
            Some(place) => place.1 = reading,
            None => out.push((number, reading)),
        }
    }
    out
}

/// A round load for a test, within five per cent of what it asks for.
fn round_load(load: &Mass, setup: &Setup) -> Mass {
    let wanted = CheckLoad {
        load: load.clone(),
        exact: false,
        not_above: false,
        reason: LoadReason::Eccentricity,
        round: None,
    };
    round_figure(&wanted, setup.d_at(load, Direction::Up), &setup.max)
}

fn text(mass: &Mass, setup: &Setup) -> String {
    format!("{} {}", mass.to(setup.d.unit).value.fixed(setup.decimals), setup.d.unit)
}

fn corner_load_rule(state: &JobState) -> CornerLoadRule {
    match state.sheet.kind {
        ScaleKind::Hopper => CornerLoadRule::Tank,
        _ => CornerLoadRule::Quarters,
    }
}

fn corner_test(at: At) -> Option<TestView> {
    let At { state, setup, pad, .. } = at;
    let places = positions(state);
    if places.len() < 2 {
        return None;
    }
    let told = corner_load(&setup.max, supports(state), corner_load_rule(state)).ok()?;
    let readings = at.readings(Purpose::Eccentricity);
    let load = readings.last().map_or_else(|| round_load(&told.load, setup), |r| r.load.clone());
    let read = latest(&readings, &load);
    let mpe = state
        .tolerance
        .0
        .at(&load.to(setup.d.unit), Some(setup.d_at(&load, Direction::Up)), Some(&setup.max))
        .ok()?
        .to(setup.d.unit);
    let place_of = |position: &str| match position.parse::<u8>() {
        Ok(number) => {
            places.iter().find(|p| p.number == number).map_or_else(Text::default, |p| p.place.clone())
        }
        Err(_) => text!("tests-the-middle"),
    };
    let named: Vec<(String, Mass)> = read
        .iter()
        .map(|(number, r)| {
            (if *number == 0 { "centre".to_owned() } else { number.to_string() }, r.shown.to(setup.d.unit))
        })
        .collect();
    let judged =
        corners(&load.to(setup.d.unit), &mpe, named.iter().map(|(place, shown)| (place.as_str(), shown)));
    let d = setup.d_at(&load, Direction::Up);
    let positions: Vec<PositionView> = places
        .iter()
        .map(|Position { number, place, x, y }| {
            let index = read.iter().position(|(at, _)| at == number);
            let (judged, reading) = (index.map(|i| &judged[i]), index.map(|i| read[i].1));
            PositionView {
                position: *number,
                place: place.clone(),
                x: *x,
                y: *y,
                shown_text: reading.map(|r| text(&r.shown, setup)),
                error_text: judged.map(|j| format!("{} {}", signed(&j.error, setup), setup.d.unit)),
                error_d: judged.and_then(|j| Some(j.error.ratio(d)?.to_f64())),
                from_centre: judged.and_then(|j| {
                    Some(format!("{} {}", signed(j.from_centre.as_ref()?, setup), setup.d.unit))
                }),
                within: judged.map(|j| j.within),
                entry: reading.map(|r| r.entry),
            }
        })
        .collect();
    let done = read.len();
    let whole =
        done == places.len() || (done + 1 == places.len() && !read.iter().any(|(number, _)| *number == 0));
    let outside = judged.iter().any(|j| !j.within);
    let says = match (whole, outside) {
        (_, true) => text!(
            "tests-outside-at-x",
            x = judged.iter().filter(|j| !j.within).map(|j| place_of(&j.position)).collect::<Vec<_>>()
        ),
        (true, false) => text!("tests-every-place-within"),
        (false, false) => text!("tests-done-of-places-places-read", done, places = places.len()),
    };
    let far = largest_from_centre(&judged).map_or_else(Text::default, |(place, by)| {
        text!(
            "tests-farthest-from-the-middle-place",
            place = place_of(place),
            signed = crate::wording::figure(signed(by, setup)),
            unit = setup.d.unit
        )
    });
    let missing = if done > 0 && !read.iter().any(|(number, _)| *number == 0) {
        text!("tests-without-the-middle-the-differences")
    } else {
        Text::default()
    };
    let trimmed = trim_says(at, &load, &read, &places).filter(|_| outside).unwrap_or_default();
    let window =
        told.window.as_ref().map_or_else(Text::default, |(from, to)| text!("tests-from-to-to", from, to));
    let working = Working::new(
        text!("head-eccentricity"),
        "E = I − L at each place; |E| ≤ MPE(L)",
        &says,
        "OIML R 76-1:2006, 3.6.2 and A.4.7; NIST Handbook 44 §2.20, N.1.3",
    )
    .with("L", text!("tests-the-same-load-at-each"), &load)
    .with("MPE", text!("tests-at-that-load"), format!("±{mpe}"));
    Some(TestView {
        pad,
        test: TestKind::Eccentricity,
        label: text!("tests-corners"),
        asked: asks(state, TestKind::Eccentricity),
        how: text!(
            "tests-about-what-at-the-middle",
            what = crate::wording::figure(text(&told.load, setup)),
            window
        ),
        load: Some(load),
        wanted: places.len(),
        done,
        within: if outside { Some(false) } else { whole.then_some(true) },
        says: Text::list([says, far, missing, trimmed].iter().filter(|t| !t.is_empty()), Between::Space),
        positions,
        series: Vec::new(),
        working: if done > 0 { vec![working] } else { Vec::new() },
    })
}

/// What trimming the cells down to the lowest would leave, before anybody opens a junction box.
fn trim_says(at: At, load: &Mass, read: &[(u8, &Reading)], places: &[Position]) -> Option<Text> {
    let (cells, setup) = (supports(at.state), at.setup);
    let quarters: Vec<&(u8, &Reading)> = read.iter().filter(|(number, _)| *number != 0).collect();
    if cells != 4 || quarters.len() < 4 || places.len() != 5 {
        return None;
    }
    // A deck that gives a little: each cell carries by how near the load stands in both directions. A
    // quite stiff deck on four cells would leave one of the four gains untold.
    let side = |cell: f64, load: f64| if cell > 0.5 { load } else { 1.0 - load };
    let shares =
        |x: f64, y: f64| places.iter().skip(1).map(|p| side(p.x, x) * side(p.y, y)).collect::<Vec<f64>>();
    let zero = at
        .readings(Purpose::Load)
        .iter()
        .rev()
        .find(|r| r.load.value.is_zero())
        .map_or(0.0, |r| r.shown.value_in(setup.d.unit).to_f64());
    let stood = |(number, r): &&(u8, &Reading)| {
        let at = places.iter().find(|p| p.number == *number)?;
        Some(TrimPosition { shares: shares(at.x, at.y), net: r.shown.value_in(setup.d.unit).to_f64() - zero })
    };
    let positions: Vec<TrimPosition> = quarters.iter().filter_map(stood).collect();
    let size = load.value_in(setup.d.unit).to_f64();
    let told = trim(4, size, &positions, TrimMeans::JunctionBox, None).ok()?;
    let spread = |values: &[f64]| {
        values.iter().copied().fold(f64::MIN, f64::max) - values.iter().copied().fold(f64::MAX, f64::min)
    };
    let d = setup.d.value.to_f64();
    let net: Vec<f64> = positions.iter().map(|p| p.net).collect();
    if spread(&net) <= d {
        return None;
    }
    let cuts = places
        .iter()
        .skip(1)
        .zip(&told.factors)
        .filter(|(_, f)| **f < 0.9999)
        .map(|(p, f)| text!("tests-cut", place = p.place, factor = crate::wording::fixed(*f, 4)))
        .collect::<Vec<_>>();
    Some(text!(
        "tests-trimmed-down-to-the-lowest",
        cuts,
        d = crate::wording::fixed(spread(&told.predicted) / d, 1),
        d2 = crate::wording::fixed(spread(&net) / d, 1)
    ))
}

fn within_word(within: bool) -> Text {
    if within { text!("tests-within") } else { text!("tests-outside") }
}

fn signed(mass: &Mass, setup: &Setup) -> String {
    mass.to(setup.d.unit).signed(setup.decimals).split(' ').next().unwrap_or_default().to_owned()
}

fn repeat_test(at: At) -> TestView {
    let At { state, setup, pad, .. } = at;
    let class = state.tolerance.0.class.unwrap_or(Class::III);
    let own = state
        .sheet
        .house_tests
        .filter(|_| matches!(state.tolerance.0.scheme, Scheme::House | Scheme::Table))
        .map(|t| usize::from(t.repeats))
        .filter(|n| *n > 0);
    let wanted = own.unwrap_or_else(|| weighings(class));
    let readings = at.readings(Purpose::Repeatability);
    let eight = round_load(&setup.max.times(&Decimal::new(8, 1)), setup);
    let load = readings.last().map_or(eight, |r| r.load.clone());
    let of_load: Vec<&&Reading> = readings.iter().filter(|r| r.load == load).collect();
    let shown: Vec<Mass> = of_load.iter().map(|r| r.shown.to(setup.d.unit)).collect();
    let d = setup.d_at(&load, Direction::Up);
    // Handbook 44 judges repeats by the maintenance tolerance even in an acceptance test.
    let mut judged_by = state.tolerance.0.clone();
    if judged_by.scheme == Scheme::Hb44Acceptance {
        judged_by.scheme = Scheme::Hb44Maintenance;
    }
    let mpe =
        judged_by.at(&load.to(setup.d.unit), Some(d), Some(&setup.max)).map(|m| m.to(setup.d.unit)).ok();
    let judged = mpe
        .as_ref()
        .filter(|_| shown.len() >= wanted)
        .and_then(|mpe| repeatability(wanted.min(weighings(class)), &shown, mpe).ok());
    let (mean, s) = if shown.is_empty() { (0.0, 0.0) } else { spread(&shown, setup.d.unit) };
    let says = match (&judged, shown.len()) {
        (Some(j), _) => text!(
            "tests-series-judged",
            within = within_word(j.within),
            range = crate::wording::figure(text(&j.range, setup)),
            s = crate::wording::fixed(s / d.value.to_f64(), 2)
        ),
        (None, 0) => text!("tests-not-begun"),
        (None, 1) => text!("tests-one-weighing-says-nothing-of", wanted),
        (None, n) => text!("tests-n-of-wanted-weighings", n, wanted),
    };
    let mut working = Vec::new();
    if let (Some(j), Some(mpe)) = (&judged, &mpe) {
        working.push(
            Working::new(
                text!("head-repeatability"),
                "I_max − I_min ≤ |MPE(L)|;  s = √(Σ(I − Ī)²/(n − 1))",
                &says,
                "OIML R 76-1:2006, 3.6.1 and A.4.10; NIST Handbook 44 §2.20, T.N.5",
            )
            .with("L", text!("tests-the-load"), &load)
            .with(
                "I",
                text!("word-shown"),
                shown.iter().map(|m| text(m, setup)).collect::<Vec<_>>().join(", "),
            )
            .with("range", text!("tests-largest-minus-smallest"), &j.range)
            .with("MPE", text!("tests-at-that-load"), format!("±{mpe}")),
        );
    }
    let series = of_load
        .iter()
        .map(|r| RepeatView {
            entry: r.entry,
            shown_text: text(&r.shown, setup),
            off_d: (r.shown.value_in(setup.d.unit).to_f64() - mean) / d.value.to_f64(),
        })
        .collect();
    TestView {
        pad,
        test: TestKind::Repeatability,
        label: text!("head-repeats"),
        asked: asks(state, TestKind::Repeatability),
        how: text!(
            "tests-what-put-on-wanted-times",
            what = crate::wording::figure(text(&load, setup)),
            wanted
        ),
        load: Some(load),
        wanted,
        done: shown.len(),
        within: judged.map(|j| j.within),
        says,
        positions: Vec::new(),
        series,
        working,
    }
}

fn discrimination_test(at: At) -> TestView {
    let At { state, setup, pad, .. } = at;
    let stage = if at.phase == Phase::AsLeft { ReadStage::Test } else { ReadStage::AsFound };
    let epoch = match at.phase {
        Phase::AsFound => Some(state.first_epoch_of(pad)),
        Phase::FoundNow => Some(state.epoch_of(pad)),
        Phase::AsLeft => None,
    };
    let taken: Vec<_> = state
        .discriminations
        .iter()
        .filter(|s| s.stage == stage && s.counts && s.pad == pad && epoch.is_none_or(|e| s.epoch == e))
        .collect();
    let judged: Vec<bool> = taken
        .iter()
        .filter_map(|s| discriminates(setup.d_at(&s.load, Direction::Up), &s.added, &s.before, &s.after).ok())
        .collect();
    let small = setup.finest().times(&Decimal::new(14, 1));
    let within = (!judged.is_empty()).then(|| judged.iter().all(|moved| *moved));
    let says = match (within, taken.last()) {
        (Some(true), Some(last)) => text!(
            "tests-added-moved-it-from-what",
            added = last.added,
            what = crate::wording::figure(text(&last.before, setup)),
            what2 = text(&last.after, setup),
            load = last.load
        ),
        (Some(false), _) => {
            let stuck = taken
                .iter()
                .zip(&judged)
                .filter(|(_, moved)| !**moved)
                .map(|(s, _)| s.load.to_string())
                .collect::<Vec<_>>();
            text!("tests-it-did-not-move-by", stuck = stuck.join(", "))
        }
        _ => text!("tests-not-begun"),
    };
    let working = Working::new(
        text!("head-discrimination"),
        "I(L + 1.4 d) − I(L) ≥ d",
        &says,
        "OIML R 76-1:2006, 3.8.2.2 and A.4.8; NIST Handbook 44 §2.20, T.N.7",
    )
    .with("1.4 d", text!("tests-added-gently-to-the-load"), &small);
    TestView {
        pad,
        test: TestKind::Discrimination,
        label: text!("head-discrimination"),
        asked: asks(state, TestKind::Discrimination),
        load: None,
        how: text!("tests-add-1-4-d-small", small),
        wanted: 1,
        done: judged.len(),
        within,
        working: if judged.is_empty() { Vec::new() } else { vec![working] },
        says,
        positions: Vec::new(),
        series: Vec::new(),
    }
}

fn zero_test(at: At) -> TestView {
    let At { state, setup, pad, .. } = at;
    let loads = at.readings(Purpose::Load);
    let after = loads.iter().rposition(|r| r.load.value.is_zero() && r.direction == Direction::Down);
    let zero_up = |r: &&Reading| r.load.value.is_zero() && r.direction == Direction::Up;
    // Where it was left alone, zero was read before the loads as found; that is the same test.
    let found = if at.phase == Phase::AsLeft && state.found_stands_at(pad) {
        counted(state, Phase::FoundNow, pad, Purpose::Load)
    } else {
        Vec::new()
    };
    let before = after.and_then(|after| {
        loads[..after].iter().copied().find(zero_up).or_else(|| found.iter().copied().find(zero_up))
    });
    let rule = match state.tolerance.0.scheme {
        Scheme::Hb44Maintenance => ZeroRule::Hb44,
        Scheme::Hb44Acceptance => ZeroRule::Hb44Acceptance,
        _ => ZeroRule::R76,
    };
    let told = before.zip(after).and_then(|(before, after)| {
        zero_return(rule, setup.finest(), None, &before.shown, &loads[after].shown).ok()
    });
    let says = told.as_ref().map_or_else(
        || text!("tests-read-zero-before-the-first"),
        |t| {
            text!(
                "tests-outside-zero-came-back-signed",
                outside = within_word(t.within),
                signed = crate::wording::figure(signed(&t.deviation, setup)),
                unit = setup.d.unit,
                limit = t.limit
            )
        },
    );
    let working = told.as_ref().map(|t| {
        Working::new(
            text!("tests-zero-after-a-load"),
            "|I_0,after − I_0,before| ≤ limit",
            &says,
            "OIML R 76-1:2006, 3.9.4.1; NIST Handbook 44 §2.20, T.N.5",
        )
        .with("limit", text!("tests-of-the-scheme"), &t.limit)
        .with("deviation", text!("tests-after-before"), &t.deviation)
    });
    TestView {
        pad,
        test: TestKind::ZeroReturn,
        label: text!("tests-zero-comes-back"),
        asked: asks(state, TestKind::ZeroReturn),
        load: None,
        how: text!("tests-zero-again-after-the-last"),
        wanted: 1,
        done: usize::from(told.is_some()),
        within: told.map(|t| t.within),
        says,
        positions: Vec::new(),
        series: Vec::new(),
        working: working.into_iter().collect(),
    }
}
