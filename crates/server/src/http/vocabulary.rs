//! The words and lists that the page shows, from the core: no second list in the front end.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_core::adjust::SpanWeightRule;
use ombret_core::keying::learn::Screen;
use ombret_core::keying::{Meaning, MessageKind, MessageMeaning, RangeMode, SaveHow, WIDEST};
use ombret_core::measurement::DecisionRule;
use ombret_core::quantity::{Mass, Unit, parse_mass};
use ombret_core::scale::{ScaleKind, WIRE_COLOURS, WIRES, wiring_says};
use ombret_core::signal::{Line, LineError, LinePattern, LineReader, candidates};
use ombret_core::tolerance::{Class, Scheme};
use ombret_core::weights::{Form, InstrumentKind, NEAR_DIVISIONS, NEAR_PER_CENT, WeightClass};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use super::app::App;
use super::body::{Asked, Body};
use super::guard::SignedIn;
use super::papers::{LanguageRow, languages};
use super::problem::{ApiError, Problem};
use crate::store::people::Role;
use crate::{PROGRAM, store};
use ombret_core::text;
use ombret_core::wording::Text;

/// A kind of scale.
#[derive(Serialize, ToSchema)]
pub struct KindWord {
    value: ScaleKind,
    label: Text,
}

/// What sort of instrument.
#[derive(Serialize, ToSchema)]
pub struct InstrumentWord {
    value: InstrumentKind,
    label: Text,
}

/// How much span weight is asked for.
#[derive(Serialize, ToSchema)]
pub struct SpanWeightRuleWord {
    value: SpanWeightRule,
    label: Text,
}

/// How near to the load that is asked for what is on is meant as that load: whichever is more.
#[derive(Serialize, ToSchema)]
pub struct Near {
    /// Divisions.
    divisions: u32,
    /// Per cent of the load.
    per_cent: u32,
}

/// A scheme of tolerances.
#[derive(Serialize, ToSchema)]
pub struct SchemeWord {
    value: Scheme,
    label: Text,
    /// Classes that it has; none where it does not go by class.
    classes: Vec<Class>,
}

/// What an item of a menu may mean.
#[derive(Serialize, ToSchema)]
pub struct MeaningWord {
    /// Its stable name.
    value: Meaning,
    /// In words.
    label: Text,
    /// Opening it does something; there is nothing to enter.
    captures: bool,
    /// There may be one for each span point.
    has_points: bool,
}

/// What a message of a display may mean.
#[derive(Serialize, ToSchema)]
pub struct MessageWord {
    /// Its stable name.
    value: MessageMeaning,
    /// In words.
    label: Text,
    /// What sort of message it is.
    kind: MessageKind,
}

/// How ranges work.
#[derive(Serialize, ToSchema)]
pub struct ModeWord {
    value: RangeMode,
    label: Text,
}

/// A form of a weight.
#[derive(Serialize, ToSchema)]
pub struct FormWord {
    value: Form,
    label: Text,
}

/// A decision rule.
#[derive(Serialize, ToSchema)]
pub struct DecisionWord {
    /// Its name.
    value: DecisionRule,
    /// In words.
    label: Text,
}

/// Every list.
#[derive(Serialize, ToSchema)]
pub struct Vocabulary {
    /// What an item of an indicator's menu may mean.
    meanings: Vec<MeaningWord>,
    /// What a message of its display may mean.
    messages: Vec<MessageWord>,
    /// How an indicator keeps what was entered.
    saves: Vec<SaveHow>,
    /// What its display may show.
    screens: Vec<Screen>,
    /// Digits of the widest field of an indicator.
    widest: u8,
    /// Decision rules.
    decisions: Vec<DecisionWord>,
    units: Vec<Unit>,
    kinds: Vec<KindWord>,
    schemes: Vec<SchemeWord>,
    modes: Vec<ModeWord>,
    weight_classes: Vec<WeightClass>,
    forms: Vec<FormWord>,
    /// The line pattern of the own format.
    line_pattern: String,
    /// Where the link program of the page's own machine answers.
    link_address: String,
    /// The wires of a cell's cable.
    wires: Vec<WireWord>,
    /// Colours that wires have; any other may be typed.
    colours: Vec<String>,
    /// Languages of papers.
    languages: Vec<LanguageRow>,
    /// How much span weight may be asked for.
    span_weight_rules: Vec<SpanWeightRuleWord>,
    /// When a live reading is one of the load that is asked for.
    near: Near,
    /// What reads the environment.
    instruments: Vec<InstrumentWord>,
    /// Roles that somebody may have.
    roles: Vec<Role>,
    program: String,
}

/// A wire of a cell's cable.
#[derive(Serialize, ToSchema)]
pub struct WireWord {
    /// Its stable name.
    id: String,
    /// As it is written in the lines of a card.
    name: String,
    /// In words.
    label: Text,
    /// It is one of the two that sense the excitation.
    sense: bool,
}

/// The program lives.
#[derive(Serialize, ToSchema)]
pub struct Health {
    /// Name and version.
    program: String,
}

/// Whether the program is ready to serve.
#[derive(Serialize, ToSchema)]
pub struct Ready {
    /// The database answers.
    database: bool,
    /// It is of the program's version.
    migrated: bool,
}

/// A typed mass.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct MassQuery {
    /// As typed.
    text: String,
    /// Unit where none is typed.
    unit: Unit,
}

/// How it is understood.
#[derive(Serialize, ToSchema)]
pub struct Understood {
    mass: Mass,
    /// In the default unit.
    converted: Mass,
    /// The same with as many figures as a person can read, without its unit.
    readable: String,
}

fn has(scheme: Scheme, class: Class) -> bool {
    let one = Mass::new(1u32.into(), Unit::Kg);
    ombret_core::tolerance::Tolerance::by_class(scheme, class).at(&one, Some(&one), None).is_ok()
}

/// The lists.
#[utoipa::path(get, path = "/api/vocabulary", tag = "vocabulary", responses((status = 200, body = Vocabulary)))]
pub async fn vocabulary() -> Json<Vocabulary> {
    let schemes = Scheme::ALL.map(|value| {
        let by_class = !matches!(value, Scheme::House | Scheme::Table);
        let classes = Class::ALL.into_iter().filter(|class| by_class && has(value, *class)).collect();
        SchemeWord { value, label: value.label(), classes }
    });
    Json(Vocabulary {
        units: Unit::ALL.to_vec(),
        kinds: ScaleKind::ALL.map(|value| KindWord { value, label: value.label() }).into(),
        schemes: schemes.into(),
        decisions: DecisionRule::ALL.map(|value| DecisionWord { value, label: value.label() }).into(),
        meanings: Meaning::ALL
            .map(|value| MeaningWord {
                value,
                label: value.label(),
                captures: value.is_capture(),
                has_points: value.has_points(),
            })
            .into(),
        messages: MessageMeaning::ALL
            .map(|value| MessageWord { value, label: value.words().0, kind: value.kind() })
            .into(),
        saves: SaveHow::ALL.into(),
        screens: Screen::ALL.into(),
        widest: WIDEST,
        modes: RangeMode::ALL.map(|value| ModeWord { value, label: value.label() }).into(),
        weight_classes: WeightClass::ALL.to_vec(),
        forms: Form::ALL.map(|value| FormWord { value, label: value.label() }).into(),
        line_pattern: ombret_core::signal::OWN_PATTERN.into(),
        link_address: format!("ws://127.0.0.1:{}/lines", crate::live::LINK_PORT),
        wires: WIRES
            .map(|wire| WireWord {
                id: wire.id.into(),
                name: wire.name.into(),
                label: wire.label(),
                sense: wire.sense,
            })
            .into(),
        colours: WIRE_COLOURS.map(Into::into).into(),
        languages: languages(),
        span_weight_rules: SpanWeightRule::ALL
            .map(|value| SpanWeightRuleWord { value, label: value.label() })
            .into(),
        near: Near { divisions: NEAR_DIVISIONS, per_cent: NEAR_PER_CENT },
        instruments: InstrumentKind::ALL.map(|value| InstrumentWord { value, label: value.label() }).into(),
        roles: Role::ALL.into(),
        program: PROGRAM.into(),
    })
}

/// How a typed mass is understood.
#[utoipa::path(get, path = "/api/understand", tag = "vocabulary", params(MassQuery), responses((status = 200, body = Understood), (status = 422, body = Problem)))]
pub async fn understand(Asked(query): Asked<MassQuery>) -> Result<Json<Understood>, ApiError> {
    let mass = parse_mass(&query.text, query.unit, "mass").map_err(Refusal::from)?;
    let converted = mass.to(query.unit);
    let readable = converted.to_string().split(' ').next().unwrap_or_default().to_owned();
    Ok(Json(Understood { converted, readable, mass }))
}

/// A wiring card as it is written.
#[derive(Deserialize, ToSchema)]
pub struct WiringCard {
    /// Its lines: a wire, a colon, its colour.
    lines: Vec<String>,
}

/// What a wiring card comes to.
#[derive(Serialize, ToSchema)]
pub struct WiringReply {
    /// In a sentence; none: nothing is noted.
    #[schema(required)]
    says: Option<Text>,
}

/// Whether a wiring card is complete.
#[utoipa::path(post, path = "/api/wiring", tag = "vocabulary", request_body = WiringCard, responses((status = 200, body = WiringReply), (status = 401, body = Problem)))]
pub async fn judge_wiring(SignedIn(_): SignedIn, Body(card): Body<WiringCard>) -> Json<WiringReply> {
    Json(WiringReply { says: wiring_says(&card.lines) })
}

/// A line that an indicator sent while it was steady.
#[derive(Deserialize, ToSchema)]
pub struct ExampleLine {
    /// The line.
    line: String,
    /// The unit, where the line does not say it.
    #[serde(default)]
    unit: Option<Unit>,
}

/// The pattern that a line gives, and what it reads of it.
#[derive(Serialize, ToSchema)]
pub struct ProposedPattern {
    pattern: LinePattern,
    /// The reading in it.
    shown: Mass,
    /// Its steady mark.
    #[schema(required)]
    mark: Option<bool>,
    /// What else the line may mean, where it carries several figures.
    others: Vec<OtherPattern>,
}

/// Another figure of the line.
#[derive(Serialize, ToSchema)]
pub struct OtherPattern {
    pattern: LinePattern,
    /// The reading in it.
    shown: Mass,
}

/// Makes a line pattern from an example line.
#[utoipa::path(post, path = "/api/lines", tag = "vocabulary", request_body = ExampleLine, responses((status = 200, body = ProposedPattern), (status = 422, body = Problem)))]
pub async fn propose_pattern(
    SignedIn(_): SignedIn,
    Body(asked): Body<ExampleLine>,
) -> Result<Json<ProposedPattern>, ApiError> {
    let refused = |error: LineError| Refusal::from(Refused::BadLine { says: Text::from(&error) });
    let (pattern, others) = candidates(&asked.line, asked.unit).map_err(refused)?;
    let read =
        |pattern: &LinePattern| LineReader::new(pattern.clone()).and_then(|reader| reader.read(&asked.line));
    let others = others.into_iter().filter_map(|pattern| match read(&pattern) {
        Ok(Line::Reading(reading)) => Some(OtherPattern { pattern, shown: reading.shown }),
        _ => None,
    });
    let others = others.collect();
    match read(&pattern).map_err(refused)? {
        Line::Reading(reading) => {
            Ok(Json(ProposedPattern { pattern, shown: reading.shown, mark: reading.mark, others }))
        }
        Line::Blank(says) => Err(Refusal::from(Refused::NoFigure { says }).into()),
    }
}

/// The program lives.
#[utoipa::path(get, path = "/api/health", tag = "vocabulary", responses((status = 200, body = Health)))]
pub async fn health() -> Json<Health> {
    Json(Health { program: PROGRAM.into() })
}

/// The program is ready to serve: its database answers, and is of its version. 503 while it is not.
#[utoipa::path(get, path = "/api/ready", tag = "vocabulary", responses((status = 200, body = Ready), (status = 503, body = Ready)))]
pub async fn ready(State(app): State<App>) -> (StatusCode, Json<Ready>) {
    let migrated = store::migrated(&app.pool).await;
    let told = Ready { database: migrated.is_ok(), migrated: migrated.unwrap_or(false) };
    let status = if told.migrated { StatusCode::OK } else { StatusCode::SERVICE_UNAVAILABLE };
    (status, Json(told))
}

ombret_core::refusals! {
    enum Refused {
        BadLine { says: Text } = "bad_line" at "example": says;
        NoFigure { says: String } = "bad_line" at "example": text!("vocabulary-api-says-is-no-figure", says);
    }
}
