//! Customers, and the scales that are theirs.

use ombret_core::customer::Customer;
use ombret_core::scale::ScaleSheet;
use serde::Serialize;
use serde_json::json;
use sqlx::{PgPool, Postgres, Transaction};
use utoipa::ToSchema;
use uuid::Uuid;

use super::audit::{self, AuditAct};
use super::people::Person;
use super::search::search_text;
use super::{StoreError, anywhere};

/// A customer in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CustomerRow {
    /// What is known of them.
    #[serde(flatten)]
    pub customer: Customer,
    /// Changes with every edit.
    pub version: i32,
    /// How many scales are theirs.
    pub scales: i64,
    /// How many of them are due within thirty days, or were.
    pub due: i64,
}

/// Longest text that is searched, in characters.
const LONGEST_SEARCH: usize = 600;

fn search_of(customer: &Customer) -> String {
    [
        &customer.name,
        &customer.number,
        &customer.address,
        &customer.contact,
        &customer.email,
        &customer.telephone,
    ]
    .map(|t| t.to_lowercase())
    .join(" · ")
    .chars()
    .take(LONGEST_SEARCH)
    .collect()
}

/// Customers of a workshop by name, those after `after`.
pub async fn list(
    pool: &PgPool,
    workshop: Uuid,
    search: &str,
    after: &str,
    limit: i64,
) -> Result<Vec<CustomerRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select c.details, c.version, n.scales as "scales!", n.due as "due!"
           from (select id, details, version, plain_name from customer where workshop_id = $1 and search like $2 and plain_name > $3 order by plain_name limit $4) c
           cross join lateral (select count(*) as scales, count(*) filter (where s.next_due <= current_date + 30) as due from scale s where s.customer_id = c.id) n
           order by c.plain_name"#,
        workshop,
        anywhere(search),
        after,
        limit
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(CustomerRow {
                customer: serde_json::from_value(r.details)?,
                version: r.version,
                scales: r.scales,
                due: r.due,
            })
        })
        .collect()
}

/// Every customer of a workshop, by name.
pub async fn all(pool: &PgPool, workshop: Uuid) -> Result<Vec<Customer>, StoreError> {
    let rows = sqlx::query_scalar!(
        "select details from customer where workshop_id = $1 order by plain_name",
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter().map(|details| Ok(serde_json::from_value(details)?)).collect()
}

/// One customer of a workshop.
pub async fn one(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<CustomerRow>, StoreError> {
    let row = sqlx::query!(
        r#"select c.details, c.version, (select count(*) from scale s where s.customer_id = c.id) as "scales!",
                  (select count(*) from scale s where s.customer_id = c.id and s.next_due <= current_date + 30) as "due!"
           from customer c where c.id = $1 and c.workshop_id = $2"#,
        id,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| {
        Ok(CustomerRow {
            customer: serde_json::from_value(r.details)?,
            version: r.version,
            scales: r.scales,
            due: r.due,
        })
    })
    .transpose()
}

/// The customer whose scale a job is of.
pub async fn of_job(pool: &PgPool, workshop: Uuid, job: Uuid) -> Result<Option<Customer>, StoreError> {
    let details = sqlx::query_scalar!(
        "select c.details from job j join scale s on s.id = j.scale_id join customer c on c.id = s.customer_id where j.id = $1 and j.workshop_id = $2",
        job,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    details.map(|d| Ok(serde_json::from_value(d)?)).transpose()
}

/// Adds customers: all of them or none.
pub async fn add(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    customers: &[Customer],
    import: Option<Uuid>,
) -> Result<(), StoreError> {
    let ids: Vec<Uuid> = customers.iter().map(|c| c.id).collect();
    let details = customers.iter().map(serde_json::to_value).collect::<Result<Vec<_>, _>>()?;
    let searches: Vec<String> = customers.iter().map(search_of).collect();
    sqlx::query!(
        "insert into customer (workshop_id, import_id, id, details, search) select $1, $2, * from unnest($3::uuid[], $4::jsonb[], $5::text[])",
        workshop,
        import,
        &ids,
        &details,
        &searches
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Adds one.
pub async fn add_one(pool: &PgPool, by: &Person, customer: &Customer) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    add(&mut tx, by.workshop_id, std::slice::from_ref(customer), None).await?;
    Ok(tx.commit().await?)
}

/// Changes a customer if it is still at `version`; what stands on the sheets of their scales goes with it.
/// A scale with an address of its own, a branch, keeps it. False where it was changed meanwhile.
pub async fn change(
    pool: &PgPool,
    by: &Person,
    customer: &Customer,
    version: i32,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let before = sqlx::query_scalar!(
        "select details from customer where id = $1 and workshop_id = $2 and version = $3 for update",
        customer.id,
        by.workshop_id,
        version
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(before) = before else { return Ok(false) };
    let before: Customer = serde_json::from_value(before)?;
    sqlx::query!(
        "update customer set details = $2, search = $3, version = version + 1 where id = $1",
        customer.id,
        serde_json::to_value(customer)?,
        search_of(customer)
    )
    .execute(&mut *tx)
    .await?;
    if (&before.name, &before.address) != (&customer.name, &customer.address) {
        rewrite(&mut tx, customer.id, &before, customer).await?;
        let detail = json!({
            "customer": customer.id,
            "before": {"name": before.name, "address": before.address},
            "after": {"name": customer.name, "address": customer.address},
        });
        audit::add(&mut tx, by, AuditAct::CustomerChanged, detail).await?;
    }
    tx.commit().await?;
    Ok(true)
}

/// Writes name and address onto the sheets of a customer's scales.
async fn rewrite(
    tx: &mut Transaction<'static, Postgres>,
    of: Uuid,
    before: &Customer,
    now: &Customer,
) -> Result<(), StoreError> {
    let rows = sqlx::query!("select id, sheet from scale where customer_id = $1 for update", of)
        .fetch_all(&mut **tx)
        .await?;
    let (mut ids, mut sheets, mut searches) = (Vec::new(), Vec::new(), Vec::new());
    for row in rows {
        let mut sheet: ScaleSheet = serde_json::from_value(row.sheet)?;
        sheet.owner.clone_from(&now.name);
        if sheet.owner_address.is_empty() || sheet.owner_address == before.address {
            sheet.owner_address.clone_from(&now.address);
        }
        ids.push(row.id);
        searches.push(search_text(&sheet));
        sheets.push(serde_json::to_value(&sheet)?);
    }
    sqlx::query!(
        "update scale s set sheet = t.sheet, search = t.search, customer_id = $4, version = s.version + 1
         from unnest($1::uuid[], $2::jsonb[], $3::text[]) as t (id, sheet, search) where s.id = t.id",
        &ids,
        &sheets,
        &searches,
        now.id
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Two that are one: every scale of `from` becomes one of `into`, and `from` is no more. Records keep what
/// they say. False where the workshop does not have both.
pub async fn merge(pool: &PgPool, by: &Person, from: Uuid, into: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    // In the order of their identity, so that two who merge crosswise do not wait for each other.
    let rows = sqlx::query!(
        "select id, details from customer where workshop_id = $1 and id = any($2) order by id for update",
        by.workshop_id,
        &[from, into]
    )
    .fetch_all(&mut *tx)
    .await?;
    let find = |id: Uuid| rows.iter().find(|r| r.id == id).map(|r| r.details.clone());
    let (Some(gone), Some(stays)) = (find(from), find(into)) else { return Ok(false) };
    let (gone, stays): (Customer, Customer) = (serde_json::from_value(gone)?, serde_json::from_value(stays)?);
    rewrite(&mut tx, from, &gone, &stays).await?;
    sqlx::query!("delete from customer where id = $1", from).execute(&mut *tx).await?;
    let detail = json!({"gone": gone, "into": stays.id, "name": stays.name});
    audit::add(&mut tx, by, AuditAct::CustomersMerged, detail).await?;
    tx.commit().await?;
    Ok(true)
}

/// Why a customer is not taken away.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NotRemoved {
    /// The workshop has no such customer.
    Nobody,
    /// Scales are theirs.
    HasScales,
}

/// Takes away a customer who has no scale.
pub async fn remove(pool: &PgPool, by: &Person, id: Uuid) -> Result<Result<(), NotRemoved>, StoreError> {
    let mut tx = pool.begin().await?;
    let row = sqlx::query!(
        r#"select details, exists (select 1 from scale s where s.customer_id = c.id) as "scales!" from customer c where id = $1 and workshop_id = $2 for update"#,
        id,
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(row) = row else { return Ok(Err(NotRemoved::Nobody)) };
    if row.scales {
        return Ok(Err(NotRemoved::HasScales));
    }
    sqlx::query!("delete from customer where id = $1", id).execute(&mut *tx).await?;
    audit::add(&mut tx, by, AuditAct::CustomerRemoved, json!({"gone": row.details})).await?;
    tx.commit().await?;
    Ok(Ok(()))
}

/// Gives every scale that belongs to nobody yet to the customer whom its sheet names; whoever is new came with
/// this table, where there was one.
pub(super) async fn link(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    import: Option<Uuid>,
) -> Result<(), StoreError> {
    sqlx::query!("select link_customers($1, $2)", workshop, import).execute(&mut **tx).await?;
    Ok(())
}
