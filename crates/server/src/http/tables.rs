//! Every list as a table that a person can keep: CSV, or XLSX.

use axum::extract::State;
use axum::response::Response;
use ombret_core::Refusal;
use ombret_core::assessment::assess;
use ombret_core::import::{
    CUSTOMER_COLUMNS, PIECE_COLUMNS, SCALE_COLUMNS, customer_row, piece_row, scale_row, write_rows,
};
use ombret_core::job::open_file;
use ombret_core::journal::Entry;
use rust_xlsxwriter::{Format, Workbook, XlsxError};
use serde::{Deserialize, Serialize};
use serde_json::json;
use time::{Date, Duration, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};

use super::app::App;
use super::body::{Asked, At};
use super::guard::SignedIn;
use super::history::{READING_COLUMNS, row_of};
use super::papers::file;
use super::problem::{ApiError, Problem};
use crate::store::audit::{self, AuditAct, AuditAsked};
use crate::store::due::{self, DueAsked, DueOrder};
use crate::store::listed::{self, RecordsAsked};
use crate::store::people::{Person, Role};
use crate::store::{customers, kit, records, scales};
use ombret_core::text;

/// Most rows of a table.
const MOST_ROWS: i64 = 100_000;
/// Most records whose readings are written.
const MOST_RECORDS: i64 = 2_000;

/// Which list.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TableOf {
    /// Customers.
    Customers,
    /// Scales.
    Scales,
    /// Weights.
    Weights,
    /// What is due.
    Due,
    /// Records.
    Records,
    /// Every reading of records.
    Readings,
    /// The audit trail.
    Audit,
}

/// As what.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TableForm {
    /// RFC 4180.
    #[default]
    Csv,
    /// Office Open XML.
    Xlsx,
}

/// As what a table is wanted.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct TableQuery {
    /// CSV or XLSX.
    #[serde(default)]
    #[param(inline)]
    form: TableForm,
}

struct Table {
    head: Vec<&'static str>,
    rows: Vec<Vec<String>>,
}

/// A list as a table; records and readings as they are filtered.
#[utoipa::path(get, path = "/api/tables/{what}", tag = "intake", params(("what" = inline(TableOf), Path), TableQuery, RecordsAsked),
    responses((status = 200, body = Vec<u8>, content_type = "application/octet-stream"), (status = 401, body = Problem), (status = 403, body = Problem)))]
pub async fn table(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(what): At<TableOf>,
    Asked(query): Asked<TableQuery>,
    Asked(asked): Asked<RecordsAsked>,
) -> Result<Response, ApiError> {
    let table = read(&app, &person, what, &asked).await?;
    let name =
        serde_json::to_value(what).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
    let detail = json!({"table": name, "rows": table.rows.len()});
    audit::note(&app.pool, &person, AuditAct::TableExported, detail).await?;
    let bytes = app
        .workers
        .run(move |_| {
            Ok(match query.form {
                TableForm::Csv => write_rows(&table.head, table.rows)?.into_bytes(),
                TableForm::Xlsx => sheet(&table).map_err(|e| ApiError::Internal(e.to_string()))?,
            })
        })
        .await?;
    match query.form {
        TableForm::Csv => file("text/csv; charset=utf-8; header=present", &format!("{name}.csv"), bytes),
        TableForm::Xlsx => file(
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            &format!("{name}.xlsx"),
            bytes,
        ),
    }
}

/// A workbook of one sheet. Every cell is text as it stands here: a serial keeps its noughts, a figure its
/// last digits, and nothing is a formula.
fn sheet(table: &Table) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let out = book.add_worksheet();
    let bold = Format::new().set_bold();
    for (column, name) in (0u16..).zip(&table.head) {
        out.write_string_with_format(0, column, *name, &bold)?;
    }
    for (row, cells) in (1u32..).zip(&table.rows) {
        for (column, cell) in (0u16..).zip(cells) {
            // A cell of a spreadsheet holds so much and no more.
            let shown: String = cell.chars().take(32_000).collect();
            out.write_string(row, column, shown)?;
        }
    }
    out.set_freeze_panes(1, 0)?;
    out.autofit();
    book.save_to_buffer()
}

fn names(columns: &[(&'static str, bool)]) -> Vec<&'static str> {
    columns.iter().map(|(name, _)| *name).collect()
}

async fn read(app: &App, person: &Person, what: TableOf, asked: &RecordsAsked) -> Result<Table, ApiError> {
    let (pool, workshop) = (&app.pool, person.workshop_id);
    Ok(match what {
        TableOf::Customers => Table {
            head: names(&CUSTOMER_COLUMNS),
            rows: customers::all(pool, workshop).await?.iter().map(customer_row).collect(),
        },
        TableOf::Scales => {
            let mut head = names(&SCALE_COLUMNS);
            head.extend(["last outcome", "last record", "due"]);
            let rows = scales::all(pool, workshop, MOST_ROWS).await?.into_iter().map(|s| {
                let mut row = scale_row(&s.sheet);
                row.extend([
                    s.last_outcome.unwrap_or_default(),
                    s.last_closed_at.map_or_else(String::new, |at| at.date().to_string()),
                    s.next_due.map_or_else(String::new, |day| day.to_string()),
                ]);
                row
            });
            Table { head, rows: rows.collect() }
        }
        TableOf::Weights => Table {
            head: PIECE_COLUMNS.to_vec(),
            rows: kit::list(pool, workshop, "").await?.iter().map(|r| piece_row(&r.piece)).collect(),
        },
        TableOf::Due => {
            let today = OffsetDateTime::now_utc().date();
            let until = asked.to.unwrap_or_else(|| today.saturating_add(Duration::days(3_700)));
            let what = DueAsked { until: until.min(Date::MAX), search: asked.search.trim() };
            let rows = due::page(pool, workshop, today, what, DueOrder::Week, None, MOST_ROWS).await?;
            Table {
                head: vec!["due", "scale", "customer", "place", "reason"],
                rows: rows
                    .into_iter()
                    .map(|r| {
                        vec![
                            r.due.to_string(),
                            r.name,
                            r.owner,
                            r.place,
                            r.reason.map_or_else(String::new, |why| why.to_string()),
                        ]
                    })
                    .collect(),
            }
        }
        TableOf::Records => {
            let rows = listed::page(pool, workshop, asked, None, MOST_ROWS).await?;
            Table {
                head: vec![
                    "record",
                    "signed",
                    "scale",
                    "customer",
                    "place",
                    "kind",
                    "signed by",
                    "outcome",
                    "paper",
                    "approval",
                ],
                rows: rows
                    .into_iter()
                    .map(|r| {
                        vec![
                            r.number,
                            r.signed_at.date().to_string(),
                            r.scale,
                            r.customer,
                            r.place,
                            r.kind.label().to_string(),
                            r.signed_by,
                            r.outcome.label().to_string(),
                            if r.certificate { "calibration certificate" } else { "work report" }.into(),
                            if r.waiting { "waits" } else { "" }.into(),
                        ]
                    })
                    .collect(),
            }
        }
        TableOf::Readings => readings(app, person, asked).await?,
        TableOf::Audit => {
            if !person.is(Role::Manager) && !person.is(Role::Reader) {
                return Err(ApiError::WrongRole);
            }
            let lines = audit::page(pool, workshop, &AuditAsked::default(), None, MOST_ROWS).await?;
            Table {
                head: vec!["line", "at", "name", "act", "detail"],
                rows: lines
                    .into_iter()
                    .map(|l| {
                        let act = serde_json::to_value(l.act).ok();
                        vec![
                            l.seq.to_string(),
                            l.at.format(&time::format_description::well_known::Rfc3339).unwrap_or_default(),
                            l.name,
                            act.and_then(|a| a.as_str().map(str::to_owned)).unwrap_or_default(),
                            if l.detail.is_null() { String::new() } else { l.detail.to_string() },
                        ]
                    })
                    .collect(),
            }
        }
    })
}

async fn readings(app: &App, person: &Person, asked: &RecordsAsked) -> Result<Table, ApiError> {
    let found = listed::page(&app.pool, person.workshop_id, asked, None, MOST_RECORDS + 1).await?;
    if i64::try_from(found.len()).unwrap_or(i64::MAX) > MOST_RECORDS {
        return Err(Refusal::from(Refused::TooMany { most_records: MOST_RECORDS }).into());
    }
    let mut head = vec!["record", "signed", "scale", "customer"];
    head.extend(READING_COLUMNS);
    let mut rows = Vec::new();
    for record in found {
        let Some(frozen) = records::file(&app.pool, person.workshop_id, record.job, None).await? else {
            continue;
        };
        let of = app
            .workers
            .run(move |_| {
                let Ok((file, state)) = open_file(&frozen.bytes) else { return Ok(Vec::new()) };
                let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
                let assessed = assess(&entries, &state);
                let found = assessed.as_found.readings.iter().map(|r| row_of("as found", r));
                Ok(found.chain(assessed.proof.readings.iter().map(|r| row_of("as left", r))).collect())
            })
            .await?;
        rows.extend(of.into_iter().map(|cells: Vec<String>| {
            let mut row = vec![
                record.number.clone(),
                record.signed_at.date().to_string(),
                record.scale.clone(),
                record.customer.clone(),
            ];
            row.extend(cells);
            row
        }));
    }
    Ok(Table { head, rows })
}

ombret_core::refusals! {
    enum Refused {
        TooMany { most_records: i64 } = "too_many" at "from":
            text!("tables-api-readings-of-at-most-most", most_records),
            then text!("tables-api-choose-a-shorter-period");
    }
}
