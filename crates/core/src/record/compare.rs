//! Two records, or two versions of one, side by side: every fact of either, matched by what it is.

use serde::Serialize;
use utoipa::ToSchema;

use crate::assessment::{Assessment, PhaseView, ReadingView};
use crate::journal::{Purpose, Way};

/// A fact of either record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Compared {
    /// What.
    pub what: String,
    /// In the first; none: it has no such fact.
    #[schema(required)]
    pub one: Option<String>,
    /// In the second.
    #[schema(required)]
    pub other: Option<String>,
    /// They are not the same.
    pub differs: bool,
}

/// Every fact of two records, in the order in which a record tells them.
pub fn compare(one: &Assessment, other: &Assessment) -> Vec<Compared> {
    let (first, second) = (facts(one), facts(other));
    let mut names: Vec<&String> = first.iter().map(|(what, _)| what).collect();
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
    let of = |facts: &[(String, String)], what: &str| {
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
fn facts(told: &Assessment) -> Vec<(String, String)> {
    let mut facts: Vec<(String, String)> = Vec::new();
    let mut add = |what: String, value: String| {
        if value.is_empty() {
            return;
        }
        let again = facts
            .iter()
            .filter(|(name, _)| {
                *name == what || name.strip_prefix(&what).is_some_and(|rest| rest.starts_with(" ("))
            })
            .count();
        facts.push((if again == 0 { what } else { format!("{what} ({})", again + 1) }, value));
    };
    let s = &told.sheet;
    for (what, value) in [
        ("Scale", &s.name),
        ("Owner", &s.owner),
        ("Place", &s.place),
        ("Serial", &s.serial),
        ("Indicator", &s.indicator),
    ] {
        add(what.into(), value.clone());
    }
    add("Kind".into(), s.kind.label().into());
    let setup = &told.setup.setup;
    add("Max × d".into(), format!("{} × {}", setup.max, setup.d));
    add("Tolerance".into(), told.tolerance.label.clone());
    add("Decision rule".into(), told.decision.label.clone());
    add("Around the scale".into(), told.conditions.join("; "));
    for check in told.look_over.iter().filter(|c| c.note.is_some() || c.settled.is_some()) {
        let parts = [check.note.as_deref(), check.settled_says.as_deref()];
        add(
            format!("Looked over: {}", check.label),
            parts.into_iter().flatten().collect::<Vec<_>>().join("; "),
        );
    }
    phase(&told.as_found, "As found", &mut add);
    let adjust = &told.adjust;
    if let Some(why) = &adjust.left_alone {
        add("Not adjusted".into(), why.clone());
    }
    if adjust.saved {
        add("Adjusted".into(), adjust.how.clone().unwrap_or_default());
        add("Span weight".into(), adjust.weight.as_ref().map_or_else(String::new, ToString::to_string));
        add("Zero counts".into(), adjust.zero_counts.clone().unwrap_or_default());
        add("Span counts".into(), adjust.span_counts.clone().unwrap_or_default());
    }
    phase(&told.proof, "As left", &mut add);
    add(
        "Weights".into(),
        told.weights_used
            .iter()
            .map(|w| format!("{} {}", w.nominal, w.serial))
            .collect::<Vec<_>>()
            .join(", "),
    );
    add("Largest U".into(), told.largest_u.as_ref().map_or_else(String::new, |u| u.expanded_text.clone()));
    add("Came to".into(), told.outcome_says.clone());
    add("Seals".into(), told.close.seals.clone().unwrap_or_default());
    add("Remarks".into(), told.close.remarks.join("; "));
    add("Signed".into(), told.close.signed.clone().unwrap_or_default());
    add("Approved".into(), told.review.approved.as_ref().map_or_else(String::new, |a| a.by.clone()));
    facts
}

fn phase(view: &PhaseView, stage: &str, add: &mut impl FnMut(String, String)) {
    for r in view.readings.iter().filter(|r| r.purpose == Purpose::Load && r.counts) {
        add(
            format!("{stage}: {}", place_of(r)),
            format!(
                "{}, error {}, {}",
                r.shown_text,
                r.error_text,
                if r.within { "within" } else { "outside" }
            ),
        );
    }
    for test in view.tests.iter().filter(|t| t.done > 0) {
        let pad = if test.pad > 1 { format!(", pad {}", test.pad) } else { String::new() };
        add(format!("{stage}: {}{pad}", test.label), test.says.clone());
    }
}

fn place_of(r: &ReadingView) -> String {
    let pad = if r.pad > 1 { format!(", pad {}", r.pad) } else { String::new() };
    format!("{}{}{pad}", r.load_text, if r.way == Way::Down { " coming down" } else { "" })
}
