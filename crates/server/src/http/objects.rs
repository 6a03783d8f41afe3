//! What stands beside the books in a kit: classes of the workshop's own, objects that were weighed,
//! and the whole kit as one open file.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::import::RowError;
use ombret_core::journal::Outcome;
use ombret_core::quantity::{Mass, parse_mass};
use ombret_core::weights::{Form, OwnClass, Piece, WeighedBy, reference_object};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::Body;
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::store::{jobs, kit, records};
use crate::validation::check_classes;
use ombret_core::text;

const FORMAT: &str = "ombret.kit";
const VERSION: u32 = 1;
/// Days after its proof for which a scale is one that was just proved.
const JUST_PROVED_DAYS: i64 = 7;

/// The kit as an open file.
#[derive(Serialize, Deserialize, ToSchema)]
pub struct KitFile {
    /// `ombret.kit`.
    format: String,
    /// 1.
    version: u32,
    /// Every piece with its certificates.
    pieces: Vec<Piece>,
}

/// A kit file to look at or to take in.
#[derive(Deserialize, ToSchema)]
pub struct KitFileForm {
    /// The file.
    file: KitFile,
    /// Take it in; else only look.
    #[serde(default)]
    take: bool,
}

/// What a kit file came to.
#[derive(Serialize, ToSchema)]
pub struct KitFileRead {
    /// Pieces in it.
    count: usize,
    /// What is wrong, by the place of the piece in the file, from 1.
    errors: Vec<RowError>,
}

/// An object that was weighed on a scale that was just proved.
#[derive(Deserialize, ToSchema)]
pub struct ObjectForm {
    /// Identity, made by the client.
    id: Uuid,
    /// Its name or mark.
    serial: String,
    /// The number of the record that proved the scale.
    record: String,
    /// What that scale showed, as typed.
    shown: String,
    /// Where it is kept.
    #[serde(default)]
    place: String,
}

/// The classes of the workshop's own.
#[utoipa::path(get, path = "/api/kit/classes", tag = "kit", responses((status = 200, body = Vec<OwnClass>)))]
pub async fn own_classes(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<OwnClass>>, ApiError> {
    Ok(Json(kit::own_classes(&app.pool, person.workshop_id).await?))
}

/// Keeps them. Pieces keep the tolerance that they were given until they are edited.
#[utoipa::path(put, path = "/api/kit/classes", tag = "kit", request_body = Vec<OwnClass>, responses((status = 204), (status = 422, body = Problem)))]
pub async fn keep_own_classes(
    State(app): State<App>,
    Technician(person): Technician,
    Body(classes): Body<Vec<OwnClass>>,
) -> Result<StatusCode, ApiError> {
    check_classes(&classes)?;
    kit::keep_own_classes(&app.pool, person.workshop_id, &classes).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Gives a piece of a class of the workshop's own the tolerance that its table has.
pub(super) async fn with_own_tolerance(
    app: &App,
    workshop: Uuid,
    mut piece: Piece,
) -> Result<Piece, ApiError> {
    let Some(own) = &piece.own else { return Ok(piece) };
    let classes = kit::own_classes(&app.pool, workshop).await?;
    let class = classes
        .iter()
        .find(|c| c.name == own.class)
        .ok_or_else(|| Refusal::from(Refused::UnknownClass { class: own.class.clone() }))?;
    piece.own = Some(class.of(&piece.nominal)?);
    Ok(piece)
}

/// Takes an object into the kit: its mass is what a scale showed that was just proved.
#[utoipa::path(post, path = "/api/kit/objects", tag = "kit", request_body = ObjectForm, responses((status = 200, body = Piece), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn weigh_object(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<ObjectForm>,
) -> Result<Json<Piece>, ApiError> {
    let missing = || Refusal::from(Refused::UnknownRecord { trim: form.record.trim().to_owned() });
    let job =
        records::job_of(&app.pool, person.workshop_id, form.record.trim()).await?.ok_or_else(missing)?;
    let job = jobs::job(&app.pool, person.workshop_id, job).await?.ok_or(ApiError::NotFound("job"))?;
    let state = job.journal.state();
    if job.journal.assess().outcome != Outcome::InTolerance {
        return Err(Refusal::from(Refused::NotProved { trim: form.record.trim().to_owned() }).into());
    }
    let now = OffsetDateTime::now_utc();
    let days = job.head.closed_at.map_or(i64::MAX, |at| (now - at).whole_days());
    if days > JUST_PROVED_DAYS {
        return Err(Refusal::from(Refused::ProvedLongAgo { days }).into());
    }
    let (setup, _) = state.setup_in_force();
    let shown = parse_mass(&form.shown, setup.d.unit, "shown").map_err(Refusal::from)?;
    if !shown.value.is_positive() || shown > setup.max {
        return Err(Refusal::from(Refused::OutOfRange { max: setup.max.clone() }).into());
    }
    let d = setup.d_at(&shown, ombret_core::journal::Direction::Up);
    let mpe = state.tolerance.0.at(&shown, Some(d), Some(&setup.max)).map_err(Refusal::from)?;
    let object = reference_object(&shown, &mpe);
    let u = ombret_core::quantity::Decimal::from_measured(object.u, 9)
        .ok_or_else(|| ApiError::Internal("an uncertainty that is no number".into()))?;
    let piece = Piece {
        id: form.id,
        serial: form.serial.trim().to_owned(),
        nominal: object.mass,
        class: None,
        form: Form::Block,
        set: String::new(),
        place: form.place.trim().to_owned(),
        holder: String::new(),
        damaged: false,
        certificates: Vec::new(),
        own: None,
        reference: Some(WeighedBy {
            record: form.record.trim().to_owned(),
            scale: state.sheet.name.clone(),
            scale_id: Some(state.sheet.id),
            on: now.date(),
            u: Mass::new(u, setup.d.unit),
        }),
    };
    piece.check(now.date())?;
    match kit::add(&app.pool, person.workshop_id, std::slice::from_ref(&piece)).await? {
        None => Ok(Json(piece)),
        Some(serial) => Err(ApiError::Taken(text!("objects-api-serial-is-in-the-kit", serial))),
    }
}

/// The kit as an open file.
#[utoipa::path(get, path = "/api/kit/file", tag = "kit", responses((status = 200, body = KitFile)))]
pub async fn kit_file(State(app): State<App>, SignedIn(person): SignedIn) -> Result<Response, ApiError> {
    let pieces = kit::list(&app.pool, person.workshop_id, "").await?.into_iter().map(|r| r.piece).collect();
    let disposition = (
        header::CONTENT_DISPOSITION,
        HeaderValue::from_static("attachment; filename=\"kit.ombret-kit.json\""),
    );
    Ok(([disposition], Json(KitFile { format: FORMAT.into(), version: VERSION, pieces })).into_response())
}

/// Looks at a kit file, or takes it in: all of it or nothing. Pieces get identities of their own here.
#[utoipa::path(post, path = "/api/kit/file", tag = "kit", request_body = KitFileForm, responses((status = 200, body = KitFileRead), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn take_kit_file(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<KitFileForm>,
) -> Result<Json<KitFileRead>, ApiError> {
    if form.file.format != FORMAT || form.file.version != VERSION {
        return Err(Refusal::from(Refused::OtherFormat {
            file: form.file.format.clone(),
            version: form.file.version,
            format: FORMAT.to_owned(),
            version2: VERSION,
        })
        .into());
    }
    let there = kit::serials(&app.pool, person.workshop_id).await?;
    let today = OffsetDateTime::now_utc().date();
    let mut seen = BTreeSet::new();
    let mut errors = Vec::new();
    let mut pieces = Vec::with_capacity(form.file.pieces.len());
    for (at, piece) in form.file.pieces.into_iter().enumerate() {
        let serial = piece.serial.to_lowercase();
        let told = if !seen.insert(serial.clone()) {
            Some((Some("serial".to_owned()), text!("kit-file-serial-twice", serial = piece.serial)))
        } else if there.contains(&serial) {
            Some((
                Some("serial".to_owned()),
                text!("objects-api-the-serial-serial-is-in", serial = piece.serial),
            ))
        } else {
            piece.check(today).err().map(|refusal| (refusal.field, refusal.message))
        };
        match told {
            Some((column, says)) => errors.push(RowError { row: at + 1, column, says }),
            None => pieces.push(Piece { id: Uuid::now_v7(), ..piece }),
        }
    }
    let count = pieces.len() + errors.len();
    if form.take
        && errors.is_empty()
        && let Some(serial) = kit::add(&app.pool, person.workshop_id, &pieces).await?
    {
        return Err(ApiError::Taken(text!("objects-api-the-serial-serial-is-in", serial)));
    }
    Ok(Json(KitFileRead { count, errors }))
}

ombret_core::refusals! {
    enum Refused {
        UnknownClass { class: String } = "unknown_class" at "class":
            text!("objects-api-there-is-no-class-class", class);
        UnknownRecord { trim: String } = "unknown_record" at "record":
            text!("objects-api-there-is-no-record-trim", trim),
            then text!("objects-api-take-the-number-from-the");
        NotProved { trim: String } = "not_proved" at "record":
            text!("objects-api-record-trim-does-not-prove", trim),
            then text!("objects-api-weigh-the-object-on-a");
        ProvedLongAgo { days: i64 } = "proved_long_ago" at "record":
            text!("objects-api-that-scale-was-proved-days", days),
            then text!("objects-api-weigh-the-object-within-a");
        OutOfRange { max: Mass } = "out_of_range" at "shown":
            text!("objects-api-that-scale-weighs-from-zero", max);
        OtherFormat { file: String, version: u32, format: String, version2: u32 } = "other_format" at "file":
            text!("objects-api-this-is-file-version-version", file, version, format, version2);
    }
}
