//! What is due: the board by week, owner or place, and the calendar.

use ombret_core::schedule::monday;
use ombret_core::text;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use time::{Date, Duration};
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use ombret_core::wording::Text;

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// Weeks that are counted one by one.
const MOST_WEEKS: usize = 54;

/// A scale on the board of due dates.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DueRow {
    /// The scale.
    pub scale: Uuid,
    /// Its name.
    pub name: String,
    /// Its owner.
    pub owner: String,
    /// Its place.
    pub place: String,
    /// The day.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub due: Date,
    /// The Monday of its week.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub week: Date,
    /// The day is past.
    pub overdue: bool,
    /// Why that day.
    #[schema(required)]
    pub reason: Option<Text>,
    /// Outcome on its last record.
    #[schema(required)]
    pub last_outcome: Option<String>,
}

/// By what the board is ordered.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DueOrder {
    /// The first due first.
    #[default]
    Week,
    /// By owner, each one's first due first.
    Owner,
    /// By place.
    Place,
}

impl DueOrder {
    /// Where a row stands in this order.
    pub fn cursor(self, row: &DueRow) -> DueCursor {
        let group = match self {
            Self::Week => String::new(),
            Self::Owner => row.owner.to_lowercase(),
            Self::Place => row.place.to_lowercase(),
        };
        DueCursor { group, due: row.due, id: row.scale }
    }
}

/// The last row that was seen.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct DueCursor {
    /// What it is grouped by, in lower case; empty by week.
    pub group: String,
    /// Its day.
    #[serde(with = "iso_date")]
    pub due: Date,
    /// Its scale.
    pub id: Uuid,
}

/// Which scales are asked for.
#[derive(Clone, Copy, Debug)]
pub struct DueAsked<'a> {
    /// Up to this day.
    pub until: Date,
    /// Words to look for, as in the list of scales.
    pub search: &'a str,
}

/// A week of the board.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct WeekCount {
    /// Its Monday.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub week: Date,
    /// Scales due in it, from today on.
    pub count: i64,
}

/// How many are due.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DueCounts {
    /// In all.
    pub total: i64,
    /// Whose day is past.
    pub overdue: i64,
    /// By week, those that are not overdue.
    pub weeks: Vec<WeekCount>,
}

/// One statement an order, so that each walks its own index; `$past` is what comes after the cursor. A
/// scale without a day is as good as due in the year 9999.
macro_rules! rows {
    ($pool:expr, $until:literal, $past:literal, $by:literal, $($bind:expr),+) => {
        sqlx::query_as!(
            Found,
            r#"select id, name, owner, place, next_due as "due!", due_reason, last_outcome from scale
               where workshop_id = $1 and not practice and "# + $until + " and search like $3 and ($4::date is null or " + $past + ") order by " + $by + " limit $6",
            $($bind),+
        )
        .fetch_all($pool)
        .await?
    };
}

struct Found {
    id: Uuid,
    name: String,
    owner: String,
    place: String,
    due: Date,
    due_reason: Option<String>,
    last_outcome: Option<String>,
}

/// A page of the board.
pub async fn page(
    pool: &PgPool,
    workshop: Uuid,
    today: Date,
    asked: DueAsked<'_>,
    order: DueOrder,
    after: Option<&DueCursor>,
    limit: i64,
) -> Result<Vec<DueRow>, StoreError> {
    let pattern = super::anywhere(asked.search);
    let (due, id, group) = (after.map(|c| c.due), after.map(|c| c.id), after.map(|c| c.group.as_str()));
    let found = match order {
        DueOrder::Week => rows!(
            pool,
            "coalesce(next_due, '9999-12-31') <= $2",
            "(coalesce(next_due, '9999-12-31'), id) > ($4, $5::uuid)",
            "coalesce(next_due, '9999-12-31'), id",
            workshop,
            asked.until,
            pattern,
            due,
            id,
            limit
        ),
        DueOrder::Owner => rows!(
            pool,
            "next_due is not null and next_due <= $2",
            "(lower(owner), next_due, id) > ($7::text, $4, $5::uuid)",
            "lower(owner), next_due, id",
            workshop,
            asked.until,
            pattern,
            due,
            id,
            limit,
            group
        ),
        DueOrder::Place => rows!(
            pool,
            "next_due is not null and next_due <= $2",
            "(lower(place), next_due, id) > ($7::text, $4, $5::uuid)",
            "lower(place), next_due, id",
            workshop,
            asked.until,
            pattern,
            due,
            id,
            limit,
            group
        ),
    };
    Ok(found
        .into_iter()
        .map(|r| DueRow {
            week: monday(r.due),
            overdue: r.due < today,
            scale: r.id,
            name: r.name,
            owner: r.owner,
            place: r.place,
            due: r.due,
            reason: r.due_reason.map(reason_kept),
            last_outcome: r.last_outcome,
        })
        .collect())
}

/// A reason as it is kept: a message, or in databases from before that a sentence in English.
fn reason_kept(kept: String) -> Text {
    match kept.as_str() {
        "never proven" => text!("due-never-proven"),
        _ => serde_json::from_str(&kept).unwrap_or_else(|_| Text::verbatim(kept)),
    }
}

/// How many scales are due, in all and by week.
pub async fn counts(
    pool: &PgPool,
    workshop: Uuid,
    today: Date,
    asked: DueAsked<'_>,
) -> Result<DueCounts, StoreError> {
    // Where nothing is looked for, the index alone tells; a pattern that fits all would read every row.
    let pattern = (!asked.search.is_empty()).then(|| super::anywhere(asked.search));
    let rows = sqlx::query!(
        r#"select coalesce(next_due, '9999-12-31') as "day!", count(*) as "count!" from scale
           where workshop_id = $1 and not practice and coalesce(next_due, '9999-12-31') <= $2 and ($3::text is null or search like $3) group by 1 order by 1"#,
        workshop,
        asked.until,
        pattern
    );
    let rows = rows.fetch_all(pool).await?;
    let mut out = DueCounts { total: 0, overdue: 0, weeks: Vec::new() };
    for (day, count) in rows.into_iter().map(|r| (r.day, r.count)) {
        out.total += count;
        if day < today {
            out.overdue += count;
            continue;
        }
        // Weeks without any stand there too, so that they lie as far apart as they are.
        let week = monday(day);
        let mut next = out.weeks.last().map_or_else(|| monday(today), |w| w.week + Duration::weeks(1));
        while next <= week && out.weeks.len() < MOST_WEEKS {
            out.weeks.push(WeekCount { week: next, count: 0 });
            next += Duration::weeks(1);
        }
        if let Some(last) = out.weeks.last_mut().filter(|w| w.week == week) {
            last.count += count;
        }
    }
    Ok(out)
}
