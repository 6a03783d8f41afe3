//! What was done in a lesson, line by line, against a good run: the fault, the order, waiting, the
//! weights, the proof, time and lifting; and what each mistake would have cost on a real scale.

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;

use super::lesson::{Cure, Lesson};
use crate::assessment::{Assessment, M1_SHARE, PhaseView, judge_span};
use crate::journal::entries;
use crate::journal::{Body, CheckFinding, Entry, How, JobState, Outcome, ReadStage, Settlement};
use crate::quantity::{Decimal, Mass};
use crate::wording::Text;

/// What the operator did at the practice scale.
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
    pub about: Text,
    /// What was done.
    pub did: Text,
    /// What a good run does.
    pub good: Text,
    /// How well.
    pub grade: HowWell,
    /// What the mistake would have cost on a real scale.
    #[schema(required)]
    pub cost: Option<Text>,
}

/// The account of a lesson.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Account {
    /// What was hidden.
    pub hidden: Text,
    /// What cures it.
    pub cure: Text,
    /// Line by line.
    pub lines: Vec<AccountLine>,
    /// In a sentence.
    pub says: Text,
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
            text!("account-hints"),
            text!("account-hints-of-hints2-asked-for", hints, hints2 = lesson.hints.len()),
            text!("account-none"),
            HowWell::Better,
            None,
        ));
    }
    let mistakes = lines.iter().filter(|l| l.grade == HowWell::Mistake).count();
    let says = match mistakes {
        0 if lines.iter().all(|l| l.grade == HowWell::Good) => text!("account-a-good-run-from-start"),
        0 => text!("account-the-scale-is-right-and"),
        1 => text!("account-one-mistake-that-would-have"),
        n => text!("account-n-mistakes-that-would-have", n),
    };
    Account { hidden: (&lesson.hidden.is).into(), cure: lesson.hidden.cure.label(), lines, says }
}

fn line(about: Text, did: Text, good: Text, grade: HowWell, cost: Option<Text>) -> AccountLine {
    AccountLine { about, did, good, grade, cost: cost.filter(|_| grade == HowWell::Mistake) }
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
                .inspection
                .iter()
                .find(|c| c.item == *item)
                .map_or_else(|| Text::verbatim(item.clone()), |c| c.label.clone())
        };
        let listed = |items: &[&String]| {
            if items.is_empty() {
                text!("account-no-fault")
            } else {
                text!(
                    "account-at-x",
                    x = items.iter().map(|i| text!("account-quoted", item = label(i))).collect::<Vec<_>>()
                )
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
            text!("account-the-fault"),
            listed(&called),
            listed(&hidden.iter().collect::<Vec<_>>()),
            grade,
            Some((&self.lesson.hidden.missed).into()),
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
                Body::SetUp(_) | Body::ZeroCaptured(_) | Body::FactorSet(_) | Body::InternalMatched(_)
            )
        });
        let before = |seq: u32| changed.is_none_or(|changed| seq < changed);
        let items = self.entries.iter().filter(|e| before(e.seq)).filter_map(|e| {
            if let Body::LookedOver(entries::LookedOver { item, .. }) = &e.body { Some(item) } else { None }
        });
        let looked = items.collect::<std::collections::BTreeSet<_>>().len();
        let read = self
            .entries
            .iter()
            .filter(|e| {
                matches!(e.body, Body::Read(entries::Read { stage: ReadStage::AsFound, .. })) && before(e.seq)
            })
            .count();
        let all = self.assessment.inspection.len();
        let unrepaired = self.unrepaired();
        let did = text!("account-looked-of-all-items-looked", looked, all, read);
        let (grade, cost) = if read == 0 || unrepaired {
            let cost = if unrepaired {
                text!("account-it-was-adjusted-on-top")
            } else {
                text!("account-what-it-did-until-today")
            };
            (HowWell::Mistake, Some(cost.to_owned()))
        } else if read < 3 || looked < all {
            (HowWell::Better, None)
        } else {
            (HowWell::Good, None)
        };
        line(text!("account-the-order"), did, text!("account-all-all-items-then-zero", all), grade, cost)
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
            (Some(_), _, _, _) => text!("account-stopped-with-a-reason"),
            (None, true, None, _) => text!("account-repaired-not-adjusted"),
            (None, true, Some(how), _) => text!("account-repaired-then-way", way = way(how)),
            (None, false, Some(how), _) => way(how),
            (None, false, None, Some(_)) => text!("account-left-as-it-is"),
            (None, false, None, None) => text!("account-nothing"),
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
            .unwrap_or_else(|| (&self.lesson.hidden.missed).into());
        line(text!("account-the-cure"), did, wanted.label(), grade, Some(cost))
    }

    /// Was the span weight large enough?
    fn span(&self) -> Option<AccountLine> {
        let share = self.lesson.good.span_share.as_ref()?;
        let adjusted = self.state.pads.iter().find_map(|p| p.adjusted.as_ref())?;
        let weight = adjusted.proved_by()?;
        let (setup, _) = self.state.setup_in_force();
        let wanted = setup.max.times(share);
        let told =
            judge_span(self.state, weight, M1_SHARE, crate::adjust::SpanWeightRule::default(), None).ok();
        let grade = if *weight >= wanted {
            HowWell::Good
        } else if told.as_ref().is_some_and(|t| t.ratio <= 1.0) {
            HowWell::Better
        } else {
            HowWell::Mistake
        };
        let cost = told.map(|t| {
            text!(
                "account-at-max-the-error-left",
                ratio = crate::wording::fixed(t.ratio, 1),
                weight,
                fixed = setup.max.ratio(weight).unwrap_or_else(Decimal::zero).fixed(1)
            )
        });
        Some(line(
            text!("account-the-span-weight"),
            text!("account-weight-percent-of-max", weight, percent = percent(weight, &setup.max)),
            text!("account-at-least-wanted", wanted),
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
        let did = if kept {
            text!("account-kept-by-the-indicator")
        } else {
            text!("account-written-down-as-saved-never")
        };
        let cost =
            worst(&self.assessment.as_found).map(|worst| text!("account-the-scale-would-have-gone", worst));
        Some(line(
            text!("account-saving"),
            did,
            text!("account-saved-at-the-indicator-then"),
            if kept { HowWell::Good } else { HowWell::Mistake },
            cost,
        ))
    }

    /// Were keys pressed while it moved?
    fn waiting(&self) -> AccountLine {
        let moved = self.acts.iter().filter(|a| !a.obeyed && a.reply.contains("moving")).count();
        let live = |body: &Body| match body {
            Body::Read(entries::Read { taken, .. }) => {
                Some(matches!(taken, crate::journal::Taken::Live { .. }))
            }
            _ => None,
        };
        let (steady, all) = self
            .entries
            .iter()
            .filter_map(|e| live(&e.body))
            .fold((0usize, 0usize), |(s, n), live| (s + usize::from(live), n + 1));
        let did = match moved {
            0 => text!("account-steady-of-all-readings-taken", steady, all),
            n => text!("account-steady-of-all-readings-taken-2", steady, all, n),
        };
        line(
            text!("account-waiting"),
            did,
            text!("account-every-reading-and-every-capture"),
            if moved == 0 && steady == all { HowWell::Good } else { HowWell::Better },
            None,
        )
    }

    /// Was it proved?
    fn proof(&self) -> AccountLine {
        let count = self.state.left.iter().filter(|r| r.counts).count();
        let good = text!("account-zero-the-span-weight-further");
        let did = text!("account-count-readings-as-left-says", count, says = self.assessment.proof.says);
        let (grade, cost) = match (self.lesson.hidden.cure, self.assessment.outcome) {
            (_, Outcome::InTolerance) => (HowWell::Good, None),
            (Cure::Stop, Outcome::NotProven) => (HowWell::Good, None),
            (_, Outcome::NotProven) => (HowWell::Mistake, Some(text!("account-adjusted-is-not-proven-a"))),
            (_, Outcome::OutOfTolerance) => (HowWell::Mistake, worst(&self.assessment.proof)),
        };
        line(text!("account-the-proof"), did, good, grade, cost)
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
            text!("account-lifting"),
            text!("account-round-kg-moved-on-and", round = round(lifted)),
            text!("account-about-round-kg", round = round(good)),
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
        line(
            text!("account-time"),
            text!("account-minutes-min", minutes),
            text!("account-about-good-min", good),
            grade,
            None,
        )
    }
}

const fn way(how: &How) -> Text {
    match how {
        How::TwoPoint => text!("account-zero-and-span"),
        How::Points(_) => text!("account-zero-span-and-further-points"),
        How::ZeroOnly => text!("account-zero-only"),
        How::Factor(..) => text!("account-a-correction-factor"),
        How::Internal(..) => text!("account-the-internal-weight-matched"),
    }
}

/// The largest error of a phase, as what it does to a load.
fn worst(phase: &PhaseView) -> Option<Text> {
    let largest = phase
        .readings
        .iter()
        .filter(|r| !r.load.value.is_zero())
        .max_by(|a, b| a.error.abs().cmp(&b.error.abs()))?;
    let in_a_kilogram = largest.error.ratio(&largest.load)?.to_f64() * 1000.0;
    Some(text!(
        "account-a-load-of-load-reads",
        load = largest.load,
        error_text = crate::wording::figure(largest.error_text.as_str()),
        abs = crate::wording::fixed(in_a_kilogram.abs(), 1)
    ))
}

fn percent(part: &Mass, whole: &Mass) -> String {
    part.ratio(whole).map_or_else(String::new, |r| format!("{} %", (&r * &Decimal::from(100u32)).round_to(1)))
}

fn round(kg: f64) -> String {
    if kg < 10.0 { format!("{kg:.2}") } else { format!("{kg:.0}") }
}
