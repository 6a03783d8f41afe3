//! The core away from the server: in the page, in a worker, without a network. A question as JSON comes in, an
//! answer as JSON goes out; what is asked is answered by the same functions that the server calls.

mod ask;
mod port;

use std::collections::BTreeMap;

use serde::Serialize;
use serde_json::json;
use time::Date;
use uuid::Uuid;

use self::ask::{Ask, AskEntry, Workshop};
use self::port::Port;
use crate::answers::{NotTaken, judged_setup, judgement_of, keying_of, next_entry, plan_of};
use crate::assessment::{Around, Assessment, circumstances};
use crate::job::{Author, JobFile, Journal};
use crate::journal::entries;
use crate::journal::{Body, Heard, Needs, Sealed, Silence, media_of};
use crate::keying::learn::learn_whole;
use crate::keying::{Machine, Profile, look_up, read_profile};
use crate::questions;
use crate::refusal::Refusal;
use crate::weights::plan_check;
use crate::wording::Text;

/// What is kept between two questions: the jobs at hand, what the workshop brings to them, and the ports that are
/// being read.
#[derive(Default)]
pub struct Offline {
    workshop: Workshop,
    jobs: BTreeMap<Uuid, Journal>,
    ports: BTreeMap<String, Port>,
}

/// Why there is no answer.
enum No {
    /// Nothing of this name is at hand.
    Unknown(&'static str),
    /// The job has moved on, as the server would say it.
    Stale { head: u32, newer: Vec<Sealed> },
    /// It is for somebody with another role.
    WrongRole,
    /// The rules refuse it.
    Refused(Refusal),
    /// The question itself is broken.
    Broken(String),
}

impl From<Refusal> for No {
    fn from(refusal: Refusal) -> Self {
        Self::Refused(refusal)
    }
}

impl From<NotTaken> for No {
    fn from(not_taken: NotTaken) -> Self {
        match not_taken {
            NotTaken::WrongRole => Self::WrongRole,
            NotTaken::Refused(refusal) => Self::Refused(refusal),
        }
    }
}

/// What came of an entry.
#[derive(Serialize)]
struct Entered {
    /// The entry as it is stored.
    sealed: Sealed,
    /// How it was understood.
    understood: Body,
    /// The job with it.
    assessment: Assessment,
}

/// An answer as it is written: at once, for an assessment is long.
fn as_json(value: impl Serialize) -> Result<String, No> {
    let text = serde_json::to_string(&value).map_err(|e| No::Broken(e.to_string()))?;
    Ok(format!("{{\"ok\":{text}}}"))
}

impl Offline {
    /// Answers a question in JSON: `{"ok": …}`, or `refused`, `stale`, `wrong_role`, `unknown` or `broken`.
    pub fn answer(&mut self, asked: &str) -> String {
        let answer = match serde_json::from_str::<Ask>(asked) {
            // A worked case is answered in its own shape.
            Ok(Ask::Work { line }) => return questions::answer(&line),
            Ok(ask) => self.work(ask),
            Err(error) => Err(No::Broken(error.to_string())),
        };
        let out = match answer {
            Ok(text) => return text,
            Err(No::Unknown(what)) => json!({ "unknown": what }),
            Err(No::Stale { head, newer }) => json!({ "stale": { "head": head, "newer": newer } }),
            Err(No::WrongRole) => json!({ "wrong_role": true }),
            Err(No::Refused(refusal)) => json!({ "refused": refusal }),
            Err(No::Broken(why)) => json!({ "broken": why }),
        };
        out.to_string()
    }

    fn job(&self, id: Uuid) -> Result<&Journal, No> {
        self.jobs.get(&id).ok_or(No::Unknown("job"))
    }

    fn port(&mut self, name: &str) -> Result<&mut Port, No> {
        self.ports.get_mut(name).ok_or(No::Unknown("port"))
    }

    /// The profile by which a job's scale is keyed.
    fn profile(&self, journal: &Journal) -> Option<Profile> {
        let of = journal.state().sheet.profile.as_ref()?;
        read_profile(self.workshop.profiles.get(&of.id)?).ok()
    }

    fn heard(&self, journal: &Journal, port: Option<&str>, now_s: f64) -> Heard {
        let port = port.and_then(|name| self.ports.get(name)).ok_or_else(Silence::not_connected)?;
        port.observe(journal.state().setup_in_force().0, now_s)
    }

    fn work(&mut self, ask: Ask) -> Result<String, No> {
        match ask {
            Ask::Work { line } => as_json(questions::answer(&line)),
            Ask::Workshop(workshop) => {
                self.workshop = *workshop;
                as_json(())
            }
            Ask::Open { job, entries } => {
                let journal = Journal::of(job, entries).map_err(|e| No::Broken(e.to_string()))?;
                let assessment = journal.assess();
                self.jobs.insert(job, journal);
                as_json(assessment)
            }
            Ask::Follow { job, entries } => {
                let journal = self.jobs.get_mut(&job).ok_or(No::Unknown("job"))?;
                for sealed in entries {
                    // What is known already is passed over; what does not follow is not taken.
                    if sealed.entry.seq <= journal.state().head {
                        continue;
                    }
                    if sealed.prev != journal.head() {
                        return Err(No::Stale { head: journal.state().head, newer: Vec::new() });
                    }
                    journal.push(sealed);
                }
                as_json(json!({ "head": journal.state().head }))
            }
            Ask::Leave { job } => {
                self.jobs.remove(&job);
                as_json(())
            }
            Ask::Begin { job, author, sheet, before } => {
                let start = Body::Started(entries::Started { sheet, before });
                let journal =
                    Journal::begin(job, start, author.into()).map_err(|e| No::Broken(e.to_string()))?;
                let (sealed, assessment) = (journal.sealed_after(0), journal.assess());
                self.jobs.insert(job, journal);
                as_json(json!({ "sealed": sealed, "assessment": assessment }))
            }
            Ask::Enter(asked) => self.enter(*asked),
            Ask::Assess { job } => as_json(self.job(job)?.assess()),
            Ask::Entries { job, after } => as_json(self.job(job)?.sealed_after(after)),
            Ask::Judge { job, question } => {
                let journal = self.job(job)?;
                as_json(judged_setup(journal.state(), &question, self.profile(journal).as_ref())?)
            }
            Ask::Diagnosis { job, stage } => {
                let w = &self.workshop;
                as_json(judgement_of(self.job(job)?, stage, &w.pieces, &w.priors, w.leave_inside))
            }
            Ask::Plan { job, at, question } => {
                let (w, state) = (&self.workshop, self.job(job)?.state());
                as_json(plan_of(state, question, &w.pieces, w.span_weight_rule, at.date(), &plan_check))
            }
            Ask::Keying { job, question } => {
                let journal = self.job(job)?;
                let profile = self.profile(journal).ok_or(No::Unknown("profile"))?;
                as_json(keying_of(journal.state(), profile, &question)?)
            }
            Ask::Messages { job, question, port, now_s } => {
                let journal = self.job(job)?;
                let profile = self.profile(journal).ok_or(No::Unknown("profile"))?;
                let moving = self.heard(journal, port.as_deref(), now_s).is_ok_and(|o| !o.steady);
                as_json(look_up(&profile, &question.shown, &circumstances(journal.state(), moving)))
            }
            Ask::Learn { session } => {
                session.check()?;
                let (learnt, draft) = learn_whole(&session);
                as_json(json!({ "learnt": learnt, "draft": draft }))
            }
            Ask::Machine { text, acts } => {
                let profile = read_profile(&text).map_err(|_| No::Unknown("profile"))?;
                let mut machine = Machine::new(&profile, profile.untouched());
                acts.iter().for_each(|act| machine.act(act));
                as_json(machine.view())
            }
            Ask::Media { size, head } => as_json(media_of(size, &head)?),
            Ask::File { job, program } => {
                let journal = self.job(job)?;
                as_json(JobFile::new(job, &program, journal.sealed_after(0)))
            }
            Ask::PortOpen { port, pattern } => {
                let opened = Port::new(pattern.unwrap_or_default())
                    .map_err(|says| Refusal::from(Refused::BadDevice { says }))?;
                self.ports.insert(port, opened);
                as_json(())
            }
            Ask::PortHeard { port, text, at_s } => {
                self.port(&port)?.heard(&text, at_s);
                as_json(())
            }
            Ask::PortLost { port, why } => {
                self.port(&port)?.lost(why);
                as_json(())
            }
            Ask::PortClose { port } => {
                self.ports.remove(&port);
                as_json(())
            }
            Ask::PortView { port, job, now_s } => {
                let setup = self.job(job)?.state().setup_in_force().0;
                as_json(self.port(&port)?.view(&setup, now_s))
            }
        }
    }

    fn enter(&mut self, asked: AskEntry) -> Result<String, No> {
        let journal = self.job(asked.job)?;
        if let Some(there) =
            journal.entries().iter().rev().find(|e| e.id == asked.author.entry).filter(|_| !asked.try_only)
        {
            let sealed = journal.sealed_after(there.seq - 1).into_iter().next();
            return as_json(
                json!({ "sealed": sealed, "understood": there.body, "assessment": journal.assess() }),
            );
        }
        let state = journal.state();
        if state.head != asked.after {
            return Err(No::Stale { head: state.head, newer: journal.sealed_after(asked.after) });
        }
        let live = self.heard(journal, asked.port.as_deref(), asked.now_s);
        let (day, w) = (asked.author.at.date(), &self.workshop);
        let around = around(w, &live, day, asked.number.as_deref(), state.sheet.practice);
        let may = |needs: Needs| asked.roles.iter().any(|role| role == needs.role());
        let sealed = next_entry(journal, &asked.draft, &around, Author::from(asked.author), may)?;
        if sealed.entry.body.needs() == Needs::Reviewer {
            // A record is approved with the number and the signature that only the server gives.
            return Err(Refusal::from(Refused::NotHere).into());
        }
        let understood = sealed.entry.body.clone();
        let assessment = if asked.try_only {
            let mut journal = journal.clone();
            journal.push(sealed.clone());
            journal.assess()
        } else {
            let journal = self.jobs.get_mut(&asked.job).ok_or(No::Unknown("job"))?;
            journal.push(sealed.clone());
            journal.assess()
        };
        as_json(Entered { sealed, understood, assessment })
    }
}

fn around<'a>(
    workshop: &'a Workshop,
    live: &'a Heard,
    day: Date,
    number: Option<&'a str>,
    practice: bool,
) -> Around<'a> {
    Around {
        live,
        kit: &workshop.pieces,
        span_weight_rule: workshop.span_weight_rule,
        day,
        number,
        approval: workshop.approval.filter(|_| !practice),
        instruments: &workshop.instruments,
    }
}

crate::refusals! {
    enum Refused {
        BadDevice { says: Text } = "bad_device": says;
        NotHere = "not_here": text!("home-approved-at-home");
    }
}
