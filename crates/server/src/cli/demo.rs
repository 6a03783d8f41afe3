//! The demo's data: an open file of people, scales and what was done on them, played through the
//! same rules as any other job, at the times that the file gives.

use std::collections::BTreeMap;
use std::path::Path;

use ombret_core::adjust::Site;
use ombret_core::assessment::Around;
use ombret_core::import::{Grid, Mapping, read_pieces};
use ombret_core::job::drafts;
use ombret_core::job::{Author, Claim, Draft, JobFile, Journal, SetupDraft, Source};
use ombret_core::journal::entries;
use ombret_core::journal::{Body, CheckFinding, Direction, ReadStage, Signer, Silence};
use ombret_core::keying::read_profile;
use ombret_core::quantity::Unit;
use ombret_core::scale::{ScaleSheet, inspection};
use ombret_core::weights::{Piece, Usable};
use serde::Deserialize;
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::PROGRAM;
use crate::http::hash_password;
use crate::live::Device;
use crate::rules::PaperRules;
use crate::signing::Keys;
use crate::store::people::{self, Person, Role};
use crate::store::profiles::{self, NewEdition};
use crate::store::{jobs, kit, scales};

#[derive(Deserialize)]
struct Demo {
    workshop: DemoWorkshop,
    people: Vec<DemoPerson>,
    scales: Vec<DemoScale>,
    /// Places where scales are adjusted or used.
    #[serde(default)]
    sites: Vec<Site>,
    /// The kit: a table beside this one.
    #[serde(default)]
    kit: Option<String>,
    /// Profiles of indicators: identity and file, beside this one.
    #[serde(default)]
    profiles: Vec<(Uuid, String)>,
}

#[derive(Deserialize)]
struct DemoWorkshop {
    id: Uuid,
    name: String,
    /// What stands on its paper.
    #[serde(default)]
    paper: PaperRules,
}

#[derive(Deserialize)]
struct DemoPerson {
    id: Uuid,
    sign_in: String,
    password: String,
    name: String,
    roles: Vec<Role>,
}

#[derive(Deserialize)]
struct DemoScale {
    sheet: ScaleSheet,
    #[serde(default)]
    practice: bool,
    #[serde(default)]
    visits: Vec<Visit>,
}

/// A visit in short: what was found, what was done, what was left.
#[derive(Deserialize)]
struct Visit {
    job: Uuid,
    days_ago: i64,
    by: usize,
    #[serde(default)]
    faults: Vec<(String, String, String)>,
    unit: Unit,
    max: String,
    d: String,
    #[serde(default)]
    found: Vec<(String, String)>,
    #[serde(default)]
    adjust: Option<DemoAdjust>,
    #[serde(default)]
    left_alone: Option<String>,
    #[serde(default)]
    left: Vec<(String, String)>,
    #[serde(default)]
    down: Vec<(String, String)>,
    #[serde(default)]
    seals: String,
    #[serde(default)]
    remark: Option<String>,
    #[serde(default)]
    open: bool,
    /// What was around it: °C, % and hPa.
    #[serde(default)]
    conditions: Option<(String, String, String)>,
    /// Of which pieces a load was made: its text, and their serials.
    #[serde(default)]
    kit: BTreeMap<String, Vec<String>>,
    /// Who approved it.
    #[serde(default)]
    approved_by: Option<usize>,
}

#[derive(Deserialize)]
struct DemoAdjust {
    weight: String,
    zero: String,
    span: String,
}

/// Loads the demo into an empty database, as if it were `now`; one that has people is left alone.
///
/// # Errors
/// What is wrong with the file or the database.
pub async fn load_demo(
    pool: &PgPool,
    file: &Path,
    lines: &str,
    hands: &str,
    keys: &Keys,
    now: OffsetDateTime,
) -> Result<(), Box<dyn std::error::Error>> {
    if !people::is_empty(pool).await? {
        return Ok(());
    }
    let demo: Demo = serde_json::from_slice(&std::fs::read(file)?)?;
    people::add_workshop(pool, demo.workshop.id, &demo.workshop.name).await?;
    people::set_paper(pool, demo.workshop.id, &demo.workshop.paper).await?;
    let mut staff = Vec::new();
    let mut pieces = Vec::new();
    for p in &demo.people {
        let person = Person {
            id: p.id,
            workshop_id: demo.workshop.id,
            workshop: demo.workshop.name.clone(),
            name: p.name.clone(),
            roles: p.roles.clone(),
        };
        people::add_person(pool, &person, &p.sign_in, &hash_password(&p.password)?).await?;
        staff.push(Signer { id: p.id, name: p.name.clone() });
    }
    for site in &demo.sites {
        profiles::keep_site(pool, demo.workshop.id, site).await?;
    }
    let folder = file.parent().unwrap_or(Path::new("."));
    for (id, name) in &demo.profiles {
        let text = std::fs::read_to_string(folder.join(name))?;
        let profile = read_profile(&text).map_err(|problems| format!("{name}: {problems:?}"))?;
        let by = staff.first().map_or("", |s| s.name.as_str());
        let new = NewEdition { id: *id, name: &profile.name, about: &profile.about, text: &text, by };
        profiles::write(pool, demo.workshop.id, &new, 0).await?;
    }
    if let Some(name) = &demo.kit {
        let text = std::fs::read_to_string(folder.join(name))?;
        let today = now.date();
        let mut next = demo.workshop.id.as_u128() + (0x0600 << 80);
        let mut ids = || {
            next += 1;
            Uuid::from_u128(next)
        };
        let grid = Grid::of_text(&text).map_err(|r| r.message.to_string())?;
        let read = read_pieces(&grid, &Mapping::default(), Unit::Kg, today, &|_| false, &mut ids);
        if !read.looked.errors.is_empty() {
            return Err(format!("{name}: {:?}", read.looked.errors).into());
        }
        kit::add(pool, demo.workshop.id, &read.items).await?;
        pieces = read.items;
    }
    for scale in &demo.scales {
        scale.sheet.check().map_err(|refusal| format!("{}: {}", scale.sheet.name, refusal.message))?;
        let device = scale.practice.then(|| Device {
            address: lines.into(),
            pattern: Default::default(),
            hands: Some(hands.into()),
        });
        scales::add(pool, demo.workshop.id, &scale.sheet, device.as_ref()).await?;
        for visit in &scale.visits {
            let before = scales::before(pool, scale.sheet.id).await?;
            let by = staff.get(visit.by).ok_or("a visit by nobody")?;
            let start = now - Duration::days(visit.days_ago);
            let by = (by, visit.approved_by.and_then(|i| staff.get(i)));
            let file = play(&scale.sheet, before, visit, by, start, &pieces)
                .map_err(|e| format!("{} {} days ago: {e}", scale.sheet.name, visit.days_ago))?;
            jobs::store_own(pool, demo.workshop.id, scale.sheet.id, &file, keys).await?;
        }
    }
    Ok(())
}

fn play(
    sheet: &ScaleSheet,
    before: Option<ombret_core::journal::Before>,
    visit: &Visit,
    (by, approver): (&Signer, Option<&Signer>),
    start: OffsetDateTime,
    kit: &[Piece],
) -> Result<JobFile, String> {
    // Whole seconds, half a minute apart; the identities follow from the job's.
    let author = |seq: u32, by: &Signer| Author {
        entry: Uuid::from_u128(visit.job.as_u128() + u128::from(seq)),
        at: (start + Duration::seconds(40 * i64::from(seq))).replace_nanosecond(0).unwrap_or(start),
        by: by.clone(),
    };
    let begun =
        Body::Started(entries::Started { sheet: Box::new(sheet.clone()), before: before.map(Box::new) });
    let mut journal = Journal::begin(visit.job, begun, author(1, by)).map_err(|e| e.to_string())?;
    let silent = Err(Silence::not_connected());
    let around = Around { kit, day: start.date(), ..Around::only(&silent) };
    let fit = |serial: &String| {
        kit.iter()
            .find(|p| p.serial == *serial && matches!(p.usable(start.date()), Usable::Yes { .. }))
            .map(|p| p.id)
    };
    for draft in drafts(sheet, visit, by, &fit) {
        let reviews = matches!(draft, Draft::Approved(_) | Draft::SentBack(_));
        let by = approver.filter(|_| reviews).unwrap_or(by);
        journal
            .append(draft, &around, author(journal.state().head + 1, by))
            .map_err(|r| r.message.to_string())?;
    }
    let sealed = journal.sealed_after(0);
    Ok(JobFile::new(visit.job, PROGRAM, sealed))
}

fn drafts(
    sheet: &ScaleSheet,
    visit: &Visit,
    by: &Signer,
    fit: &dyn Fn(&String) -> Option<Uuid>,
) -> Vec<Draft> {
    let mut out = Vec::new();
    // Pieces that were not fit on that day are not named: the demo grows old, its certificates do not.
    let made_of = |load: &String| {
        visit
            .kit
            .get(load)
            .and_then(|serials| serials.iter().map(fit).collect::<Option<Vec<Uuid>>>())
            .unwrap_or_default()
    };
    for item in inspection(sheet) {
        let fault = visit.faults.iter().find(|(id, _, _)| *id == item.id);
        let finding = if fault.is_some() { CheckFinding::Fault } else { CheckFinding::Ok };
        out.push(Draft::LookedOver(drafts::LookedOverDraft {
            item: item.id.clone(),
            finding,
            note: fault.map_or_else(String::new, |(_, note, _)| note.clone()),
            cells: String::new(),
        }));
        if let Some((_, _, repair)) = fault {
            out.push(Draft::FaultSettled(drafts::FaultSettledDraft {
                item: item.id.clone(),
                how: ombret_core::journal::Settlement::Repaired,
                reason: repair.clone(),
            }));
        }
    }
    let readings = |stage, list: &[(String, String)], direction: Direction| -> Vec<Draft> {
        list.iter()
            .map(|(load, shown)| Draft::reading(stage, load, shown, direction).made_of(made_of(load)))
            .collect()
    };
    if let Some((temperature, humidity, pressure)) = visit.conditions.clone() {
        out.push(Draft::ConditionsRead(drafts::ConditionsReadDraft {
            temperature,
            humidity,
            pressure,
            note: String::new(),
            instruments: Vec::new(),
        }));
    }
    out.extend(readings(ReadStage::AsFound, &visit.found, Direction::Up));
    if let Some(adjust) = &visit.adjust {
        out.push(Draft::SetUp(SetupDraft::new(&visit.max, &visit.d, visit.unit)));
        out.push(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: Source::typed(&adjust.zero),
            pad: None,
            claim: Claim::default(),
        }));
        out.push(Draft::SpanChosen(drafts::SpanChosenDraft {
            weight: adjust.weight.clone(),
            pad: None,
            with: made_of(&adjust.weight),
        }));
        out.push(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: Source::typed(&adjust.span),
            pad: None,
            claim: Claim::default(),
        }));
        out.push(Draft::AdjustmentSaved);
    }
    if let Some(reason) = &visit.left_alone {
        out.push(Draft::LeftAlone(drafts::LeftAloneDraft { reason: reason.clone(), pad: None }));
    }
    out.extend(readings(ReadStage::Test, &visit.left, Direction::Up));
    out.extend(readings(ReadStage::Test, &visit.down, Direction::Down));
    if let Some(text) = &visit.remark {
        out.push(Draft::Remarked(drafts::RemarkedDraft { text: text.clone() }));
    }
    if !visit.open {
        out.push(Draft::SealedUp(drafts::SealedUpDraft {
            seals: visit.seals.clone(),
            switch_back: true,
            locked: true,
        }));
        out.push(Draft::Closed(drafts::ClosedDraft { name: by.name.clone() }));
        if visit.approved_by.is_some() {
            out.push(Draft::Approved(drafts::ApprovedDraft { remarks: String::new() }));
        }
    }
    out
}
