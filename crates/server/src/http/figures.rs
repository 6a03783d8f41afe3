//! Figures of the workshop: how many scales were found out of tolerance, of which kind and age, and why;
//! and the lookup of what stands on a record.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use ombret_core::Refusal;
use ombret_core::diagnosis::table;
use ombret_core::scale::{ScaleKind, checklist};
use ombret_core::statistics::{Rate, Tally, by_age, percent, rate};
use serde::{Deserialize, Serialize};
use time::{Date, Duration, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};

use super::app::App;
use super::body::Asked;
use super::guard::SignedIn;
use super::problem::{ApiError, Problem};
use crate::store::figures;
use crate::store::lookup::{self, MarkedPiece, MarkedRecord};
use crate::store::scales::{self, ScaleRow};
use ombret_core::text;
use ombret_core::wording::Text;

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// Most of each sort that a lookup tells.
const MOST_FOUND: i64 = 30;
/// Shortest text that is looked for among the scales, in characters.
const LEAST_OF_SCALE: usize = 3;
/// What is counted where no first day is asked for.
const TWO_YEARS: i64 = 730;
/// Months that are shown one by one.
const MOST_MONTHS: usize = 60;

/// Of which time.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct FiguresQuery {
    /// First day, as 2024-11-25; empty: two years back.
    #[serde(default)]
    from: String,
    /// Last day; empty: today.
    #[serde(default)]
    to: String,
}

fn day(field: &str, text: &str) -> Result<Option<Date>, Refusal> {
    if text.trim().is_empty() {
        return Ok(None);
    }
    let format = time::macros::format_description!("[year]-[month]-[day]");
    Date::parse(text.trim(), format)
        .ok()
        .filter(|day| (1900..=2200).contains(&day.year()))
        .map(Some)
        .ok_or_else(|| Refusal::from(Refused::NotADate).at(field))
}

/// How often.
#[derive(Serialize, ToSchema)]
pub struct Often {
    /// What.
    label: Text,
    /// How often.
    count: u64,
    /// Of all that are listed beside it, 0 to 1.
    share: f64,
    /// The same in per cent, for people.
    share_text: String,
}

/// The figures.
#[derive(Serialize, ToSchema)]
pub struct FiguresReply {
    /// First day.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    from: Date,
    /// Last day.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    to: Date,
    /// Records of that time.
    records: u64,
    /// All of them together.
    all: Rate,
    /// By month.
    months: Vec<Rate>,
    /// By kind of scale, the worst first.
    kinds: Vec<Rate>,
    /// By age of the scale, the youngest first.
    ages: Vec<Rate>,
    /// Causes that the readings told where a scale was found outside, the commonest first.
    causes: Vec<Often>,
    /// Faults that looking over found, the commonest first.
    faults: Vec<Often>,
}

/// Figures of the workshop.
#[utoipa::path(get, path = "/api/statistics", tag = "records", params(FiguresQuery), responses((status = 200, body = FiguresReply), (status = 401, body = Problem), (status = 422, body = Problem)))]
pub async fn workshop_figures(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(query): Asked<FiguresQuery>,
) -> Result<Json<FiguresReply>, ApiError> {
    let today = OffsetDateTime::now_utc().date();
    let to = day("to", &query.to)?.unwrap_or(today);
    let from = match day("from", &query.from)? {
        Some(from) => from,
        None => to - Duration::days(TWO_YEARS),
    };
    if from > to {
        return Err(Refusal::from(Refused::OutOfRange).into());
    }
    let counted = figures::counted(&app.reads, person.workshop_id, from, to).await?;
    let all = counted
        .kinds
        .values()
        .fold(Tally::default(), |a, t| Tally { read: a.read + t.read, outside: a.outside + t.outside });
    let rates = |tallies: Vec<(Text, Tally)>| {
        tallies.into_iter().map(|(label, tally)| rate(label, tally)).collect::<Result<Vec<_>, _>>()
    };
    let kind = |word: &String| {
        ScaleKind::ALL
            .into_iter()
            .find(|k| figures::word(k).is_ok_and(|w| w == *word))
            .map_or_else(|| Text::verbatim(word.clone()), |k| k.label())
    };
    let mut kinds = rates(counted.kinds.iter().map(|(k, t)| (kind(k), *t)).collect())?;
    kinds.sort_by(|a, b| {
        b.share.unwrap_or(0.0).total_cmp(&a.share.unwrap_or(0.0)).then_with(|| b.read.cmp(&a.read))
    });
    let months = every_month(&counted.months);
    let newest = months.len().saturating_sub(MOST_MONTHS);
    Ok(Json(FiguresReply {
        from,
        to,
        records: counted.records,
        all: rate(Text::verbatim("all"), all)?,
        months: rates(months.into_iter().skip(newest).collect())?,
        kinds,
        ages: rates(by_age(counted.ages).into_iter().map(|(class, tally)| (class.label(), tally)).collect())?,
        causes: often(counted.causes.iter().map(|(cause, count)| {
            (cause.as_ref().map_or_else(|| text!("figures-readings-do-not-tell"), |c| cause_label(c)), *count)
        })),
        faults: often(counted.faults.iter().map(|(item, count)| (item_label(item), *count))),
    }))
}

/// Every month from the first to the last with records, those without any too.
fn every_month(counted: &BTreeMap<String, Tally>) -> Vec<(Text, Tally)> {
    let parts = |text: &String| {
        text.split_once('-').and_then(|(y, m)| Some((y.parse::<i32>().ok()?, m.parse::<i32>().ok()?)))
    };
    let Some((first, last)) =
        counted.keys().next().and_then(parts).zip(counted.keys().next_back().and_then(parts))
    else {
        return Vec::new();
    };
    let whole = |(year, month): (i32, i32)| year * 12 + month - 1;
    (whole(first)..=whole(last))
        .map(|at| format!("{:04}-{:02}", at.div_euclid(12), at.rem_euclid(12) + 1))
        .map(|name| (Text::verbatim(name.clone()), counted.get(&name).copied().unwrap_or_default()))
        .collect()
}

fn often(counted: impl Iterator<Item = (Text, u64)>) -> Vec<Often> {
    let mut rows: Vec<(Text, u64)> = counted.collect();
    rows.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.key().cmp(b.0.key())));
    let all: u64 = rows.iter().map(|(_, count)| count).sum();
    #[expect(clippy::cast_precision_loss, reason = "counts of records")]
    let share = |count: u64| if all == 0 { 0.0 } else { count as f64 / all as f64 };
    rows.into_iter()
        .map(|(label, count)| Often { label, count, share: share(count), share_text: percent(share(count)) })
        .collect()
}

fn cause_label(word: &str) -> Text {
    table()
        .iter()
        .find(|c| figures::word(c.cause).is_ok_and(|w| w == word))
        .map_or_else(|| Text::verbatim(word.to_owned()), |c| c.label.clone())
}

fn item_label(item: &str) -> Text {
    ScaleKind::ALL
        .into_iter()
        .flat_map(checklist)
        .find(|i| i.id == item)
        .map_or_else(|| Text::verbatim(item.to_owned()), |i| i.label())
}

/// What is looked for.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LookupQuery {
    /// A serial, a seal, a number of a record or of a certificate, a mark of a piece; or a part of one.
    #[serde(default)]
    q: String,
}

/// What was found.
#[derive(Serialize, ToSchema)]
pub struct LookupReply {
    /// Scales.
    scales: Vec<ScaleRow>,
    /// Records.
    records: Vec<MarkedRecord>,
    /// Pieces of weight.
    pieces: Vec<MarkedPiece>,
    /// There are more than these.
    more: bool,
}

/// Looks a mark up: on scales, on records, on weights and their certificates.
#[utoipa::path(get, path = "/api/lookup", tag = "records", params(LookupQuery), responses((status = 200, body = LookupReply), (status = 401, body = Problem)))]
pub async fn look_up(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(query): Asked<LookupQuery>,
) -> Result<Json<LookupReply>, ApiError> {
    let asked: String = query.q.trim().chars().take(100).collect();
    if asked.chars().count() < 2 {
        return Ok(Json(LookupReply {
            scales: Vec::new(),
            records: Vec::new(),
            pieces: Vec::new(),
            more: false,
        }));
    }
    let workshop = person.workshop_id;
    // Two letters stand somewhere in the words of half the scales, or of none: they are no mark of a scale.
    let most_scales = if asked.chars().count() < LEAST_OF_SCALE { 0 } else { MOST_FOUND + 1 };
    let (scales, records, pieces) = tokio::try_join!(
        scales::list(&app.reads, workshop, &asked, None, None, most_scales),
        lookup::records(&app.reads, workshop, &asked, MOST_FOUND + 1),
        lookup::pieces(&app.reads, workshop, &asked, MOST_FOUND + 1)
    )?;
    let most = usize::try_from(MOST_FOUND).unwrap_or(0);
    let mut reply = LookupReply {
        more: [scales.len(), records.len(), pieces.len()].iter().any(|n| *n > most),
        scales,
        records,
        pieces,
    };
    reply.scales.truncate(most);
    reply.records.truncate(most);
    reply.pieces.truncate(most);
    Ok(Json(reply))
}

ombret_core::refusals! {
    enum Refused {
        NotADate = "not_a_date": text!("figures-api-a-day-is-written-as");
        OutOfRange = "out_of_range" at "from": text!("figures-api-the-first-day-comes-after");
    }
}
