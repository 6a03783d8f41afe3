//! A calibration certificate or a work report: which of the two a record may be, and everything that
//! stands on it. Source: ISO/IEC 17025:2017, 7.8.2, 7.8.4, 7.8.6.

use serde::Serialize;

use super::letterhead::{Lack, Letterhead, RecordTerms};
use super::words::Words;
use crate::assessment::{Assessment, ReadingView, Standing, worst};
use crate::journal::{Direction, JobState, Outcome, Purpose, Reading, UsedPiece, proof_readings};
use crate::measurement::{DecisionRule, Verdict};
use crate::quantity::Mass;

/// Label and value.
pub type Facts = Vec<(String, String)>;

/// A row of readings.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Row {
    /// Its cells.
    pub cells: Vec<String>,
    /// It is inside the tolerance.
    pub within: bool,
}

/// Readings.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Table {
    /// Title.
    pub title: String,
    /// With which set-up they are judged.
    pub about: String,
    /// Heads of its columns.
    pub head: Vec<String>,
    /// Rows.
    pub rows: Vec<Row>,
}

/// A plain table inside a section.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Plain {
    /// Heads.
    pub head: Vec<String>,
    /// Rows.
    pub rows: Vec<Vec<String>>,
}

/// A section of text.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Lines {
    /// Title.
    pub title: String,
    /// Paragraphs.
    pub lines: Vec<String>,
    /// A table under them.
    pub table: Option<Plain>,
}

/// Who signed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Signature {
    /// As what.
    pub role: String,
    /// Name.
    pub name: String,
    /// When.
    pub at: String,
    /// It was drawn by hand: the file `customer.svg`.
    pub drawn: bool,
}

/// The head of the paper.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Head {
    /// Name.
    pub name: String,
    /// Lines under it.
    pub lines: Vec<String>,
}

/// A file inside.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Attachment {
    /// Its name.
    pub name: String,
    /// What it is.
    pub description: String,
}

/// What is known of a record beside its journal.
#[derive(Clone, Debug, Default)]
pub struct Circumstances<'a> {
    /// Its number; none: it is not frozen.
    pub number: Option<&'a str>,
    /// The version that took its place.
    pub replaced_by: Option<&'a str>,
    /// Address of the record.
    pub address: &'a str,
    /// What it needs to be a certificate of this workshop.
    pub terms: RecordTerms,
    /// Name of the file inside.
    pub attachment: Option<&'a str>,
}

/// A certificate or a report, ready to be set.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Certificate {
    /// It is a calibration certificate.
    pub certificate: bool,
    /// Tag of its language.
    pub lang: String,
    /// Its title.
    pub title: String,
    /// Its number.
    pub number: String,
    /// Words for a search.
    pub keywords: Vec<String>,
    /// Across the sheet, where it is no record.
    pub draft: Option<String>,
    /// Which version, and in the place of what.
    pub version: Option<String>,
    /// It is replaced.
    pub replaced: Option<String>,
    /// The paper's head.
    pub letterhead: Head,
    /// What the job came to.
    pub verdict: String,
    /// Good, bad, neither.
    pub good: Option<bool>,
    /// Statement of conformity.
    pub statement: String,
    /// Scale, place, conditions, method.
    pub facts: Facts,
    /// As found and as left.
    pub tables: Vec<Table>,
    /// There is a drawing.
    pub drawing: bool,
    /// What it shows.
    pub drawing_says: String,
    /// Tests, uncertainty, weights, remarks.
    pub sections: Vec<Lines>,
    /// Signatures.
    pub signatures: Vec<Signature>,
    /// At the end.
    pub closing: String,
    /// The mark under the last line: nothing comes after it.
    pub end: String,
    /// At the foot of every page.
    pub foot: String,
    /// “Page”.
    pub page: String,
    /// “of”.
    pub of: String,
    /// It has a code.
    pub qr: bool,
    /// Where that leads.
    pub address: String,
    /// The file inside.
    pub attachment: Option<Attachment>,
}

/// What a record lacks to be a certificate; nothing: it may be one.
pub fn why_report(state: &JobState, assessed: &Assessment, terms: RecordTerms) -> Vec<Lack> {
    let counted = || counted(state);
    let sound = |p: &UsedPiece| p.certificate.is_some() && p.unfit.is_none() && p.reference.is_none();
    let certified =
        counted().all(|r| r.load.value.is_zero() || (!r.with.is_empty() && r.with.iter().all(sound)));
    let views = assessed.as_found.readings.iter().chain(&assessed.proof.readings);
    let known_u = views.filter(|v| counted().any(|r| r.entry == v.entry)).all(|v| v.budget.is_some());
    let read = state.conditions.iter().any(|c| c.temperature.is_some());
    let own = [
        (!certified).then_some(Lack::Uncertified),
        (!known_u).then_some(Lack::NoU),
        (!read).then_some(Lack::NoConditions),
    ];
    Lack::of_standing(assessed, terms).chain(own.into_iter().flatten()).collect()
}

/// Readings on which the verdict rests.
fn counted(state: &JobState) -> impl Iterator<Item = &Reading> {
    proof_readings(state).into_iter()
}

/// The sheet of a record.
pub fn certificate(
    state: &JobState,
    assessed: &Assessment,
    letterhead: &Letterhead,
    around: &Circumstances,
) -> Certificate {
    let words = letterhead.language.words();
    let lacks = why_report(state, assessed, around.terms);
    let is_certificate = lacks.is_empty() && !state.sheet.practice;
    let number = around.number.unwrap_or("–").to_owned();
    let foreign = around.terms.foreign;
    let draft = if state.sheet.practice {
        Some("practice")
    } else if foreign {
        Some("foreign")
    } else {
        around.number.map_or(Some("draft"), |_| lacks.contains(&Lack::Unapproved).then_some("draft"))
    };
    let version = assessed.review.replaces.as_ref().map(|of| {
        words.fill(
            "version",
            &[
                ("version", &assessed.review.version.to_string()),
                ("of", of),
                ("why", assessed.review.because.as_deref().unwrap_or_default()),
            ],
        )
    });
    Certificate {
        certificate: is_certificate,
        lang: letterhead.language.tag().into(),
        title: words.get(if is_certificate { "certificate" } else { "report" }),
        keywords: vec![state.sheet.serial.clone(), number.clone()],
        draft: draft.map(|key| words.get(key)),
        version,
        replaced: around.replaced_by.map(|by| words.fill("replaced", &[("number", by)])),
        letterhead: if foreign {
            Head { name: words.get("foreign_head"), lines: Vec::new() }
        } else {
            Head { name: letterhead.name.clone(), lines: letterhead.lines.clone() }
        },
        verdict: words.get(match assessed.outcome {
            Outcome::InTolerance => "in_tolerance",
            Outcome::OutOfTolerance => "out_of_tolerance",
            Outcome::NotProven => "not_proven",
        }),
        good: match assessed.outcome {
            Outcome::InTolerance => Some(true),
            Outcome::OutOfTolerance => Some(false),
            Outcome::NotProven => None,
        },
        statement: statement(state, assessed, words),
        facts: facts(state, assessed, words),
        tables: [("as_found", &assessed.as_found), ("as_left", &assessed.proof)]
            .into_iter()
            .filter_map(|(key, phase)| {
                table(
                    words,
                    key,
                    &phase.readings,
                    (&phase.setup.max.to_string(), &phase.setup.d.to_string()),
                    state.several(),
                )
            })
            .collect(),
        drawing: !(assessed.error_chart.found.is_empty() && assessed.error_chart.left.is_empty()),
        drawing_says: words.fill(
            "drawing",
            &[("max", &words.figure(&format!("{} {}", assessed.error_chart.max, assessed.error_chart.unit)))],
        ),
        sections: sections(assessed, words, &lacks),
        signatures: signatures(assessed, words, around.terms.approval),
        closing: if foreign { String::new() } else { letterhead.closing.clone() },
        end: words.fill("end", &[("number", &number)]),
        foot: words.get(if is_certificate { "foot_certificate" } else { "foot_report" }),
        page: words.get("page"),
        of: words.get("of"),
        qr: !around.address.is_empty(),
        address: around.address.to_owned(),
        attachment: around
            .attachment
            .map(|name| Attachment { name: name.to_owned(), description: words.get("attached") }),
        number,
    }
}

fn statement(state: &JobState, assessed: &Assessment, words: Words) -> String {
    if assessed.outcome == Outcome::NotProven {
        return words.get("statement_none");
    }
    let views: Vec<&ReadingView> = assessed
        .as_found
        .readings
        .iter()
        .chain(&assessed.proof.readings)
        .filter(|v| counted(state).any(|r| r.entry == v.entry))
        .collect();
    let bad = views.iter().filter(|v| !v.within).count();
    // The worst is the one that takes most of its own tolerance: a small error at zero may be worse than a
    // larger one at Max.
    let (error, load, share) = worst(views.iter().copied()).map_or_else(Default::default, |w| {
        let share = words.figure(&format!("{:.0} %", w.share * 100.0));
        (words.figure(error_of(w)), words.figure(&w.load_text), share)
    });
    let gaps = [
        ("bad", bad.to_string()),
        ("n", views.len().to_string()),
        ("error", error),
        ("load", load),
        ("share", share),
    ];
    let gaps: Vec<(&str, &str)> = gaps.iter().map(|(name, value)| (*name, value.as_str())).collect();
    words.fill(if assessed.outcome == Outcome::InTolerance { "statement_in" } else { "statement_out" }, &gaps)
}

fn one_line(text: &str) -> String {
    text.lines().map(str::trim).filter(|l| !l.is_empty()).collect::<Vec<_>>().join(", ")
}

fn error_of(view: &ReadingView) -> &str {
    view.corrected_text.as_deref().unwrap_or(&view.error_text)
}

fn facts(state: &JobState, assessed: &Assessment, words: Words) -> Facts {
    let sheet = &state.sheet;
    let setup = &assessed.setup.setup;
    let or_dash = |text: &str| if text.trim().is_empty() { "–".to_owned() } else { text.to_owned() };
    let rule = words.get(match assessed.decision.rule {
        DecisionRule::Simple => "simple",
        DecisionRule::Guarded => "guarded",
        DecisionRule::FourWay => "four_way",
    });
    let work = match (&assessed.adjust.weight, assessed.adjust.saved) {
        (Some(weight), true) => words.fill("adjusted", &[("weight", &words.figure(&weight.to_string()))]),
        (None, true) => words.get("adjusted_plain"),
        (_, false) => words.get("not_adjusted"),
    };
    let around = if assessed.conditions.is_empty() {
        words.get("not_read")
    } else {
        words.figure(&assessed.conditions.join("; "))
    };
    let pairs = [
        ("scale", sheet.name.clone()),
        (
            "owner",
            or_dash(
                [sheet.owner.as_str(), sheet.owner_address.as_str()]
                    .map(one_line)
                    .join(", ")
                    .trim_end_matches(", "),
            ),
        ),
        ("serial", or_dash(&sheet.serial)),
        ("place", or_dash(&sheet.place)),
        ("range", words.figure(&format!("{} × {}", setup.max, setup.d))),
        ("indicator", or_dash(&sheet.indicator)),
        ("worked_on", assessed.started_at.date().to_string()),
        ("signed_on", assessed.close.signed_at.map_or_else(|| "–".into(), |at| at.date().to_string())),
        ("conditions", around),
        ("work", work),
        ("method", words.get("method_says")),
        ("tolerance", words.say(&assessed.tolerance.label)),
        ("rule", rule),
        ("seals", or_dash(assessed.close.seals.as_deref().unwrap_or_default())),
    ];
    pairs.into_iter().map(|(key, value)| (words.get(key), value)).collect()
}

fn table(
    words: Words,
    title: &str,
    readings: &[ReadingView],
    (max, d): (&str, &str),
    several: bool,
) -> Option<Table> {
    let shown: Vec<&ReadingView> =
        readings.iter().filter(|r| r.purpose == Purpose::Load && r.counts).collect();
    if shown.is_empty() {
        return None;
    }
    let verdict = |r: &ReadingView| {
        let plain = words.get(if r.within { "within" } else { "outside" });
        match r.verdict {
            Some(Verdict::PassInsideGuard | Verdict::FailInsideGuard) => {
                format!("{plain}, {}", words.get("in_guard"))
            }
            _ => plain,
        }
    };
    let row = |r: &&ReadingView| {
        let pad = if several {
            format!("{}: ", words.fill("pad", &[("pad", &r.pad.to_string())]))
        } else {
            String::new()
        };
        let direction =
            if r.direction == Direction::Down { format!("{} ", words.get("down")) } else { String::new() };
        let cells = [
            format!("{pad}{direction}{}", r.load_text),
            r.shown_text.clone(),
            error_of(r).to_owned(),
            r.budget.as_ref().map_or_else(|| "–".into(), |b| b.expanded_text.clone()),
            r.mpe_text.clone(),
        ];
        Row { cells: cells.iter().map(|c| words.figure(c)).chain([verdict(r)]).collect(), within: r.within }
    };
    let mut head = ["load", "shown", "error", "u", "mpe", "verdict"].map(|key| words.get(key)).to_vec();
    let mut rows: Vec<Row> = shown.iter().map(row).collect();
    for column in 0..head.len() - 1 {
        unit_to_head(&mut head[column], &mut rows, column);
    }
    Some(Table {
        title: words.get(title),
        about: words.figure(&words.fill("judged_at", &[("max", max), ("d", d)])),
        head,
        rows,
    })
}

/// A unit that a whole column shares stands once, in its head.
fn unit_to_head(head: &mut String, rows: &mut [Row], column: usize) {
    let unit = rows.iter().find_map(|r| r.cells[column].rsplit_once(' ')).map(|(_, unit)| unit.to_owned());
    let Some(unit) = unit.filter(|u| !u.is_empty() && u.chars().all(char::is_alphabetic)) else { return };
    let suffix = format!(" {unit}");
    if rows.iter().all(|r| r.cells[column].ends_with(&suffix) || r.cells[column] == "–") {
        *head = format!("{head}, {unit}");
        for row in rows {
            let cell = &mut row.cells[column];
            cell.truncate(cell.strip_suffix(&suffix).map_or(cell.len(), str::len));
        }
    }
}

fn sections(assessed: &Assessment, words: Words, lacks: &[Lack]) -> Vec<Lines> {
    let mut out = Vec::new();
    let mut add = |title: &str, lines: Vec<String>, table: Option<Plain>| {
        out.push(Lines { title: words.get(title), lines, table })
    };
    let done: Vec<String> = assessed
        .proof
        .tests
        .iter()
        .chain(assessed.as_found.tests.iter().filter(|f| {
            assessed.proof.tests.iter().all(|t| (t.test, t.pad) != (f.test, f.pad) || t.done == 0)
        }))
        .filter(|t| t.done > 0)
        .map(|t| format!("{}: {}", words.say(&t.label), words.say(&t.says)))
        .collect();
    if !done.is_empty() {
        add("tests", done, None);
    }
    let uncertain = assessed.largest_u.as_ref().map_or_else(
        || words.get("no_uncertainty"),
        |u| words.fill("uncertainty_says", &[("k", &words.figure(&format!("{:.2}", u.k)))]),
    );
    add("uncertainty", vec![uncertain], None);
    if !assessed.weights_used.is_empty() {
        let certified =
            assessed.weights_used.iter().all(|p| p.certificate.is_some() && p.reference.is_none());
        let row = |p: &UsedPiece| {
            let paper = p.reference.as_ref().map_or_else(
                || p.certificate.clone().unwrap_or_else(|| "–".into()),
                |record| words.fill("weighed", &[("record", record)]),
            );
            let class = p
                .class
                .and_then(|c| serde_json::to_value(c).ok())
                .and_then(|v| v.as_str().map(str::to_owned))
                .unwrap_or_else(|| "–".into());
            let mass = |mass: Option<String>| mass.map_or_else(|| "–".into(), |text| words.figure(&text));
            let error = mass(p.error.as_ref().map(|e| e.signed(places(e))));
            let u = mass(p.u.as_ref().map(ToString::to_string));
            let due = p.due.map_or_else(|| "–".into(), |day| day.to_string());
            let nominal = words.figure(&p.nominal.to_string());
            vec![nominal, p.serial.clone(), class, error, u, paper, due]
        };
        let head = ["nominal", "mark", "class", "error", "u", "certificate_number", "piece_due"]
            .map(|key| words.get(key))
            .to_vec();
        add(
            "weights",
            if certified { vec![words.get("traceable")] } else { Vec::new() },
            Some(Plain { head, rows: assessed.weights_used.iter().map(row).collect() }),
        );
    }
    let files: Vec<String> =
        assessed.files.iter().filter(|f| f.on_record).map(|f| words.say(&f.says())).collect();
    if !files.is_empty() {
        add("files", files, None);
    }
    let mut noted: Vec<String> = assessed
        .reservations
        .iter()
        .map(|r| words.say(r))
        .chain(assessed.close.remarks.iter().cloned())
        .collect();
    if !lacks.is_empty() {
        let why: Vec<String> = lacks.iter().map(|l| words.get(l.key())).collect();
        noted.insert(0, format!("{} {}.", words.get("why_report"), why.join("; ")));
    }
    if !noted.is_empty() {
        add("noted", noted, None);
    }
    out
}

/// Decimals of a figure as it is written.
fn places(mass: &Mass) -> u32 {
    u32::try_from(-mass.value.exponent()).unwrap_or(0)
}

fn signatures(assessed: &Assessment, words: Words, review: bool) -> Vec<Signature> {
    let day =
        |at: Option<time::OffsetDateTime>| at.map_or_else(|| "–".to_owned(), |at| at.date().to_string());
    let mut out = vec![Signature {
        role: words.get("signed"),
        name: assessed.close.signed.clone().unwrap_or_else(|| "–".into()),
        at: day(assessed.close.signed_at),
        drawn: false,
    }];
    match &assessed.review.approved {
        Some(by) => out.push(Signature {
            role: words.get("approved"),
            name: by.by.clone(),
            at: day(Some(by.at)),
            drawn: false,
        }),
        None if review && assessed.review.standing == Standing::Signed => out.push(Signature {
            role: words.get("approved"),
            name: "–".into(),
            at: words.get("awaiting"),
            drawn: false,
        }),
        None => {}
    }
    if let Some(customer) = &assessed.close.customer {
        out.push(Signature {
            role: words.get("customer_signed"),
            name: customer.name.clone(),
            at: day(Some(customer.at)),
            drawn: true,
        });
    }
    out
}
