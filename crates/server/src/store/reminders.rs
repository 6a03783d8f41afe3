//! Reminders: what a workshop wants of them, which scales they are for, and which were sent.

use std::collections::BTreeMap;

use ombret_core::customer::Customer;
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::PgPool;
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use super::audit::{self, AuditAct};
use super::people::Person;

time::serde::format_description!(iso_day, Date, "[year]-[month]-[day]");

/// What a workshop wants of reminders.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(default)]
pub struct ReminderRules {
    /// Days before a scale is due; 0: none are sent.
    pub days: u16,
    /// Customers are reminded, who have a mail address.
    pub customers: bool,
    /// Where the workshop's own reminder goes; empty: nowhere.
    pub workshop: String,
}

/// A scale that is to be reminded of.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct DueScale {
    /// The scale.
    pub scale: Uuid,
    /// Its name.
    pub name: String,
    /// Where it stands.
    pub place: String,
    /// Its serial.
    pub serial: String,
    /// When it is due.
    #[serde(with = "iso_day")]
    #[schema(value_type = String, format = Date)]
    pub due: Date,
}

/// One mail: to whom, and for which scales.
#[derive(Clone, Debug)]
pub struct Reminder {
    /// The workshop.
    pub workshop: Uuid,
    /// Its name.
    pub workshop_name: String,
    /// The customer; none: the workshop itself.
    pub customer: Option<Customer>,
    /// Where it goes.
    pub to: String,
    /// The scales.
    pub scales: Vec<DueScale>,
}

/// What a workshop wants of reminders.
pub async fn rules(pool: &PgPool, workshop: Uuid) -> Result<ReminderRules, StoreError> {
    let kept =
        sqlx::query_scalar!("select reminders from workshop where id = $1", workshop).fetch_one(pool).await?;
    Ok(serde_json::from_value(kept)?)
}

/// Changes it; it stands in the audit trail.
pub async fn set_rules(pool: &PgPool, by: &Person, rules: &ReminderRules) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!(
        "update workshop set reminders = $2 where id = $1",
        by.workshop_id,
        serde_json::to_value(rules)?
    )
    .execute(&mut *tx)
    .await?;
    audit::add(
        &mut tx,
        by,
        AuditAct::ReminderRules,
        json!({"after": rules.days, "customers": rules.customers}),
    )
    .await?;
    Ok(tx.commit().await?)
}

/// Claims what is to be reminded of now, so that nobody reminds of it again, and gives it as mails: one to each
/// customer, one to each workshop. Whoever claims and is lost has reminded of nothing: once too few, never
/// twice.
pub async fn claim(pool: &PgPool, today: Date) -> Result<Vec<Reminder>, StoreError> {
    let mut mails = Vec::new();
    let workshops = sqlx::query!("select id, name, reminders from workshop where reminders <> '{}'")
        .fetch_all(pool)
        .await?;
    for workshop in workshops {
        let rules: ReminderRules = serde_json::from_value(workshop.reminders)?;
        if rules.days == 0 {
            continue;
        }
        let until = today.saturating_add(time::Duration::days(rules.days.into()));
        if rules.customers {
            let rows = sqlx::query!(
                "with claimed as (
                   insert into reminder (scale_id, due, whom, workshop_id)
                   select s.id, s.next_due, 'customer', s.workshop_id from scale s join customer c on c.id = s.customer_id
                   where s.workshop_id = $1 and not s.practice and s.next_due <= $2 and coalesce(c.details->>'email', '') <> ''
                   on conflict do nothing returning scale_id, due)
                 select s.id, s.sheet, d.due, c.details from claimed d join scale s on s.id = d.scale_id join customer c on c.id = s.customer_id order by d.due, s.id",
                workshop.id,
                until
            )
            .fetch_all(pool)
            .await?;
            let mut by_customer: BTreeMap<Uuid, (Customer, Vec<DueScale>)> = BTreeMap::new();
            for row in rows {
                let customer: Customer = serde_json::from_value(row.details)?;
                let scale = due_scale(row.id, &row.sheet, row.due);
                by_customer.entry(customer.id).or_insert_with(|| (customer, Vec::new())).1.push(scale);
            }
            mails.extend(by_customer.into_values().map(|(customer, scales)| Reminder {
                workshop: workshop.id,
                workshop_name: workshop.name.clone(),
                to: customer.email.clone(),
                customer: Some(customer),
                scales,
            }));
        }
        if !rules.workshop.is_empty() {
            let rows = sqlx::query!(
                "with claimed as (
                   insert into reminder (scale_id, due, whom, workshop_id)
                   select s.id, s.next_due, 'workshop', s.workshop_id from scale s where s.workshop_id = $1 and not s.practice and s.next_due <= $2
                   on conflict do nothing returning scale_id, due)
                 select s.id, s.sheet, d.due from claimed d join scale s on s.id = d.scale_id order by d.due, s.id",
                workshop.id,
                until
            )
            .fetch_all(pool)
            .await?;
            if !rows.is_empty() {
                mails.push(Reminder {
                    workshop: workshop.id,
                    workshop_name: workshop.name.clone(),
                    customer: None,
                    to: rules.workshop.clone(),
                    scales: rows.iter().map(|r| due_scale(r.id, &r.sheet, r.due)).collect(),
                });
            }
        }
    }
    Ok(mails)
}

fn due_scale(scale: Uuid, sheet: &serde_json::Value, due: Date) -> DueScale {
    let text = |key: &str| sheet.get(key).and_then(|v| v.as_str()).unwrap_or_default().to_owned();
    DueScale { scale, name: text("name"), place: text("place"), serial: text("serial"), due }
}

/// A mail that was refused at once is to be tried again.
pub async fn give_back(pool: &PgPool, mail: &Reminder) -> Result<(), StoreError> {
    let whom = if mail.customer.is_some() { "customer" } else { "workshop" };
    let ids: Vec<Uuid> = mail.scales.iter().map(|s| s.scale).collect();
    let days: Vec<Date> = mail.scales.iter().map(|s| s.due).collect();
    sqlx::query!(
        "delete from reminder r using unnest($1::uuid[], $2::date[]) as t (scale, due) where r.scale_id = t.scale and r.due = t.due and r.whom = $3",
        &ids,
        &days,
        whom
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// How many were sent in the last thirty days.
pub async fn sent_lately(pool: &PgPool, workshop: Uuid) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select count(*) as "sent!" from reminder where workshop_id = $1 and sent_at > now() - interval '30 days'"#,
        workshop
    )
    .fetch_one(pool)
    .await?)
}
