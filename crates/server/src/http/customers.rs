//! Customers: the list, one of them, merging two that are one.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_core::customer::Customer;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{Manager, SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::store::StoreError;
use crate::store::customers::{self, CustomerRow, NotRemoved};
use ombret_core::text;

/// Rows on a page of the list.
const PAGE: i64 = 100;

/// What to list.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CustomersQuery {
    /// Words to look for in name, number, address, contact.
    #[serde(default)]
    search: String,
    /// Cursor from the page before.
    #[serde(default)]
    after: Option<String>,
}

/// A page of customers.
#[derive(Serialize, ToSchema)]
pub struct CustomerPage {
    /// The customers, by name.
    customers: Vec<CustomerRow>,
    /// Cursor of the next page, if there is one.
    #[schema(required)]
    next: Option<String>,
}

/// A customer as typed.
#[derive(Deserialize, ToSchema)]
pub struct CustomerForm {
    #[serde(flatten)]
    customer: Customer,
    /// The version that was edited; 0 for a new one.
    #[serde(default)]
    version: i32,
}

/// Into which customer another one goes.
#[derive(Deserialize, ToSchema)]
pub struct MergeForm {
    /// The one that stays.
    into: Uuid,
}

fn twice(error: StoreError) -> ApiError {
    if error.twice() == Some("customer") {
        return Refusal::from(Refused::Taken).into();
    }
    error.into()
}

/// Customers by name.
#[utoipa::path(get, path = "/api/customers", tag = "customers", params(CustomersQuery), responses((status = 200, body = CustomerPage), (status = 401, body = Problem)))]
pub async fn list_customers(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(asked): Asked<CustomersQuery>,
) -> Result<Json<CustomerPage>, ApiError> {
    let search: String = asked.search.trim().chars().take(100).collect();
    let after: String = asked.after.unwrap_or_default().chars().take(400).collect();
    let mut found = customers::list(&app.reads, person.workshop_id, &search, &after, PAGE + 1).await?;
    let page = usize::try_from(PAGE).unwrap_or(0);
    let more = found.len() > page;
    found.truncate(page);
    let next = found.last().filter(|_| more).map(|row| Customer::plain_name(&row.customer.name));
    Ok(Json(CustomerPage { customers: found, next }))
}

/// One customer.
#[utoipa::path(get, path = "/api/customers/{id}", tag = "customers", params(("id" = Uuid, Path)), responses((status = 200, body = CustomerRow), (status = 404, body = Problem)))]
pub async fn get_customer(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<CustomerRow>, ApiError> {
    customers::one(&app.pool, person.workshop_id, id).await?.map(Json).ok_or(ApiError::NotFound("customer"))
}

/// Adds a customer; one that is there already is left as it is.
#[utoipa::path(post, path = "/api/customers", tag = "customers", request_body = CustomerForm, responses((status = 201, body = CustomerRow), (status = 403, body = Problem), (status = 422, body = Problem)))]
pub async fn add_customer(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<CustomerForm>,
) -> Result<(StatusCode, Json<CustomerRow>), ApiError> {
    let customer = form.customer.tidied();
    customer.check()?;
    if let Some(there) = customers::one(&app.pool, person.workshop_id, customer.id).await? {
        return Ok((StatusCode::OK, Json(there)));
    }
    customers::add_one(&app.pool, &person, &customer).await.map_err(twice)?;
    Ok((StatusCode::CREATED, Json(CustomerRow { customer, version: 1, scales: 0, due: 0 })))
}

/// Changes a customer; name and address go onto the sheets of their scales, never onto a record that is signed.
#[utoipa::path(put, path = "/api/customers/{id}", tag = "customers", params(("id" = Uuid, Path)), request_body = CustomerForm, responses((status = 200, body = CustomerRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn change_customer(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(form): Body<CustomerForm>,
) -> Result<Json<CustomerRow>, ApiError> {
    let customer = Customer { id, ..form.customer.tidied() };
    customer.check()?;
    let changed = customers::change(&app.pool, &person, &customer, form.version).await.map_err(twice)?;
    match customers::one(&app.pool, person.workshop_id, id).await? {
        Some(row) if changed => Ok(Json(row)),
        Some(_) => Err(ApiError::Taken(text!("customers-api-the-customer-was-changed-by"))),
        None => Err(ApiError::NotFound("customer")),
    }
}

/// Two that are one: the scales of this customer become those of another, and this one is no more.
#[utoipa::path(post, path = "/api/customers/{id}/merge", tag = "customers", params(("id" = Uuid, Path)), request_body = MergeForm, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn merge_customers(
    State(app): State<App>,
    Manager(person): Manager,
    At(id): At<Uuid>,
    Body(form): Body<MergeForm>,
) -> Result<StatusCode, ApiError> {
    if id == form.into {
        return Err(Refusal::from(Refused::Same).into());
    }
    if customers::merge(&app.pool, &person, id, form.into).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("customer"))
    }
}

/// Takes away a customer who has no scale.
#[utoipa::path(delete, path = "/api/customers/{id}", tag = "customers", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn remove_customer(
    State(app): State<App>,
    Manager(person): Manager,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    match customers::remove(&app.pool, &person, id).await? {
        Ok(()) => Ok(StatusCode::NO_CONTENT),
        Err(NotRemoved::Nobody) => Err(ApiError::NotFound("customer")),
        Err(NotRemoved::HasScales) => Err(Refusal::from(Refused::HasScales).into()),
    }
}

ombret_core::refusals! {
    enum Refused {
        Taken = "taken" at "name":
            text!("customers-api-a-customer-of-this-name"),
            then text!("customers-api-use-that-one-or-merge");
        Same = "same" at "into": text!("customers-api-this-is-one-and-the");
        HasScales = "has_scales":
            text!("customers-api-scales-are-theirs"),
            then text!("customers-api-give-the-scales-to-another");
    }
}
