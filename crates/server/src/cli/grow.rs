//! `ombret grow`: a large workshop out of nothing, to see how the program stands it. Every journal is
//! played through the rules once and then signed anew for each scale, so that chains and frozen bytes
//! hold as those of any other job.

use std::collections::BTreeMap;

use ombret_core::assessment::Around;
use ombret_core::diagnosis::Priors;
use ombret_core::job::drafts;
use ombret_core::job::{Author, Claim, Draft, JobFile, Journal, SetupDraft, Source};
use ombret_core::journal::entries;
use ombret_core::journal::{
    Before, Body, CheckFinding, Direction, Entry, ReadStage, Signer, Silence, UsedPiece, genesis, seal,
};
use ombret_core::quantity::Unit;
use ombret_core::record::{MarkKind, RecordSummary, plain_mark, record_summary};
use ombret_core::scale::{ScaleSheet, inspection};
use ombret_core::schedule::add_months;
use ombret_core::weights::Piece;
use rand::rngs::StdRng;
use rand::{RngExt, SeedableRng};
use serde_json::{Value, json};
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::http::hash_password;
use crate::rules::PaperRules;
use crate::store::bulk::{self, BulkJob, BulkRecord, BulkScale};
use crate::store::people::{self, Person, Role};
use crate::store::records::left_behind;
use crate::store::{figures, kit};
use crate::{PROGRAM, sha256_hex};

/// How much.
#[derive(Clone, Copy, Debug)]
pub struct Size {
    /// Scales.
    pub scales: usize,
    /// Records, spread over them.
    pub records: usize,
    /// Entries, spread over the records: short jobs and long ones are mixed until they come to it.
    pub entries: usize,
    /// The same figure gives the same workshop.
    pub seed: u64,
}

/// Scales in one transaction.
const AT_A_TIME: usize = 400;
/// Sets of weights for each kind of scale, and journals for each.
const SETS: usize = 30;
/// Newest records that still wait for approval, and jobs that are open.
const WAITING: usize = 60;
const OPEN: usize = 25;
const DAYS_A_YEAR: i64 = 365;

/// What scales there are: kind, Max, d, unit, nominals of its weights.
const MODELS: [(&str, &str, &str, Unit, [&str; 3]); 6] = [
    ("floor", "1500", "0.5", Unit::Kg, ["200", "500", "1000"]),
    ("bench", "30", "0.01", Unit::Kg, ["5", "10", "20"]),
    ("counting", "6", "0.002", Unit::Kg, ["1", "2", "5"]),
    ("vehicle", "60000", "20", Unit::Kg, ["5000", "10000", "20000"]),
    ("hopper", "3000", "1", Unit::Kg, ["500", "1000", "2000"]),
    ("hanging", "600", "0.2", Unit::Kg, ["100", "200", "500"]),
];
const NAMES: [&str; 12] = [
    "Table",
    "Platform",
    "Bench",
    "Dock scale",
    "Mixer",
    "Packing line",
    "Intake",
    "Press",
    "Silo",
    "Bay scale",
    "Checkweigher",
    "Counter",
];
const TRADES: [&str; 10] = [
    "Dairy",
    "Mill",
    "Foundry",
    "Fishery",
    "Wool Store",
    "Sawmill",
    "Bakery",
    "Quarry",
    "Brewery",
    "Seed Store",
];
const PLACES: [&str; 24] = [
    "Skarholm",
    "Sellin",
    "Wrackline",
    "Tussock",
    "Kelda",
    "Norrvik",
    "Ostrand",
    "Brant Hill",
    "Fennmark",
    "Gullhaven",
    "Halvard",
    "Isle Tarn",
    "Jarnvik",
    "Korrin",
    "Lungholm",
    "Mossby",
    "Nettle Bay",
    "Orrskar",
    "Perrow",
    "Quayside",
    "Rimfell",
    "Sollen",
    "Tamsin",
    "Ulvsund",
];

/// A journal that was played through the rules, to be signed anew.
struct Played {
    entries: Vec<Entry>,
    outcome: String,
    error_chart: Value,
    before: Before,
    record_summary: RecordSummary,
    pieces: Vec<UsedPiece>,
}

/// Identities in their order: an index over them stays as small as it can.
struct Ids(u128);

impl Ids {
    fn next(&mut self) -> Uuid {
        self.0 += 1;
        Uuid::from_u128(self.0)
    }
}

/// Fills an empty database with a large workshop, in which `grown` and `grown-reviewer` sign in with the
/// password. Tells what it did.
///
/// # Errors
/// What is wrong with the database; where it is not empty.
pub async fn grow(pool: &PgPool, size: Size, password: &str) -> Result<String, Box<dyn std::error::Error>> {
    if !people::is_empty(pool).await? {
        return Err(
            "there are people in this database already; a large workshop grows in an empty one only".into()
        );
    }
    if size.scales == 0 || size.records < size.scales {
        return Err("give at least one scale, and one record for each".into());
    }
    let mut dice = StdRng::seed_from_u64(size.seed);
    let mut ids = Ids((u128::from(size.seed) << 80) | 0x0000_0000_0000_7000_8000_0000_0000_0000);
    let (workshop, people) = found(pool, password, &mut ids).await?;
    let sets = sets(&mut ids)?;
    kit::add(pool, workshop, &sets.iter().flatten().flatten().cloned().collect::<Vec<_>>()).await?;
    let now = OffsetDateTime::now_utc().replace_nanosecond(0)?;
    let mut plays = Vec::new();
    for (model, sets) in MODELS.iter().zip(&sets) {
        let mut of_model = Vec::new();
        for set in sets {
            of_model.push([
                play(model, set, &people, now, true, &mut dice)?,
                play(model, set, &people, now, false, &mut dice)?,
            ]);
        }
        plays.push(of_model);
    }
    let share = share_of_long(&plays, size);
    let mut filling = Filling {
        ids,
        dice,
        plays,
        share,
        now,
        numbers: BTreeMap::new(),
        records: 0,
        entries: 0,
        left: size.records,
    };
    let mut done = 0;
    while done < size.scales {
        let some = AT_A_TIME.min(size.scales - done);
        let (scales, jobs) = filling.some(done, some, size)?;
        bulk::store(pool, workshop, people[0].id, &scales, &jobs).await?;
        done += some;
        tracing::info!(scales = done, records = filling.records, entries = filling.entries, "growing");
    }
    let numbers: Vec<String> =
        filling.numbers.iter().map(|(year, last)| format!("{year}-{last:06}")).collect();
    bulk::settle(pool, workshop, &numbers).await?;
    Ok(format!(
        "{done} scales, {} records, {} entries, {} pieces of weight\n",
        filling.records,
        filling.entries,
        sets.iter().flatten().map(Vec::len).sum::<usize>()
    ))
}

async fn found(
    pool: &PgPool,
    password: &str,
    ids: &mut Ids,
) -> Result<(Uuid, [Signer; 2]), Box<dyn std::error::Error>> {
    let (workshop, name) = (ids.next(), "Grown Weighing Service");
    people::add_workshop(pool, workshop, name).await?;
    people::set_paper(pool, workshop, &PaperRules { review: true, ..PaperRules::default() }).await?;
    let hash = hash_password(password)?;
    let staff = [
        ("grown", "Nils Aker", vec![Role::Technician]),
        ("grown-reviewer", "Liv Sand", vec![Role::Reviewer, Role::Manager]),
    ];
    let mut signers = Vec::new();
    for (sign_in, person, roles) in staff {
        let id = ids.next();
        people::add_person(
            pool,
            &Person { id, workshop_id: workshop, workshop: name.into(), name: person.into(), roles },
            sign_in,
            &hash,
        )
        .await?;
        signers.push(Signer { id, name: person.into() });
    }
    let [technician, reviewer] = <[Signer; 2]>::try_from(signers).map_err(|_| "two people")?;
    Ok((workshop, [technician, reviewer]))
}

/// Of each model its sets, of each set its pieces.
fn sets(ids: &mut Ids) -> Result<Vec<Vec<Vec<Piece>>>, serde_json::Error> {
    let mut piece = |model: usize, set: usize, nominal: &str, unit: Unit| {
        let serial = format!("{}{set:02}-{nominal}", (b'A' + u8::try_from(model).unwrap_or(0)) as char);
        serde_json::from_value(json!({
            "id": ids.next(), "serial": serial, "nominal": {"value": nominal, "unit": unit}, "class": "M1", "form": "block", "set": format!("Set {set:02}"),
            "certificates": [{"number": format!("NML-{model}{set:02}-{nominal}"), "laboratory": "Northern Mass Laboratory", "date": "2015-01-01", "due": "2099-01-01"}]
        }))
    };
    MODELS
        .iter()
        .enumerate()
        .map(|(m, (.., unit, nominals))| {
            (0..SETS).map(|s| nominals.iter().map(|n| piece(m, s, n, *unit)).collect()).collect()
        })
        .collect()
}

fn play(
    model: &(&str, &str, &str, Unit, [&str; 3]),
    set: &[Piece],
    people: &[Signer; 2],
    now: OffsetDateTime,
    long: bool,
    dice: &mut StdRng,
) -> Result<Played, Box<dyn std::error::Error>> {
    let (kind, max, d, unit, nominals) = *model;
    let sheet: ScaleSheet = serde_json::from_value(json!({
        "id": Uuid::nil(), "name": "x", "owner": "x", "place": "", "kind": kind, "serial": "", "indicator": "Korrin P4", "plate": {"max": {"value": max, "unit": unit}, "d_min": {"value": d, "unit": unit}},
        "trade": dice.random_bool(0.4), "tolerance": {"scheme": "r76_in_service", "class": "III"}, "interval_months": 12, "field_width": 6
    }))?;
    let step: f64 = d.parse()?;
    let decimals = d.split_once('.').map_or(0, |(_, digits)| digits.len());
    // What is wrong with it: a ratio, an offset, a knee; mostly little.
    let wrong = dice.random_bool(0.2);
    let (ratio, knee) = if wrong {
        (dice.random_range(-0.0025..0.0025), dice.random_bool(0.3))
    } else {
        (dice.random_range(-0.0002..0.0002), false)
    };
    let mut shown = |load: &str, found: bool| -> String {
        let load: f64 = load.parse().unwrap_or(0.0);
        let top: f64 = nominals[2].parse().unwrap_or(1.0);
        let low = if knee && load >= top { 0.004 * load } else { 0.0 };
        let error = if found { load * ratio - low } else { 0.0 } + step * dice.random_range(-0.3..0.3);
        // Nothing from below is written as nothing, without a sign.
        format!("{:.decimals$}", ((load + error) / step).round() * step + 0.0)
    };
    let read = |stage, load: &str, shown: String, with: Vec<Uuid>, direction| {
        Draft::reading(stage, load, &shown, direction).made_of(with)
    };
    let mut drafts = Vec::new();
    if long {
        let fault = wrong && knee;
        for (at, item) in inspection(&sheet).enumerate() {
            let finding = if fault && at == 1 { CheckFinding::Fault } else { CheckFinding::Ok };
            drafts.push(Draft::LookedOver(drafts::LookedOverDraft {
                cells: String::new(),
                item: item.id.clone(),
                finding,
                note: if fault && at == 1 { "found and cleared".into() } else { String::new() },
            }));
            if finding == CheckFinding::Fault {
                drafts.push(Draft::FaultSettled(drafts::FaultSettledDraft {
                    item: item.id.clone(),
                    how: ombret_core::journal::Settlement::Repaired,
                    reason: "cleared".into(),
                }));
            }
        }
        drafts.push(Draft::ConditionsRead(drafts::ConditionsReadDraft {
            temperature: "17.5".into(),
            humidity: "48".into(),
            pressure: "1009".into(),
            note: String::new(),
            instruments: Vec::new(),
        }));
    }
    let loads: Vec<(&str, Vec<Uuid>)> = std::iter::once(("0", Vec::new()))
        .chain(nominals.iter().zip(set).map(|(n, p)| (*n, vec![p.id])))
        .collect();
    let few = if long { &loads[..] } else { &loads[2..] };
    drafts.extend(
        few.iter().map(|(load, with)| {
            read(ReadStage::AsFound, load, shown(load, true), with.clone(), Direction::Up)
        }),
    );
    if long {
        drafts.push(Draft::SetUp(SetupDraft::new(max, d, unit)));
        drafts.push(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: Source::typed("41250"),
            pad: None,
            claim: Claim::default(),
        }));
        drafts.push(Draft::SpanChosen(drafts::SpanChosenDraft {
            weight: nominals[2].into(),
            pad: None,
            with: loads[3].1.clone(),
        }));
        drafts.push(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: Source::typed("241250"),
            pad: None,
            claim: Claim::default(),
        }));
        drafts.push(Draft::AdjustmentSaved);
        drafts.extend(loads.iter().map(|(load, with)| {
            read(ReadStage::Test, load, shown(load, false), with.clone(), Direction::Up)
        }));
        drafts.push(read(
            ReadStage::Test,
            nominals[1],
            shown(nominals[1], false),
            loads[2].1.clone(),
            Direction::Down,
        ));
    }
    drafts.push(Draft::StoppedShort(drafts::StoppedShortDraft {
        reason: "a short check between two calibrations".into(),
    }));
    drafts.push(Draft::SealedUp(drafts::SealedUpDraft {
        seals: "@".into(),
        switch_back: true,
        locked: true,
    }));
    drafts.push(Draft::Closed(drafts::ClosedDraft { name: people[0].name.clone() }));
    drafts.push(Draft::Approved(drafts::ApprovedDraft { remarks: String::new() }));
    let author = |seq: u32, by: &Signer| Author {
        entry: Uuid::nil(),
        at: now + Duration::seconds(if seq == 1 { 0 } else { 45 * i64::from(seq) }),
        by: by.clone(),
    };
    let begun = Body::Started(entries::Started { sheet: Box::new(sheet), before: None });
    let mut journal = Journal::begin(Uuid::nil(), begun, author(1, &people[0]))?;
    let silent = Err(Silence::not_connected());
    let around = Around { kit: set, day: now.date(), ..Around::only(&silent) };
    for draft in drafts {
        let stops = matches!(draft, Draft::StoppedShort(_));
        let by = &people[usize::from(matches!(draft, Draft::Approved(_)))];
        let body = journal.understand(draft, &around).map_err(|r| r.message.to_string())?;
        match journal.admit(body, author(journal.state().head + 1, by)) {
            Ok(sealed) => journal.push(sealed),
            // A long job that lacks nothing has no need to stop short.
            Err(_) if stops => {}
            Err(refusal) => return Err(format!("{kind}: {}", refusal.message).into()),
        }
    }
    let (state, assessed) = (journal.state(), journal.assess());
    Ok(Played {
        outcome: figures::word(assessed.outcome)?,
        error_chart: serde_json::to_value(&assessed.error_chart)?,
        before: left_behind(state, "", now),
        record_summary: record_summary(state, &assessed, "", now, &Priors::default()),
        pieces: assessed.weights_used,
        entries: journal.entries().to_vec(),
    })
}

/// The share of long jobs with which the records come to the entries that were asked for.
fn share_of_long(plays: &[Vec<[Played; 2]>], size: Size) -> f64 {
    #[expect(clippy::cast_precision_loss, reason = "counts")]
    let mean = |which: usize| {
        let all: Vec<usize> = plays.iter().flatten().map(|p| p[which].entries.len()).collect();
        all.iter().sum::<usize>() as f64 / all.len().max(1) as f64
    };
    #[expect(clippy::cast_precision_loss, reason = "counts")]
    let wanted = size.entries as f64 / size.records as f64;
    ((wanted - mean(1)) / (mean(0) - mean(1))).clamp(0.0, 1.0)
}

struct Filling {
    ids: Ids,
    dice: StdRng,
    plays: Vec<Vec<[Played; 2]>>,
    share: f64,
    now: OffsetDateTime,
    numbers: BTreeMap<i32, u32>,
    records: usize,
    entries: usize,
    left: usize,
}

impl Filling {
    /// Some scales with their records.
    fn some(
        &mut self,
        from: usize,
        count: usize,
        size: Size,
    ) -> Result<(Vec<BulkScale>, Vec<BulkJob>), Box<dyn std::error::Error>> {
        let (mut scales, mut jobs) = (Vec::new(), Vec::new());
        for at in from..from + count {
            let (model, sheet) = self.sheet(at)?;
            let records = self.left / (size.scales - at);
            self.left -= records;
            let newest = i64::try_from(at % 430)?;
            let mut last = None;
            for back in (0..records).rev() {
                // About a year apart; the newest some days or months ago, so that a few are overdue.
                let at = self.now
                    - Duration::days(
                        newest + DAYS_A_YEAR * i64::try_from(back)? + self.dice.random_range(0..14),
                    );
                let waits = back == 0 && self.records.is_multiple_of(size.records.div_ceil(WAITING).max(1));
                let job = self.job(model, &sheet, at, !waits)?;
                last = job.record.as_ref().map(|r| {
                    (
                        r.outcome.clone(),
                        r.closed_at,
                        add_months(r.closed_at.date(), u32::from(sheet.interval_months)),
                        r.error_chart.clone(),
                    )
                });
                jobs.push(job);
            }
            if at.is_multiple_of(size.scales.div_ceil(OPEN).max(1)) {
                jobs.push(self.open_job(model, &sheet)?);
            }
            scales.push(BulkScale { sheet, last });
        }
        Ok((scales, jobs))
    }

    fn sheet(&mut self, at: usize) -> Result<(usize, ScaleSheet), serde_json::Error> {
        // Bench and floor scales are the many, the others the few.
        let model = [0, 1, 1, 1, 2, 3, 4, 5, 0, 1][self.dice.random_range(0..10)];
        let (kind, max, d, unit, _) = MODELS[model];
        let owner = self.dice.random_range(0..4000);
        let place = PLACES[owner % PLACES.len()];
        let name = NAMES[self.dice.random_range(0..NAMES.len())];
        let months = [6, 12, 12, 24][self.dice.random_range(0..4)];
        let made = self.dice.random_bool(0.7).then(|| 2000 + self.dice.random_range(0..26));
        let sheet = serde_json::from_value(json!({
            "id": self.ids.next(), "name": format!("{name} {}", self.dice.random_range(1..60)), "owner": format!("{place} {} {}", TRADES[owner / PLACES.len() % TRADES.len()], owner / (PLACES.len() * TRADES.len()) + 1),
            "place": format!("Hall {}, bay {}", self.dice.random_range(1..9), self.dice.random_range(1..20)), "kind": kind, "serial": format!("{}{at:06}", &kind[..2].to_uppercase()), "indicator": "Korrin P4", "made": made,
            "plate": {"max": {"value": max, "unit": unit}, "d_min": {"value": d, "unit": unit}}, "trade": self.dice.random_bool(0.4), "tolerance": {"scheme": "r76_in_service", "class": "III"}, "interval_months": months, "field_width": 6
        }))?;
        Ok((model, sheet))
    }

    /// Signs a played journal anew for a scale.
    fn sealed(
        &mut self,
        job: Uuid,
        entries: &[Entry],
        sheet: &ScaleSheet,
        shift: Duration,
        seals: &str,
    ) -> Result<Vec<ombret_core::journal::Sealed>, serde_json::Error> {
        let mut prev = genesis(job);
        let mut out = Vec::with_capacity(entries.len());
        for entry in entries {
            let mut entry = entry.clone();
            entry.id = self.ids.next();
            entry.at += shift;
            match &mut entry.body {
                Body::Started(entries::Started { sheet: of, .. }) => **of = sheet.clone(),
                Body::SealedUp(entries::SealedUp { seals: on, .. }) => seals.clone_into(on),
                _ => {}
            }
            let next = seal(entry, &prev)?;
            prev.clone_from(&next.hash);
            out.push(next);
        }
        Ok(out)
    }

    fn job(
        &mut self,
        model: usize,
        sheet: &ScaleSheet,
        at: OffsetDateTime,
        approved: bool,
    ) -> Result<BulkJob, Box<dyn std::error::Error>> {
        // A few sets do most of the work, as in any workshop.
        let chance: f64 = self.dice.random();
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            clippy::cast_precision_loss,
            reason = "a place in a short list"
        )]
        let set = ((chance * chance * SETS as f64) as usize).min(SETS - 1);
        let short = usize::from(!self.dice.random_bool(self.share));
        let plays = std::mem::take(&mut self.plays);
        let made = self.job_of(&plays[model][set][short], sheet, at, approved);
        self.plays = plays;
        made
    }

    fn job_of(
        &mut self,
        play: &Played,
        sheet: &ScaleSheet,
        at: OffsetDateTime,
        approved: bool,
    ) -> Result<BulkJob, Box<dyn std::error::Error>> {
        let job = self.ids.next();
        let seals = format!("GW {}", 100_000 + self.records);
        let entries = if approved { &play.entries[..] } else { &play.entries[..play.entries.len() - 1] };
        let sealed = self.sealed(job, entries, sheet, at - self.now, &seals)?;
        let closed_at = sealed
            .iter()
            .find(|s| matches!(s.entry.body, Body::Closed(_)))
            .map(|s| s.entry.at)
            .ok_or("a journal that is not closed")?;
        let approved_at = sealed.last().filter(|_| approved).map(|s| s.entry.at);
        let count = self.numbers.entry(closed_at.year()).or_default();
        *count += 1;
        let number = format!("{}-{count:06}", closed_at.year());
        self.records += 1;
        self.entries += sealed.len();
        let bulk = bulk_entries(&sealed)?;
        let head_hash = sealed.last().map(|s| s.hash.clone()).unwrap_or_default();
        let file = serde_json::to_vec_pretty(&JobFile::new(job, PROGRAM, sealed))?;
        let mut record_summary = play.record_summary.clone();
        record_summary.age =
            sheet.made.map(|made| u16::try_from(closed_at.year()).unwrap_or(made).saturating_sub(made));
        record_summary.marks =
            [(MarkKind::Number, &number), (MarkKind::Serial, &sheet.serial), (MarkKind::Seal, &seals)]
                .into_iter()
                .map(|(kind, text)| ombret_core::record::RecordMark {
                    kind,
                    text: text.clone(),
                    plain: plain_mark(text),
                })
                .collect();
        let before = Before { number: number.clone(), closed_at, ..play.before.clone() };
        let record = BulkRecord {
            sha256: sha256_hex(&file),
            file,
            number,
            outcome: play.outcome.clone(),
            before,
            closed_at,
            approved_at,
            error_chart: play.error_chart.clone(),
            record_summary,
            pieces: play.pieces.clone(),
        };
        Ok(BulkJob { job, scale: sheet.id, started_at: at, entries: bulk, head_hash, record: Some(record) })
    }

    fn open_job(&mut self, model: usize, sheet: &ScaleSheet) -> Result<BulkJob, Box<dyn std::error::Error>> {
        let job = self.ids.next();
        let begun = self.plays[model][0][0].entries[..4].to_vec();
        let started_at = self.now - Duration::hours(self.dice.random_range(1..200));
        let sealed = self.sealed(job, &begun, sheet, started_at - self.now, "")?;
        let head_hash = sealed.last().map(|s| s.hash.clone()).unwrap_or_default();
        Ok(BulkJob {
            job,
            scale: sheet.id,
            started_at,
            entries: bulk_entries(&sealed)?,
            head_hash,
            record: None,
        })
    }
}

fn bulk_entries(sealed: &[ombret_core::journal::Sealed]) -> Result<Vec<(Uuid, String)>, serde_json::Error> {
    sealed.iter().map(|s| Ok((s.entry.id, serde_json::to_string(s)?))).collect()
}
