//! A journal under test, shared by the tests of the job: the same steps as the server, without it.

use ombret_core::Refusal;
use ombret_core::assessment::{Around, Assessment, assess};
use ombret_core::job::drafts;
use ombret_core::job::{Claim, Draft, JobFile, SetupDraft, Source, decide, interpret};
use ombret_core::journal::entries;
use ombret_core::journal::{
    Body, CheckFinding, Direction, Entry, Heard, JobState, ReadStage, Sealed, Signer, Silence, fold, genesis,
    seal,
};
use ombret_core::quantity::Unit;
use ombret_core::scale::{ScaleSheet, SheetForm, checklist};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

/// The wool table as it is typed, with some fields otherwise.
pub fn sheet(other: Value) -> ScaleSheet {
    let mut form = json!({
        "id": Uuid::from_u128(1), "name": "Wool table", "owner": "Tussock Wool Store", "place": "Grading floor", "kind": "floor", "serial": "WT-07",
        "indicator": "Panel 4", "unit": "kg", "plate_max": "870", "plate_d": "0.2", "trade": true,
        "tolerance": {"scheme": "r76_in_service", "class": "III"}, "interval_months": 12, "field_width": 6
    });
    form.as_object_mut().unwrap().extend(other.as_object().unwrap().clone());
    serde_json::from_value::<SheetForm>(form).unwrap().read().unwrap()
}

/// A journal under test: the same steps as the server, without the server.
pub struct Journal {
    pub entries: Vec<Entry>,
}

impl Journal {
    pub fn begin() -> Self {
        Self::on(sheet(json!({})))
    }

    pub fn on(sheet: ScaleSheet) -> Self {
        let mut journal = Self { entries: Vec::new() };
        journal.push(Body::Started(entries::Started { sheet: Box::new(sheet), before: None }));
        journal
    }

    /// Looked over, set up and adjusted at 600 kg.
    pub fn adjusted(sheet: ScaleSheet) -> Self {
        let mut journal = Self::on(sheet);
        journal.inspection();
        journal.set_up();
        journal.adjust();
        journal
    }

    pub fn push(&mut self, body: Body) {
        let seq = u32::try_from(self.entries.len()).unwrap() + 1;
        let by = Signer { id: Uuid::from_u128(9), name: "Ebba Lund".into() };
        let at = OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(i64::from(seq));
        self.entries.push(Entry { id: Uuid::from_u128(100 + u128::from(seq)), seq, at, by, body });
    }

    pub fn state(&self) -> JobState {
        fold(&self.entries).unwrap()
    }

    pub fn assessed(&self) -> Assessment {
        assess(&self.entries, &self.state())
    }

    pub fn try_live(&mut self, draft: Draft, live: &Heard) -> Result<Uuid, Refusal> {
        let body = interpret(&self.state(), draft, &Around::only(live))?;
        decide(&self.entries, &self.state(), &body)?;
        self.push(body);
        Ok(self.entries.last().unwrap().id)
    }

    pub fn add(&mut self, draft: Draft) -> Result<Uuid, Refusal> {
        self.try_live(draft, &Err(Silence::not_connected()))
    }

    pub fn ok(&mut self, draft: Draft) -> Uuid {
        let shown = format!("{draft:?}");
        self.add(draft).unwrap_or_else(|refusal| panic!("{shown}: {refusal:?}"))
    }

    pub fn refused(&mut self, draft: Draft) -> String {
        let before = self.entries.len();
        let code = self.add(draft).unwrap_err().code;
        assert_eq!(self.entries.len(), before);
        code
    }

    pub fn inspection(&mut self) {
        for item in checklist(self.state().sheet.kind) {
            self.ok(Draft::LookedOver(drafts::LookedOverDraft {
                item: item.id.clone(),
                finding: CheckFinding::Ok,
                note: String::new(),
                cells: String::new(),
            }));
        }
    }

    pub fn set_up(&mut self) {
        self.ok(set_up("870", "0.2"));
    }

    pub fn adjust(&mut self) {
        self.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: typed("41250"),
            pad: None,
            claim: Claim::default(),
        }));
        self.ok(Draft::SpanChosen(drafts::SpanChosenDraft {
            weight: "600".into(),
            pad: None,
            with: Vec::new(),
        }));
        self.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: typed("241250"),
            pad: None,
            claim: Claim::default(),
        }));
        self.ok(Draft::AdjustmentSaved);
    }

    pub fn prove(&mut self, readings: &[(&str, &str, Direction)]) {
        for (load, shown, direction) in readings {
            self.ok(read(ReadStage::Test, load, shown, *direction));
        }
    }

    pub fn file(&self, job: Uuid) -> JobFile {
        let mut prev = genesis(job);
        let sealed: Vec<Sealed> = self
            .entries
            .iter()
            .map(|entry| {
                let sealed = seal(entry.clone(), &prev).unwrap();
                prev.clone_from(&sealed.hash);
                sealed
            })
            .collect();
        JobFile::new(job, "ombret test", sealed)
    }
}

pub fn typed(text: &str) -> Source {
    Source::typed(text)
}

pub fn set_up(max: &str, d: &str) -> Draft {
    Draft::SetUp(SetupDraft::new(max, d, Unit::Kg))
}

pub fn read(stage: ReadStage, load: &str, shown: &str, direction: Direction) -> Draft {
    Draft::reading(stage, load, shown, direction)
}
