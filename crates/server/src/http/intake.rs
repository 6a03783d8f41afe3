//! Tables that come in: looked at first, with the columns mapped by a person; taken whole or not at all; and
//! the last one taken back.

use std::collections::{BTreeMap, HashMap};
use std::io::Cursor;

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::StatusCode;
use calamine::{Data, Reader, Xlsx};
use ombret_core::Refusal;
use ombret_core::customer::Customer;
use ombret_core::import::{
    Grid, Looked, Mapping, ScaleDefaults, read_customers, read_pieces, read_results, read_scales,
};
use ombret_core::quantity::Unit;
use ombret_core::record::plain_mark;
use ombret_core::tolerance::Scheme;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At};
use super::guard::Technician;
use super::problem::{ApiError, Problem};
use crate::rules::WorkshopDefaults;
use crate::store::intake::{self, IntakeKind, IntakeRow, NotUndone, Rows};
use crate::store::people::Person;
use crate::store::{StoreError, accounts, customers, kit, scales};
use ombret_core::text;
use ombret_core::wording::Text;

/// Most bytes of a spreadsheet when it is unpacked.
const UNPACKED: u64 = 64 << 20;

/// What is to be done with a table.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct IntakeQuery {
    /// What it holds.
    #[param(inline)]
    kind: IntakeKind,
    /// The file's name.
    #[serde(default)]
    name: String,
    /// Unit of figures that say none.
    #[serde(default)]
    #[param(inline)]
    unit: Option<Unit>,
    /// Ours → the file's columns, as JSON.
    #[serde(default)]
    mapping: Option<String>,
    /// Take it in; else only look.
    #[serde(default)]
    take: bool,
}

/// A table as it was looked at, and whether it was taken in.
#[derive(Serialize, ToSchema)]
pub struct IntakeReply {
    #[serde(flatten)]
    looked: Looked,
    /// It was taken in, under this identity.
    #[schema(required)]
    taken: Option<Uuid>,
}

/// The cells of a file: a spreadsheet's first sheet, or text.
fn grid_of(bytes: &[u8]) -> Result<Grid, Refusal> {
    let bad = |says: Text| Refusal::from(Refused::BadTable { says });
    if !bytes.starts_with(b"PK") {
        let text = std::str::from_utf8(bytes).map_err(|_| bad(text!("intake-api-no-table")))?;
        return Grid::of_text(text);
    }
    let broken = || bad(text!("intake-api-no-spreadsheet"));
    let mut zip = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|_| broken())?;
    let mut unpacked = 0u64;
    for part in 0..zip.len() {
        unpacked = unpacked.saturating_add(zip.by_index_raw(part).map_err(|_| broken())?.size());
    }
    if unpacked > UNPACKED {
        return Err(bad(text!("intake-api-unpacked", most = UNPACKED >> 20)));
    }
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|_| broken())?;
    let sheet = book
        .worksheet_range_at(0)
        .ok_or_else(|| bad(text!("intake-api-no-sheet")))?
        .map_err(|_| bad(text!("intake-api-sheet-unreadable")))?;
    // A sheet that ends in the ten-thousandth column would be all blanks.
    let (rows, columns) = sheet.get_size();
    if rows.saturating_mul(columns) > 2_000_000 {
        return Err(bad(text!("intake-api-sheet-too-large")));
    }
    Grid::of_cells(sheet.rows().map(|row| row.iter().map(text_of).collect()).collect())
}

/// A cell as a person would type it: a number by its digits, a day as 2026-11-24.
fn text_of(cell: &Data) -> String {
    match cell {
        Data::Empty => String::new(),
        Data::String(text) | Data::DurationIso(text) => text.clone(),
        Data::DateTimeIso(text) => text.split('T').next().unwrap_or(text).to_owned(),
        Data::DateTime(at) => {
            let (year, month, day, ..) = at.to_ymd_hms_milli();
            format!("{year:04}-{month:02}-{day:02}")
        }
        Data::Bool(yes) => if *yes { "yes" } else { "no" }.to_owned(),
        // The shortest digits that mean this number: those that were typed.
        Data::Float(number) => number.to_string(),
        Data::Int(number) => number.to_string(),
        Data::Error(error) => format!("{error:?}"),
    }
}

/// What of the workshop a table is compared with.
struct Here {
    customers: HashMap<String, Customer>,
    marks: BTreeMap<String, Vec<(Uuid, Unit)>>,
    names: BTreeMap<String, Vec<(Uuid, Unit)>>,
    pieces: std::collections::BTreeSet<String>,
    defaults: ScaleDefaults,
}

impl Here {
    async fn of(app: &App, person: &Person, unit: Option<Unit>) -> Result<Self, ApiError> {
        let workshop = person.workshop_id;
        let kept = accounts::defaults(&app.pool, workshop).await?;
        let kept: WorkshopDefaults = serde_json::from_value(kept).map_err(StoreError::from)?;
        let (mut marks, mut names): (BTreeMap<String, Vec<_>>, BTreeMap<String, Vec<_>>) = Default::default();
        for known in scales::known(&app.pool, workshop).await? {
            let of = (known.id, known.unit);
            names.entry(known.name.trim().to_lowercase()).or_default().push(of);
            let mark = plain_mark(&known.serial);
            if !mark.is_empty() {
                marks.entry(mark).or_default().push(of);
            }
        }
        Ok(Self {
            customers: customers::all(&app.pool, workshop)
                .await?
                .into_iter()
                .map(|customer| (Customer::plain_name(&customer.name), customer))
                .collect(),
            marks,
            names,
            pieces: kit::serials(&app.pool, workshop).await?,
            defaults: ScaleDefaults {
                unit: unit.or(kept.unit).unwrap_or(Unit::Kg),
                scheme: kept
                    .scheme
                    .filter(|s| !matches!(s, Scheme::House | Scheme::Table))
                    .unwrap_or(Scheme::R76InService),
                interval_months: 12,
            },
        })
    }

    /// What a new scale of a customer gets: what was agreed with them, else what the workshop takes.
    fn agreed_with(&self, customer: &str) -> ScaleDefaults {
        let known = self.customers.get(&Customer::plain_name(customer));
        let scheme = known.and_then(|c| c.scheme).filter(|s| !matches!(s, Scheme::House | Scheme::Table));
        ScaleDefaults {
            scheme: scheme.unwrap_or(self.defaults.scheme),
            interval_months: known.and_then(|c| c.interval_months).unwrap_or(self.defaults.interval_months),
            ..self.defaults
        }
    }

    /// A scale by its serial, else by its name where only one has it.
    fn scale(&self, text: &str) -> Result<(Uuid, Unit), Text> {
        let found = self.marks.get(&plain_mark(text)).or_else(|| self.names.get(&text.trim().to_lowercase()));
        let shown: String = text.chars().take(40).collect();
        match found.map(Vec::as_slice) {
            Some([one]) => Ok(*one),
            Some(many) => Err(text!("intake-api-several-are-called", n = many.len(), shown)),
            None => Err(text!("intake-api-no-scale", shown)),
        }
    }
}

fn read(kind: IntakeKind, grid: &Grid, mapping: &Mapping, here: &Here) -> Result<(Looked, Rows), Refusal> {
    let today = OffsetDateTime::now_utc().date();
    Ok(match kind {
        IntakeKind::Customers => {
            let known = |name: &str| here.customers.contains_key(name);
            let taken = read_customers(grid, mapping, &known, &mut Uuid::now_v7);
            (taken.looked, Rows::Customers(taken.items))
        }
        IntakeKind::Scales => {
            let known = |mark: &str| here.marks.contains_key(mark);
            let agreed = |customer: &str| here.agreed_with(customer);
            let taken = read_scales(grid, mapping, &agreed, &known, &mut Uuid::now_v7);
            (taken.looked, Rows::Scales(taken.items))
        }
        IntakeKind::Weights => {
            let known = |serial: &str| here.pieces.contains(&serial.to_lowercase());
            let taken = read_pieces(grid, mapping, here.defaults.unit, today, &known, &mut Uuid::now_v7);
            (taken.looked, Rows::Weights(taken.items))
        }
        IntakeKind::Results => {
            let taken = read_results(grid, mapping, today, &|text| here.scale(text));
            (taken.looked, Rows::Results(taken.items))
        }
    })
}

/// Looks at a table, or takes it in: all of it or nothing.
#[utoipa::path(post, path = "/api/intake", tag = "intake", params(IntakeQuery), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = IntakeReply), (status = 409, body = Problem), (status = 413, body = Problem), (status = 422, body = Problem)))]
pub async fn take_in(
    State(app): State<App>,
    Technician(person): Technician,
    Asked(asked): Asked<IntakeQuery>,
    bytes: Bytes,
) -> Result<Json<IntakeReply>, ApiError> {
    let mapping = match asked.mapping.as_deref() {
        None | Some("") => Mapping::default(),
        Some(text) => serde_json::from_str(text).map_err(|_| Refusal::from(Refused::BadMapping))?,
    };
    let here = Here::of(&app, &person, asked.unit).await?;
    let kind = asked.kind;
    let (looked, rows) = app
        .workers
        .run(move |_| {
            let grid = grid_of(&bytes)?;
            Ok(read(kind, &grid, &mapping, &here)?)
        })
        .await?;
    let mut taken = None;
    if asked.take && looked.errors.is_empty() && looked.count > 0 {
        let name: String = asked.name.chars().filter(|c| !c.is_control()).take(120).collect();
        let meanwhile = |what: &str| ApiError::Taken(text!("intake-api-what-nothing-was-taken-in", what));
        taken = match intake::take(&app.pool, &person, &name, &rows).await {
            Ok(Ok(id)) => Some(id),
            Ok(Err(serial)) => {
                return Err(meanwhile(&format!("the serial “{serial}” is in the kit already")));
            }
            Err(error) if error.twice().is_some() => {
                return Err(meanwhile("a customer of the table has a name or number that another has"));
            }
            Err(error) => return Err(error.into()),
        };
    }
    Ok(Json(IntakeReply { looked, taken }))
}

/// Tables that came in, the newest first.
#[utoipa::path(get, path = "/api/intake", tag = "intake", responses((status = 200, body = Vec<IntakeRow>), (status = 401, body = Problem)))]
pub async fn list_intakes(
    State(app): State<App>,
    Technician(person): Technician,
) -> Result<Json<Vec<IntakeRow>>, ApiError> {
    Ok(Json(intake::list(&app.pool, person.workshop_id).await?))
}

/// Takes the last table back, whole, where nothing of it was changed or used since.
#[utoipa::path(delete, path = "/api/intake/{id}", tag = "intake", params(("id" = Uuid, Path)), responses((status = 204), (status = 422, body = Problem)))]
pub async fn undo_intake(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    match intake::undo(&app.pool, &person, id).await? {
        Ok(()) => Ok(StatusCode::NO_CONTENT),
        Err(NotUndone::NotTheLast) => Err(Refusal::from(Refused::NotTheLast).into()),
        Err(NotUndone::InUse(what)) => Err(Refusal::from(Refused::InUse { what: what.join("; ") }).into()),
    }
}

ombret_core::refusals! {
    enum Refused {
        BadTable { says: Text } = "bad_table" at "file": says;
        BadMapping = "bad_mapping" at "mapping": text!("intake-api-which-column-is-which-cannot");
        NotTheLast = "not_the_last": text!("intake-api-only-the-table-that-came");
        InUse { what: String } = "in_use":
            text!("intake-api-it-is-in-use-what", what),
            then text!("intake-api-nothing-was-taken-back-correct");
    }
}
