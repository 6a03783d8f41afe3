//! The routes and the document that describes them, from one list.

use std::sync::LazyLock;

use axum::body::Bytes;
use axum::http::{HeaderValue, header};
use axum::response::IntoResponse;
use utoipa::OpenApi;
use utoipa::openapi::{ContentBuilder, OpenApi as OpenApiDocument, Ref, RefOr, ResponseBuilder};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{
    App, accounts, archive, beside, customers, due, editing, factors, figures, genuine, history, intake,
    jobs, judgement, kit, listed, live, mail, objects, offline, owners, papers, practice, profiles, proofs,
    records, scales, sign_in, tables, teaching, vocabulary,
};

#[derive(OpenApi)]
#[openapi(info(title = "Ombret", description = "Setting up, adjusting and proving weighing instruments."))]
struct Api;

/// Every described route.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::with_openapi(Api::openapi())
        .routes(routes!(sign_in::sign_in, sign_in::sign_out, sign_in::who_am_i))
        .routes(routes!(scales::list_scales, scales::add_scale))
        .routes(routes!(scales::get_scale, scales::change_scale))
        .routes(routes!(jobs::list_jobs, jobs::begin_job))
        .routes(routes!(jobs::get_job))
        .routes(routes!(jobs::add_entry))
        .routes(routes!(jobs::judge_job_setup))
        .routes(routes!(offline::entries_after))
        .routes(routes!(offline::workshop_along))
        .routes(routes!(offline::scale_along))
        .routes(routes!(offline::make_device, offline::list_devices))
        .routes(routes!(offline::device_standing, offline::revoke_device))
        .routes(routes!(offline::come_home, offline::came_home))
        .routes(routes!(offline::left_over))
        .routes(routes!(judgement::diagnose))
        .routes(routes!(judgement::get_rules, judgement::set_rules))
        .routes(routes!(profiles::list_profiles, profiles::keep_profile))
        .routes(routes!(profiles::get_profile))
        .routes(routes!(profiles::profile_file))
        .routes(routes!(profiles::check_profile))
        .routes(routes!(profiles::run_machine))
        .routes(routes!(editing::rewrite))
        .routes(routes!(editing::compare_profiles))
        .routes(routes!(editing::merge_profiles))
        .routes(routes!(editing::add_message))
        .routes(routes!(editing::list_editions))
        .routes(routes!(editing::get_edition))
        .routes(routes!(proofs::prove_profile, proofs::proof_of_job))
        .routes(routes!(proofs::proofs_of_profile))
        .routes(routes!(profiles::job_keying))
        .routes(routes!(teaching::list_teaching))
        .routes(routes!(teaching::get_teaching, teaching::keep_teaching))
        .routes(routes!(teaching::profile_of_teaching))
        .routes(routes!(profiles::job_messages))
        .routes(routes!(profiles::list_sites, profiles::keep_site))
        .routes(routes!(profiles::ask_calculator))
        .routes(routes!(kit::list_kit, kit::keep_piece))
        .routes(routes!(kit::change_pieces))
        .routes(routes!(kit::certificate_file, kit::attach_certificate))
        .routes(routes!(kit::plan_job))
        .routes(routes!(kit::pack_day))
        .routes(routes!(kit::get_span_weight_rule, kit::set_span_weight_rule))
        .routes(routes!(objects::own_classes, objects::keep_own_classes))
        .routes(routes!(objects::weigh_object))
        .routes(routes!(objects::kit_file, objects::take_kit_file))
        .routes(routes!(history::scale_history))
        .routes(routes!(due::due_board))
        .routes(routes!(due::calendar_address, due::renew_calendar))
        .routes(routes!(due::calendar))
        .routes(routes!(figures::workshop_figures))
        .routes(routes!(figures::look_up))
        .routes(routes!(history::readings_table))
        .routes(routes!(history::resting_on))
        .routes(routes!(history::recall_table))
        .routes(routes!(records::job_file))
        .routes(routes!(records::import_job))
        .routes(routes!(records::record_versions))
        .routes(routes!(records::waiting_records))
        .routes(routes!(records::compare_records))
        .routes(routes!(archive::begin_export, archive::list_tasks))
        .routes(routes!(archive::begin_import))
        .routes(routes!(archive::task, archive::cancel_task))
        .routes(routes!(archive::archive_file))
        .routes(routes!(papers::certificate_pdf))
        .routes(routes!(papers::label_file))
        .routes(routes!(papers::dcc_file))
        .routes(routes!(papers::read_dcc))
        .routes(routes!(papers::paper_kind))
        .routes(routes!(papers::get_paper, papers::set_paper))
        .routes(routes!(live::live_reading))
        .routes(routes!(live::job_changes))
        .routes(routes!(live::operate_scale))
        .routes(routes!(practice::list_lessons, practice::keep_lesson))
        .routes(routes!(practice::lesson_file))
        .routes(routes!(practice::begin_lesson))
        .routes(routes!(practice::get_practice))
        .routes(routes!(practice::ask_hint))
        .routes(routes!(practice::switch_on_again))
        .routes(routes!(practice::reveal))
        .routes(routes!(practice::get_account))
        .routes(routes!(accounts::get_link, accounts::answer_link))
        .routes(routes!(accounts::list_people, accounts::invite))
        .routes(routes!(accounts::change_member))
        .routes(routes!(accounts::password_link))
        .routes(routes!(accounts::list_sessions))
        .routes(routes!(accounts::end_session))
        .routes(routes!(accounts::get_defaults))
        .routes(routes!(accounts::rename))
        .routes(routes!(accounts::change_password))
        .routes(routes!(
            factors::get_factor,
            factors::begin_factor,
            factors::confirm_factor,
            factors::end_factor
        ))
        .routes(routes!(factors::end_factor_of))
        .routes(routes!(factors::list_tokens, factors::make_token))
        .routes(routes!(factors::end_token))
        .routes(routes!(customers::list_customers, customers::add_customer))
        .routes(routes!(customers::get_customer, customers::change_customer, customers::remove_customer))
        .routes(routes!(customers::merge_customers))
        .routes(routes!(intake::list_intakes, intake::take_in))
        .routes(routes!(intake::undo_intake))
        .routes(routes!(tables::table))
        .routes(routes!(owners::owner_links, owners::make_owner_link))
        .routes(routes!(owners::end_owner_link))
        .routes(routes!(owners::own))
        .routes(routes!(owners::own_paper))
        .routes(routes!(accounts::reduce_member))
        .routes(routes!(practice::throw_away))
        .routes(routes!(mail::get_reminders, mail::set_reminders))
        .routes(routes!(beside::list_instruments, beside::keep_instrument))
        .routes(routes!(beside::remove_instrument))
        .routes(routes!(beside::list_files))
        .routes(routes!(beside::put_file, beside::get_file, beside::remove_file))
        .routes(routes!(listed::list_records))
        .routes(routes!(listed::begin_papers))
        .routes(routes!(genuine::genuine))
        .routes(routes!(genuine::audit_trail))
        .routes(routes!(vocabulary::vocabulary))
        .routes(routes!(vocabulary::understand))
        .routes(routes!(vocabulary::propose_pattern))
        .routes(routes!(vocabulary::judge_wiring))
        .routes(routes!(vocabulary::health))
        .routes(routes!(vocabulary::ready))
}

/// What may come of any request beside what its own description says: status, what it is, and whether only a
/// write can come to it.
const PROBLEMS: [(u16, &str, bool); 11] = [
    (400, "The request is malformed", false),
    (401, "Nobody is signed in", false),
    (403, "Another role or another site", false),
    (404, "There is no such thing here", false),
    (409, "Somebody else was quicker, or it is there already", true),
    (413, "More than is taken here", true),
    (415, "Another kind of body is asked for", true),
    (422, "The rules refuse it", false),
    (429, "Too many at a time", false),
    (500, "Something went wrong here", false),
    (503, "The database is away, or more is worked out than there is room for", false),
];

const DEVICE: (u16, &str, bool) = (502, "The indicator does not answer", true);

/// The document. Every operation says every problem that may come of it, in the one shape they have.
pub fn document() -> OpenApiDocument {
    let mut document = routes().split_for_parts().1;
    let schema = Ref::from_schema_name("Problem");
    let problem = |description: &str| {
        let content = ContentBuilder::new().schema(Some(schema.clone())).build();
        ResponseBuilder::new().description(description).content("application/problem+json", content).build()
    };
    let named = |status: u16| format!("Problem{status}");
    let components = document.components.get_or_insert_default();
    for (status, description, _) in PROBLEMS.iter().chain(&[DEVICE]) {
        components.responses.insert(named(*status), RefOr::T(problem(description)));
    }
    let told_there = |status: u16| RefOr::Ref(Ref::from_response_name(named(status)));
    for item in document.paths.paths.values_mut() {
        let reads = [&mut item.get].into_iter().map(|o| (o, false));
        let writes = [&mut item.post, &mut item.put, &mut item.delete].into_iter().map(|o| (o, true));
        for (operation, writes) in reads.chain(writes).filter_map(|(o, w)| Some((o.as_mut()?, w))) {
            let told = &mut operation.responses.responses;
            // 503 of the health is its own answer.
            told.retain(|status, _| status.parse::<u16>().is_ok_and(|s| s < 400 || s == 503));
            for (status, ..) in PROBLEMS.iter().filter(|(_, _, only)| writes || !only) {
                told.entry(status.to_string()).or_insert_with(|| told_there(*status));
            }
            // A device that does not answer is told by the ways that ask one.
            if writes {
                told.insert(DEVICE.0.to_string(), told_there(DEVICE.0));
            }
        }
    }
    document
}

/// Serves the document, made once.
pub async fn serve() -> impl IntoResponse {
    static MADE: LazyLock<Bytes> = LazyLock::new(|| document().to_json().unwrap_or_default().into());
    ([(header::CONTENT_TYPE, HeaderValue::from_static("application/json"))], MADE.clone())
}
