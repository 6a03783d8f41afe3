//! Two records, or two versions of one, side by side: every fact of either, matched by what it is.

use serde::Serialize;
use utoipa::ToSchema;

use crate::assessment::{Assessment, PhaseView, ReadingView};
use crate::journal::{Direction, Purpose};
use crate::wording::{Between, Text, ToArg};

/// A fact of either record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Compared {
    /// What.
    pub what: Text,
    /// In the first; none: it has no such fact.
    #[schema(required)]
    pub one: Option<Text>,
    /// In the second.
    #[schema(required)]
    pub other: Option<Text>,
    /// They are not the same.
    pub differs: bool,
}

/// Every fact of two records, in the order in which a record tells them.
pub fn compare(one: &Assessment, other: &Assessment) -> Vec<Compared> {
    let (first, second) = (facts(one), facts(other));
    let mut names: Vec<&Text> = first.iter().map(|(what, _)| what).collect();
    // What only the second has comes behind the fact that it follows there.
    let mut behind = 0;
    for (what, _) in &second {
        match names.iter().position(|name| *name == what) {
            Some(at) => behind = at + 1,
            None => {
                names.insert(behind, what);
                behind += 1;
            }
        }
    }
    let of = |facts: &[(Text, Text)], what: &Text| {
        facts.iter().find(|(name, _)| name == what).map(|(_, value)| value.clone())
    };
    names
        .into_iter()
        .map(|what| {
            let (one, other) = (of(&first, what), of(&second, what));
            Compared { what: what.clone(), differs: one != other, one, other }
        })
        .collect()
}

/// What a record says, by name; a name stands once.
fn facts(assessed: &Assessment) -> Vec<(Text, Text)> {
    let mut facts: Vec<(Text, Text)> = Vec::new();
    let mut add = |what: Text, value: Text| {
        if value.is_empty() {
            return;
        }
        let again = facts
            .iter()
            .filter(|(name, _)| {
                *name == what
                    || (name.key() == "compare-again" && name.args().any(|(_, of)| *of == what.to_arg()))
            })
            .count();
        facts.push((if again == 0 { what } else { text!("compare-again", what, again = again + 1) }, value));
    };
    let s = &assessed.sheet;
    for (what, value) in [
        (text!("compare-scale"), &s.name),
        (text!("compare-owner"), &s.owner),
        (text!("compare-place"), &s.place),
        (text!("compare-serial"), &s.serial),
        (text!("compare-indicator"), &s.indicator),
    ] {
        add(what, Text::verbatim(value.clone()));
    }
    add(text!("compare-kind"), s.kind.label());
    let setup = &assessed.setup.setup;
    add(text!("compare-max-d"), text!("stages-max-d", max = setup.max, d = setup.d));
    add(text!("compare-tolerance"), assessed.tolerance.label.clone());
    add(text!("compare-decision-rule"), assessed.decision.label.clone());
    add(text!("compare-around-the-scale"), Text::list(&assessed.conditions, Between::Semicolon));
    for check in assessed.inspection.iter().filter(|c| c.note.is_some() || c.settled.is_some()) {
        let parts = [check.note.as_ref().map(Text::from), check.settled_says.as_ref().map(Text::from)];
        add(
            text!("compare-looked-over-label", label = check.label),
            Text::list(parts.into_iter().flatten(), Between::Semicolon),
        );
    }
    phase(&assessed.as_found, text!("compare-as-found"), &mut add);
    let adjust = &assessed.adjust;
    if let Some(why) = &adjust.left_alone {
        add(text!("compare-not-adjusted"), Text::verbatim(why.clone()));
    }
    if adjust.saved {
        add(text!("compare-adjusted"), adjust.how.clone().unwrap_or_default());
        add(
            text!("compare-span-weight"),
            adjust.weight.as_ref().map_or_else(Text::default, |w| text!("adjustment-mass", mass = w)),
        );
        add(text!("compare-zero-counts"), Text::verbatim(adjust.zero_counts.clone().unwrap_or_default()));
        add(text!("compare-span-counts"), Text::verbatim(adjust.span_counts.clone().unwrap_or_default()));
    }
    phase(&assessed.proof, text!("compare-as-left"), &mut add);
    add(
        text!("compare-weights"),
        Text::verbatim(
            assessed
                .weights_used
                .iter()
                .map(|w| format!("{} {}", w.nominal, w.serial))
                .collect::<Vec<_>>()
                .join(", "),
        ),
    );
    add(
        text!("compare-largest-u"),
        assessed.largest_u.as_ref().map_or_else(Text::default, |u| Text::verbatim(u.expanded_text.clone())),
    );
    add(text!("compare-came-to"), assessed.outcome_says.clone());
    add(text!("compare-seals"), Text::verbatim(assessed.close.seals.clone().unwrap_or_default()));
    add(text!("compare-remarks"), Text::list(&assessed.close.remarks, Between::Semicolon));
    add(text!("compare-signed"), Text::verbatim(assessed.close.signed.clone().unwrap_or_default()));
    add(
        text!("compare-approved"),
        assessed.review.approved.as_ref().map_or_else(Text::default, |a| Text::verbatim(a.by.clone())),
    );
    facts
}

fn phase(view: &PhaseView, stage: Text, add: &mut impl FnMut(Text, Text)) {
    for r in view.readings.iter().filter(|r| r.purpose == Purpose::Load && r.counts) {
        add(
            text!("compare-stage-place", stage, place = place_of(r)),
            text!(
                "compare-shown-text-error-error-text",
                shown_text = crate::wording::figure(r.shown_text.as_str()),
                error_text = crate::wording::figure(r.error_text.as_str()),
                outside = if r.within { text!("compare-within") } else { text!("compare-outside") }
            ),
        );
    }
    for test in view.tests.iter().filter(|t| t.done > 0) {
        let pad = if test.pad > 1 { text!("compare-pad-pad", pad = test.pad) } else { Text::default() };
        add(text!("compare-stage-test", stage, test = test.label, pad), test.says.clone());
    }
}

fn place_of(r: &ReadingView) -> Text {
    let pad = if r.pad > 1 { text!("compare-pad-pad", pad = r.pad) } else { Text::default() };
    text!(
        "compare-load",
        load = r.load_text,
        direction =
            if r.direction == Direction::Down { text!("compare-coming-down") } else { Text::default() },
        pad
    )
}
