//! What was done in a lesson, line by line, against a good run: the fault, the order, waiting, the
//! weights, the proof, time and lifting; and what each mistake would have cost on a real scale.

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;

use super::lesson::{Cure, Lesson};
use crate::assessment::{Assessment, M1_SHARE, PhaseView, judge_span};
use crate::journal::{Body, CheckFinding, Entry, How, JobState, Outcome, ReadStage, Settlement};
use crate::quantity::{Decimal, Mass};

/// What the hands did at the practice scale.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Act {
    /// When.
    pub at: OffsetDateTime,
    /// The command.
    pub command: String,
    /// It was obeyed.
    pub obeyed: bool,
    /// What the practice scale said.
    pub reply: String,
}

/// How well a line was done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HowWell {
    /// As in a good run.
    Good,
    /// It could be better.
    Better,
    /// A mistake.
    Mistake,
}

/// One line of the account.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct AccountLine {
    /// What it is about.
    pub about: String,
    /// What was done.
    pub did: String,
    /// What a good run does.
    pub good: String,
    /// How well.
    pub grade: HowWell,
    /// What the mistake would have cost on a real scale.
    #[schema(required)]
    pub cost: Option<String>,
}

/// The account of a lesson.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Account {
    /// What was hidden.
    pub hidden: String,
    /// What cures it.
    pub cure: String,
    /// Line by line.
    pub lines: Vec<AccountLine>,
    /// In a sentence.
    pub says: String,
}

struct Run<'a> {
    lesson: &'a Lesson,
    entries: Vec<&'a Entry>,
    state: &'a JobState,
    assessment: &'a Assessment,
    acts: &'a [Act],
}

/// Gives the account of a run. `hints`: how many hints were asked for.
pub fn account(
    lesson: &Lesson,
    entries: &[Entry],
    state: &JobState,
    assessment: &Assessment,
    acts: &[Act],
    hints: usize,
) -> Account {
    let standing = entries.iter().filter(|e| !state.struck.contains(&e.id)).collect();
    let run = Run { lesson, entries: standing, state, assessment, acts };
    let mut lines = vec![run.fault(), run.order(), run.cure()];
    lines.extend(run.span());
    lines.extend(run.kept());
    lines.extend([run.waiting(), run.proof(), run.lifting(), run.time()]);
    if hints > 0 {
        lines.push(line(
            "Hints",
            format!("{hints} of {} asked for", lesson.hints.len()),
            "none".into(),
            HowWell::Better,
            None,
        ));
    }
    let mistakes = lines.iter().filter(|l| l.grade == HowWell::Mistake).count();
    let says = match mistakes {
        0 if lines.iter().all(|l| l.grade == HowWell::Good) => "A good run from start to end.".to_owned(),
        0 => "The scale is right and nothing was done wrong; some of it can be done better.".to_owned(),
        1 => "One mistake that would have told on a real scale.".to_owned(),
        n => format!("{n} mistakes that would have told on a real scale."),
    };
    Account { hidden: lesson.hidden.is.clone(), cure: lesson.hidden.cure.label().into(), lines, says }
}

fn line(about: &str, did: String, good: String, grade: HowWell, cost: Option<String>) -> AccountLine {
    AccountLine { about: about.into(), did, good, grade, cost: cost.filter(|_| grade == HowWell::Mistake) }
}

impl Run<'_> {
    /// Was the fault found, and nothing else called one?
    fn fault(&self) -> AccountLine {
        let hidden = &self.lesson.hidden.items;
        let called: Vec<&String> = self
            .state
            .checks
            .iter()
            .filter(|(_, c)| c.finding == CheckFinding::Fault)
            .map(|(item, _)| item)
            .collect();
        let label = |item: &String| {
            self.assessment
                .look_over
                .iter()
                .find(|c| c.item == *item)
                .map_or_else(|| item.clone(), |c| c.label.clone())
        };
        let listed = |items: &[&String]| {
            if items.is_empty() {
                "no fault".to_owned()
            } else {
                format!("at “{}”", items.iter().map(|i| label(i)).collect::<Vec<_>>().join("”, “"))
            }
        };
        let found = hidden.is_empty() || hidden.iter().any(|item| called.contains(&item));
        let wrongly: Vec<&String> =
            called.iter().copied().filter(|item| !hidden.contains(item) && *item != "span_off").collect();
        let grade = match (found, wrongly.is_empty()) {
            (false, _) => HowWell::Mistake,
            (true, false) => HowWell::Better,
            (true, true) => HowWell::Good,
        };
        line(
            "The fault",
            listed(&called),
            listed(&hidden.iter().collect::<Vec<_>>()),
            grade,
            Some(self.lesson.hidden.missed.clone()),
        )
    }

    fn first(&self, is: impl Fn(&Body) -> bool) -> Option<u32> {
        self.entries.iter().find(|e| is(&e.body)).map(|e| e.seq)
    }

    /// Looked over and read as found before anything was changed?
    fn order(&self) -> AccountLine {
        let changed = self.first(|b| {
            matches!(
                b,
                Body::SetUp { .. }
                    | Body::ZeroCaptured { .. }
                    | Body::FactorSet { .. }
                    | Body::InternalMatched { .. }
            )
        });
        let before = |seq: u32| changed.is_none_or(|changed| seq < changed);
        let items = self
            .entries
            .iter()
            .filter(|e| before(e.seq))
            .filter_map(|e| if let Body::LookedOver { item, .. } = &e.body { Some(item) } else { None });
        let looked = items.collect::<std::collections::BTreeSet<_>>().len();
        let read = self
            .entries
            .iter()
            .filter(|e| matches!(e.body, Body::Read { stage: ReadStage::AsFound, .. }) && before(e.seq))
            .count();
        let all = self.assessment.look_over.len();
        let unrepaired = self.unrepaired();
        let did = format!(
            "{looked} of {all} items looked at and {read} loads read as found before anything was changed"
        );
        let (grade, cost) = if read == 0 || unrepaired {
            let cost = if unrepaired {
                "It was adjusted on top of the fault: the adjustment holds only until the fault moves."
            } else {
                "What it did until today can never be told any more: nobody knows which invoices or doses were wrong, and by how much."
            };
            (HowWell::Mistake, Some(cost.to_owned()))
        } else if read < 3 || looked < all {
            (HowWell::Better, None)
        } else {
            (HowWell::Good, None)
        };
        line(
            "The order",
            did,
            format!("all {all} items, then zero, a middle load and one near Max, then the first change"),
            grade,
            cost,
        )
    }

    /// Was something adjusted while the fault was not repaired?
    fn unrepaired(&self) -> bool {
        let repaired = self.lesson.hidden.items.iter().any(|item| {
            matches!(
                self.state.checks.get(item).and_then(|c| c.settled.as_ref()),
                Some((Settlement::Repaired, _))
            )
        });
        let mended = self.acts.iter().any(|a| a.obeyed && a.command.starts_with("mend "));
        matches!(self.lesson.hidden.cure, Cure::Repair | Cure::RepairAndSpan)
            && self.state.any_adjusted()
            && !(repaired && mended)
    }

    /// Was the right thing done?
    fn cure(&self) -> AccountLine {
        let wanted = self.lesson.hidden.cure;
        let mended = self.acts.iter().any(|a| a.obeyed && a.command.starts_with("mend "));
        let how = self.state.pads.iter().find_map(|p| p.adjusted.as_ref()).map(|a| &a.how);
        let did = match (&self.state.stopped, mended, how, &self.state.left_alone) {
            (Some(_), _, _, _) => "stopped, with a reason".to_owned(),
            (None, true, None, _) => "repaired, not adjusted".into(),
            (None, true, Some(how), _) => format!("repaired, then {}", way(how)),
            (None, false, Some(how), _) => way(how).to_owned(),
            (None, false, None, Some(_)) => "left as it is".into(),
            (None, false, None, None) => "nothing".into(),
        };
        let right = match wanted {
            Cure::Leave => how.is_none() && !mended,
            Cure::ZeroOnly => matches!(how, Some(How::ZeroOnly)),
            Cure::Span => self.state.all_adjusted() && matches!(how, Some(How::TwoPoint | How::Points(_))),
            Cure::Points => matches!(how, Some(How::Points(_))),
            Cure::Factor => matches!(how, Some(How::Factor(..))),
            Cure::Internal => matches!(how, Some(How::Internal(..))),
            Cure::Repair => mended && how.is_none(),
            Cure::RepairAndSpan => mended && matches!(how, Some(How::TwoPoint | How::Points(_))),
            Cure::Stop => self.state.stopped.is_some(),
        };
        // More than was needed is no harm where the scale ends right.
        let more = self.assessment.outcome == Outcome::InTolerance && wanted != Cure::Stop;
        let grade = if right {
            HowWell::Good
        } else if more {
            HowWell::Better
        } else {
            HowWell::Mistake
        };
        let cost = worst(&self.assessment.proof)
            .or_else(|| worst(&self.assessment.as_found))
            .unwrap_or_else(|| self.lesson.hidden.missed.clone());
        line("The cure", did, wanted.label().into(), grade, Some(cost))
    }

    /// Was the span weight large enough?
    fn span(&self) -> Option<AccountLine> {
        let share = self.lesson.good.span_share.as_ref()?;
        let adjusted = self.state.pads.iter().find_map(|p| p.adjusted.as_ref())?;
        let weight = adjusted.proved_by()?;
        let (setup, _) = self.state.setup_in_force();
        let wanted = setup.max.times(share);
        let told = judge_span(self.state, weight, M1_SHARE, crate::adjust::School::default(), None).ok();
        let grade = if *weight >= wanted {
            HowWell::Good
        } else if told.as_ref().is_some_and(|t| t.ratio <= 1.0) {
            HowWell::Better
        } else {
            HowWell::Mistake
        };
        let cost = told.map(|t| format!("At Max the error left may be {:.1} times the tolerance, with every weight right: {weight} counts {} times there.", t.ratio, setup.max.ratio(weight).unwrap_or_else(Decimal::zero).fixed(1)));
        Some(line(
            "The span weight",
            format!("{weight}, {} of Max", percent(weight, &setup.max)),
            format!("at least {wanted}"),
            grade,
            cost,
        ))
    }

    /// Was what the job calls saved really kept by the indicator?
    fn kept(&self) -> Option<AccountLine> {
        let saved = self.state.pads.iter().any(|p| {
            p.adjusted
                .as_ref()
                .is_some_and(|a| matches!(a.how, How::TwoPoint | How::Points(_) | How::ZeroOnly))
        });
        if !saved {
            return None;
        }
        let keeps = |a: &&Act| {
            a.obeyed && (a.command == "save" || a.command == "quit" || a.command == "switch closed")
        };
        let kept = self.acts.iter().any(|a| keeps(&a));
        let did =
            if kept { "kept by the indicator" } else { "written down as saved, never kept by the indicator" };
        let cost = worst(&self.assessment.as_found)
            .map(|worst| format!("The scale would have gone on as it was found. {worst}"));
        Some(line(
            "Saving",
            did.into(),
            "saved at the indicator, then read again".into(),
            if kept { HowWell::Good } else { HowWell::Mistake },
            cost,
        ))
    }

    /// Were keys pressed while it moved?
    fn waiting(&self) -> AccountLine {
        let moved = self.acts.iter().filter(|a| !a.obeyed && a.reply.contains("moving")).count();
        let live = |body: &Body| match body {
            Body::Read { taken, .. } => Some(matches!(taken, crate::journal::Taken::Live { .. })),
            _ => None,
        };
        let (steady, all) = self
            .entries
            .iter()
            .filter_map(|e| live(&e.body))
            .fold((0usize, 0usize), |(s, n), live| (s + usize::from(live), n + 1));
        let did = match moved {
            0 => format!("{steady} of {all} readings taken steady; no key pressed while it moved"),
            n => format!(
                "{steady} of {all} readings taken steady; a key pressed {n} time{} while it moved",
                if n == 1 { "" } else { "s" }
            ),
        };
        line(
            "Waiting",
            did,
            "every reading and every capture taken steady".into(),
            if moved == 0 && steady == all { HowWell::Good } else { HowWell::Better },
            None,
        )
    }

    /// Was it proved?
    fn proof(&self) -> AccountLine {
        let count = self.state.left.iter().filter(|r| r.counts).count();
        let good =
            "zero, the span weight, further loads up to Max, one coming down; every one within".to_owned();
        let did = format!("{count} readings as left: {}", self.assessment.proof.says);
        let (grade, cost) = match (self.lesson.hidden.cure, self.assessment.outcome) {
            (_, Outcome::InTolerance) => (HowWell::Good, None),
            (Cure::Stop, Outcome::NotProven) => (HowWell::Good, None),
            (_, Outcome::NotProven) => (HowWell::Mistake, Some("Adjusted is not proven: a slip of any kind would have gone out of the door with your name on it.".to_owned())),
            (_, Outcome::OutOfTolerance) => (HowWell::Mistake, worst(&self.assessment.proof)),
        };
        line("The proof", did, good, grade, cost)
    }

    /// What was lifted.
    fn lifting(&self) -> AccountLine {
        let (mut lifted, mut on) = (0.0f64, 0.0f64);
        for act in self.acts.iter().filter(|a| a.obeyed) {
            let mut words = act.command.split_whitespace();
            let (word, kg) = (words.next(), words.next().and_then(|k| k.parse::<f64>().ok()).unwrap_or(0.0));
            match word {
                Some("put") => {
                    lifted += kg;
                    on += kg;
                }
                Some("take") => {
                    lifted += kg.min(on);
                    on = (on - kg).max(0.0);
                }
                Some("clear") => {
                    lifted += on;
                    on = 0.0;
                }
                _ => {}
            }
        }
        let good = self.lesson.good.lifted_kg.to_f64();
        let grade = if lifted <= good * 1.5 { HowWell::Good } else { HowWell::Better };
        line(
            "Lifting",
            format!("{} kg moved on and off", round(lifted)),
            format!("about {} kg", round(good)),
            grade,
            None,
        )
    }

    /// How long it took.
    fn time(&self) -> AccountLine {
        let minutes = match (self.entries.first(), self.entries.last()) {
            (Some(first), Some(last)) => (last.at - first.at).whole_minutes(),
            _ => 0,
        };
        let good = i64::from(self.lesson.good.minutes);
        let grade = if minutes <= good * 2 { HowWell::Good } else { HowWell::Better };
        line("Time", format!("{minutes} min"), format!("about {good} min"), grade, None)
    }
}

const fn way(how: &How) -> &'static str {
    match how {
        How::TwoPoint => "zero and span",
        How::Points(_) => "zero, span and further points",
        How::ZeroOnly => "zero only",
        How::Factor(..) => "a correction factor",
        How::Internal(..) => "the internal weight matched",
    }
}

/// The largest error of a phase, as what it does to a load.
fn worst(phase: &PhaseView) -> Option<String> {
    let largest = phase
        .readings
        .iter()
        .filter(|r| !r.load.value.is_zero())
        .max_by(|a, b| a.error.abs().cmp(&b.error.abs()))?;
    let in_a_kilogram = largest.error.ratio(&largest.load)?.to_f64() * 1000.0;
    Some(format!(
        "A load of {} reads {}: {:.1} g in every kilogram, for every load that is sold or dosed with it.",
        largest.load,
        largest.error_text,
        in_a_kilogram.abs()
    ))
}

fn percent(part: &Mass, whole: &Mass) -> String {
    part.ratio(whole).map_or_else(String::new, |r| format!("{} %", (&r * &Decimal::from(100u32)).round_to(1)))
}

fn round(kg: f64) -> String {
    if kg < 10.0 { format!("{kg:.2}") } else { format!("{kg:.0}") }
}
