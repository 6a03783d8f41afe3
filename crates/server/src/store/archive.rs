//! Everything of a workshop, for its archive: read in one snapshot, written in one transaction.

use ombret_core::assessment::{Assessment, assess};
use ombret_core::customer::Customer;
use ombret_core::job::{JobFile, open_file};
use ombret_core::journal::{Entry, JobState};
use ombret_core::weights::{Instrument, Piece};
use sqlx::{PgPool, Postgres, Transaction};
use time::OffsetDateTime;
use uuid::Uuid;

use super::beside::FileOf;
use super::people::{Person, Role};
use super::records::{self, FrozenRow};
use super::{StoreError, audit, jobs};
use crate::archive::{
    CertificatePart, EditionPart, FilePart, JobPart, ProfilePart, RecordPart, ScalePart, WorkshopPart,
};
use crate::live::Device;
use crate::rules::{JudgementRules, PaperRules};

/// A workshop seen at one moment.
pub struct Snapshot {
    tx: Transaction<'static, Postgres>,
    workshop: Uuid,
}

/// A job with everything that was frozen of it.
pub struct WholeJob {
    /// Its identity.
    pub id: Uuid,
    /// Its entries as text.
    pub entries: Vec<String>,
    /// The rest of it.
    pub about: JobPart,
    /// The bytes of its records.
    pub records: Vec<Vec<u8>>,
}

impl Snapshot {
    /// Takes one.
    pub async fn take(pool: &PgPool, workshop: Uuid) -> Result<Self, StoreError> {
        let mut tx = pool.begin().await?;
        sqlx::query("set transaction isolation level repeatable read, read only").execute(&mut *tx).await?;
        Ok(Self { tx, workshop })
    }

    /// What is the workshop's own.
    pub async fn workshop(&mut self) -> Result<WorkshopPart, StoreError> {
        let row = sqlx::query!("select name, paper, review, customer_signs, priors, leave_inside, school, own_classes from workshop where id = $1", self.workshop).fetch_one(&mut *self.tx).await?;
        let sites = sqlx::query!(
            "select name, latitude, altitude_m from site where workshop_id = $1 order by name",
            self.workshop
        )
        .fetch_all(&mut *self.tx)
        .await?;
        let lessons =
            sqlx::query!("select id, text from lesson where workshop_id = $1 order by id", self.workshop)
                .fetch_all(&mut *self.tx)
                .await?;
        let site = |r: (String, String, String)| super::profiles::site_of(r.0, &r.1, &r.2);
        Ok(WorkshopPart {
            name: row.name,
            paper: PaperRules {
                letterhead: serde_json::from_value(row.paper)?,
                review: row.review,
                customer_signs: row.customer_signs,
            },
            judgement: JudgementRules {
                priors: serde_json::from_value(row.priors)?,
                leave_inside: row.leave_inside,
            },
            school: row.school,
            own_classes: serde_json::from_value(row.own_classes)?,
            sites: sites
                .into_iter()
                .map(|s| site((s.name, s.latitude, s.altitude_m)))
                .collect::<Result<_, _>>()?,
            lessons: lessons.into_iter().map(|l| (l.id, l.text)).collect(),
        })
    }

    /// Its scales.
    pub async fn scales(&mut self) -> Result<Vec<ScalePart>, StoreError> {
        let rows = sqlx::query!(
            "select sheet, device from scale where workshop_id = $1 and not practice order by id",
            self.workshop
        )
        .fetch_all(&mut *self.tx)
        .await?;
        rows.into_iter()
            .map(|r| {
                Ok(ScalePart {
                    sheet: serde_json::from_value(r.sheet)?,
                    device: r.device.map(serde_json::from_value).transpose()?,
                })
            })
            .collect()
    }

    /// Its weights.
    pub async fn kit(&mut self) -> Result<Vec<Piece>, StoreError> {
        let rows =
            sqlx::query_scalar!("select piece from piece where workshop_id = $1 order by id", self.workshop)
                .fetch_all(&mut *self.tx)
                .await?;
        Ok(rows.into_iter().map(serde_json::from_value).collect::<Result<_, _>>()?)
    }

    /// Which files their certificates have.
    pub async fn certificates(&mut self) -> Result<Vec<CertificatePart>, StoreError> {
        let rows = sqlx::query!("select piece_id, number, name from certificate_file where workshop_id = $1 order by piece_id, number", self.workshop).fetch_all(&mut *self.tx).await?;
        let part = |n: usize| format!("certificates/{n:05}");
        let parts = rows.into_iter().enumerate();
        Ok(parts
            .map(|(n, r)| CertificatePart {
                piece: r.piece_id,
                number: r.number,
                name: r.name,
                part: part(n),
            })
            .collect())
    }

    /// One of these files.
    pub async fn certificate(&mut self, part: &CertificatePart) -> Result<Vec<u8>, StoreError> {
        Ok(sqlx::query_scalar!(
            "select bytes from certificate_file where piece_id = $1 and number = $2 and workshop_id = $3",
            part.piece,
            part.number,
            self.workshop
        )
        .fetch_one(&mut *self.tx)
        .await?)
    }

    /// Its profiles.
    pub async fn profiles(&mut self) -> Result<Vec<ProfilePart>, StoreError> {
        let rows = sqlx::query!(
            "select id, name, about from profile where workshop_id = $1 order by id",
            self.workshop
        )
        .fetch_all(&mut *self.tx)
        .await?;
        let mut out = Vec::with_capacity(rows.len());
        for r in rows {
            let editions = sqlx::query_as!(EditionPart, "select edition, text, changed_by, changed_at from profile_edition where profile_id = $1 order by edition", r.id).fetch_all(&mut *self.tx).await?;
            out.push(ProfilePart { id: r.id, name: r.name, about: r.about, editions });
        }
        Ok(out)
    }

    /// Its customers.
    pub async fn customers(&mut self) -> Result<Vec<Customer>, StoreError> {
        let rows = sqlx::query_scalar!(
            "select details from customer where workshop_id = $1 order by id",
            self.workshop
        )
        .fetch_all(&mut *self.tx)
        .await?;
        Ok(rows.into_iter().map(serde_json::from_value).collect::<Result<_, _>>()?)
    }

    /// Its instruments.
    pub async fn instruments(&mut self) -> Result<Vec<Instrument>, StoreError> {
        let rows = sqlx::query_scalar!(
            "select details from instrument where workshop_id = $1 order by id",
            self.workshop
        )
        .fetch_all(&mut *self.tx)
        .await?;
        Ok(rows.into_iter().map(serde_json::from_value).collect::<Result<_, _>>()?)
    }

    /// Its photographs and files, without their bytes; those of practice stay here.
    pub async fn files(&mut self) -> Result<Vec<FilePart>, StoreError> {
        let rows = sqlx::query!(
            "select f.id, f.scale_id, f.job_id, f.piece_id, f.name, f.media, f.caption, f.sha256, f.size, f.by_name, f.made_at
             from file f left join job j on j.id = f.job_id left join scale s on s.id = coalesce(f.scale_id, j.scale_id)
             where f.workshop_id = $1 and not coalesce(s.practice, false) order by f.id",
            self.workshop
        )
        .fetch_all(&mut *self.tx)
        .await?;
        Ok(rows
            .into_iter()
            .filter_map(|r| {
                let (of, of_id) = match (r.scale_id, r.job_id, r.piece_id) {
                    (Some(id), ..) => (FileOf::Scale, id),
                    (_, Some(id), _) => (FileOf::Job, id),
                    (.., id) => (FileOf::Piece, id?),
                };
                Some(FilePart {
                    id: r.id,
                    of,
                    of_id,
                    name: r.name,
                    media: r.media,
                    caption: r.caption,
                    sha256: r.sha256,
                    size: r.size,
                    by: r.by_name,
                    made_at: r.made_at,
                })
            })
            .collect())
    }

    /// The bytes of one.
    pub async fn file(&mut self, id: Uuid) -> Result<Vec<u8>, StoreError> {
        Ok(sqlx::query_scalar!(
            "select bytes from file where id = $1 and workshop_id = $2",
            id,
            self.workshop
        )
        .fetch_one(&mut *self.tx)
        .await?)
    }

    /// How many jobs there are.
    pub async fn jobs(&mut self) -> Result<i64, StoreError> {
        let count = sqlx::query_scalar!(
            r#"select count(*) as "count!" from job j join scale s on s.id = j.scale_id where j.workshop_id = $1 and not s.practice"#,
            self.workshop
        );
        Ok(count.fetch_one(&mut *self.tx).await?)
    }

    /// Jobs after this one, in the order of their identity.
    pub async fn jobs_after(&mut self, after: Uuid, limit: i64) -> Result<Vec<WholeJob>, StoreError> {
        let rows = sqlx::query!(
            r#"select j.id, j.scale_id, j.imported, array(select e.sealed from entry e where e.job_id = j.id order by e.seq) as "entries!"
               from job j join scale s on s.id = j.scale_id where j.workshop_id = $1 and not s.practice and j.id > $2 order by j.id limit $3"#,
            self.workshop,
            after,
            limit
        );
        let rows = rows.fetch_all(&mut *self.tx).await?;
        let mut out = Vec::with_capacity(rows.len());
        for r in rows {
            let kept = sqlx::query!("select seq, version, number, sha256, program, rules, file from record where job_id = $1 order by seq", r.id).fetch_all(&mut *self.tx).await?;
            let (parts, files) = kept
                .into_iter()
                .map(|k| {
                    (
                        RecordPart {
                            seq: k.seq,
                            version: k.version,
                            number: k.number,
                            sha256: k.sha256,
                            program: k.program,
                            rules: k.rules,
                        },
                        k.file,
                    )
                })
                .unzip();
            out.push(WholeJob {
                id: r.id,
                entries: r.entries,
                about: JobPart { scale: r.scale_id, imported: r.imported, records: parts },
                records: files,
            });
        }
        Ok(out)
    }
}

/// A workshop being filled: all of it, or nothing.
pub struct Filling {
    tx: Transaction<'static, Postgres>,
    workshop: Uuid,
}

impl Filling {
    /// Begins; none where the workshop has scales or weights already.
    pub async fn begin(pool: &PgPool, workshop: Uuid) -> Result<Option<Self>, StoreError> {
        let mut tx = pool.begin().await?;
        // Held to the end, so that nobody adds a scale meanwhile to the workshop that was found empty.
        sqlx::query!("select id from workshop where id = $1 for update", workshop)
            .fetch_one(&mut *tx)
            .await?;
        let used = sqlx::query_scalar!(
            r#"select exists (select 1 from scale where workshop_id = $1 and not practice) or exists (select 1 from piece where workshop_id = $1) or exists (select 1 from profile where workshop_id = $1) as "used!""#,
            workshop
        );
        let used = used.fetch_one(&mut *tx).await?;
        Ok((!used).then_some(Self { tx, workshop }))
    }

    /// What is the workshop's own; its name stays, and whether records are approved unless a manager takes
    /// the archive in.
    pub async fn workshop(&mut self, part: &WorkshopPart, by: &Person) -> Result<(), StoreError> {
        sqlx::query!(
            "update workshop set paper = $2, customer_signs = $9, review = case when $8 then $3 else review end, priors = $4, leave_inside = $5, school = $6, own_classes = $7 where id = $1",
            self.workshop,
            serde_json::to_value(&part.paper.letterhead)?,
            part.paper.review,
            serde_json::to_value(&part.judgement.priors)?,
            part.judgement.leave_inside,
            part.school,
            serde_json::to_value(&part.own_classes)?,
            by.is(Role::Manager),
            part.paper.customer_signs
        )
        .execute(&mut *self.tx)
        .await?;
        for s in &part.sites {
            sqlx::query!("insert into site (workshop_id, name, latitude, altitude_m) values ($1, $2, $3, $4) on conflict do nothing", self.workshop, s.name, s.latitude.to_string(), s.altitude_m.to_string())
                .execute(&mut *self.tx)
                .await?;
        }
        for (id, text) in &part.lessons {
            sqlx::query!(
                "insert into lesson (workshop_id, id, text) values ($1, $2, $3) on conflict do nothing",
                self.workshop,
                id,
                text
            )
            .execute(&mut *self.tx)
            .await?;
        }
        Ok(())
    }

    /// Its scales.
    pub async fn scales(&mut self, parts: &[ScalePart]) -> Result<(), StoreError> {
        for p in parts {
            // Where commands are taken is not for a file to say.
            let device = p.device.clone().map(|device| Device { hands: None, ..device });
            super::scales::add_within(&mut self.tx, self.workshop, &p.sheet, device.as_ref()).await?;
        }
        Ok(())
    }

    /// Its weights. The serial that stands twice, if one does.
    pub async fn kit(&mut self, pieces: &[Piece]) -> Result<Option<String>, StoreError> {
        for piece in pieces {
            if !super::kit::insert(&mut self.tx, self.workshop, piece).await? {
                return Ok(Some(piece.serial.clone()));
            }
        }
        Ok(None)
    }

    /// Its customers; before its scales, which find them by name.
    pub async fn customers(&mut self, customers: &[Customer]) -> Result<(), StoreError> {
        // One that is here already, by name, stays as it is.
        let there =
            sqlx::query_scalar!("select plain_name from customer where workshop_id = $1", self.workshop)
                .fetch_all(&mut *self.tx)
                .await?;
        let ids: Vec<Uuid> = customers.iter().map(|c| c.id).collect();
        let taken = sqlx::query_scalar!("select id from customer where id = any($1)", &ids)
            .fetch_all(&mut *self.tx)
            .await?;
        let fresh: Vec<Customer> =
            customers
                .iter()
                .filter(|c| !there.contains(&Customer::plain_name(&c.name)))
                // The identity of one may be another workshop's here, where both are of one house.
                .map(|c| {
                    if taken.contains(&c.id) {
                        Customer { id: Uuid::now_v7(), ..c.clone() }
                    } else {
                        c.clone()
                    }
                })
                .collect();
        super::customers::add(&mut self.tx, self.workshop, &fresh, None).await
    }

    /// Its instruments.
    pub async fn instruments(&mut self, instruments: &[Instrument]) -> Result<(), StoreError> {
        for one in instruments {
            sqlx::query!(
                "insert into instrument (id, workshop_id, details) values ($1, $2, $3) on conflict do nothing",
                one.id,
                self.workshop,
                serde_json::to_value(one)?
            )
            .execute(&mut *self.tx)
            .await?;
        }
        Ok(())
    }

    /// A photograph or a file.
    pub async fn file(&mut self, part: &FilePart, bytes: &[u8]) -> Result<(), StoreError> {
        let only = |of: FileOf| (part.of == of).then_some(part.of_id);
        sqlx::query!(
            "insert into file (id, workshop_id, scale_id, job_id, piece_id, name, media, caption, sha256, size, bytes, by_name, made_at)
             values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)",
            part.id,
            self.workshop,
            only(FileOf::Scale),
            only(FileOf::Job),
            only(FileOf::Piece),
            part.name,
            part.media,
            part.caption,
            part.sha256,
            part.size,
            bytes,
            part.by,
            part.made_at
        )
        .execute(&mut *self.tx)
        .await?;
        Ok(())
    }

    /// The file of a certificate.
    pub async fn certificate(&mut self, part: &CertificatePart, bytes: &[u8]) -> Result<(), StoreError> {
        sqlx::query!("insert into certificate_file (workshop_id, piece_id, number, name, bytes) values ($1, $2, $3, $4, $5)", self.workshop, part.piece, part.number, part.name, bytes)
            .execute(&mut *self.tx)
            .await?;
        Ok(())
    }

    /// Its profiles.
    pub async fn profiles(&mut self, parts: &[ProfilePart]) -> Result<(), StoreError> {
        for p in parts {
            let Some(last) = p.editions.last() else { continue };
            sqlx::query!(
                "insert into profile (id, workshop_id, name, about, edition, text, changed_by, changed_at) values ($1, $2, $3, $4, $5, $6, $7, $8)",
                p.id,
                self.workshop,
                p.name,
                p.about,
                last.edition,
                last.text,
                last.changed_by,
                last.changed_at
            )
            .execute(&mut *self.tx)
            .await?;
            for e in &p.editions {
                sqlx::query!("insert into profile_edition (profile_id, edition, text, changed_by, changed_at) values ($1, $2, $3, $4, $5)", p.id, e.edition, e.text, e.changed_by, e.changed_at)
                    .execute(&mut *self.tx)
                    .await?;
            }
        }
        Ok(())
    }

    /// A job with its records; what another house wrote stays foreign and has no number of this one.
    pub async fn job(
        &mut self,
        file: &JobFile,
        about: &JobPart,
        records: &[Vec<u8>],
        own: bool,
    ) -> Result<(), StoreError> {
        let foreign = about.imported || !own;
        jobs::insert_whole(&mut self.tx, self.workshop, about.scale, &file.entries, file.job, foreign)
            .await?;
        for (index, (part, bytes)) in about.records.iter().zip(records).enumerate() {
            let (state, assessed, closed_at) = shown(bytes)?;
            let number = if foreign && !about.imported {
                records::numbered(&records::foreign_number(file.job), part.version.unsigned_abs())
            } else {
                part.number.clone()
            };
            let row = FrozenRow {
                job: file.job,
                workshop: self.workshop,
                scale: about.scale,
                number: &number,
                bytes,
                program: &part.program,
                rules: &part.rules,
                closed_at,
                seq: part.seq,
                version: part.version,
                superseded: index + 1 < about.records.len(),
                foreign,
            };
            records::insert(&mut self.tx, &row, &state, &assessed).await?;
            if !foreign {
                records::count_up_to(&mut self.tx, self.workshop, &number).await?;
            }
        }
        Ok(())
    }

    /// Everything is in; and with it, in one, that the task is done: an instance that is lost right after
    /// leaves nothing for another to take in twice.
    pub async fn done(
        mut self,
        by: &Person,
        detail: serde_json::Value,
        task: Uuid,
        says: &str,
    ) -> Result<(), StoreError> {
        audit::add(&mut self.tx, by, audit::AuditAct::ArchiveImported, detail).await?;
        super::tasks::done_with(&mut self.tx, task, says).await?;
        Ok(self.tx.commit().await?)
    }
}

fn shown(bytes: &[u8]) -> Result<(JobState, Assessment, OffsetDateTime), StoreError> {
    let (file, state) = open_file(bytes).map_err(|e| StoreError::Unreadable(e.to_string()))?;
    let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
    let assessed = assess(&entries, &state);
    let closed_at = state
        .closed
        .as_ref()
        .map(|(_, _, at)| *at)
        .ok_or_else(|| StoreError::Unreadable("a record that is not signed".into()))?;
    Ok((state, assessed, closed_at))
}
