//! Customers as a table.

use std::collections::BTreeMap;

use uuid::Uuid;

use super::scales::{one_of, table_books};
use super::table::{Grid, Mapping, Row, Taken, at_columns, read_rows};
use crate::customer::Customer;
use crate::refusal::Refusal;
use crate::tolerance::Scheme;
use crate::wording::Language;
use crate::wording::Text;

/// The columns, each with whether it must be there.
pub const CUSTOMER_COLUMNS: [(&str, bool); 11] = [
    ("name", true),
    ("number", false),
    ("address", false),
    ("invoice address", false),
    ("contact", false),
    ("email", false),
    ("telephone", false),
    ("interval", false),
    ("tolerance", false),
    ("language", false),
    ("note", false),
];

/// Fields whose columns are called otherwise.
const FIELDS: [(&str, &str); 3] =
    [("invoice_address", "invoice address"), ("interval_months", "interval"), ("scheme", "tolerance")];

/// Reads customers. `there` says whether the workshop has one of that name, written plainly.
pub fn read_customers(
    grid: &Grid,
    mapping: &Mapping,
    there: &dyn Fn(&str) -> bool,
    ids: &mut dyn FnMut() -> Uuid,
) -> Taken<Customer> {
    let mut names: BTreeMap<String, usize> = BTreeMap::new();
    read_rows(grid, &CUSTOMER_COLUMNS, mapping, |number, row| {
        let customer = read(row, ids())?;
        customer.check().map_err(|refusal| at_columns(refusal, &FIELDS))?;
        let plain = Customer::plain_name(&customer.name);
        let twice = |says| Err(Refusal::from(Refused::Taken { says }));
        match names.insert(plain.clone(), number) {
            Some(first) => twice(text!("customers-name-stands-in-row-first", name = customer.name, first)),
            None if there(&plain) => {
                twice(text!("customers-name-is-a-customer-already", name = customer.name))
            }
            None => Ok(customer),
        }
    })
}

fn read(row: &Row<'_>, id: Uuid) -> Result<Customer, Refusal> {
    // A table has one line for an address: its parts stand between commas or semicolons.
    let lines = |text: String| {
        if text.contains('\n') {
            text
        } else {
            text.split([',', ';']).map(str::trim).collect::<Vec<_>>().join("\n")
        }
    };
    let language = match row.cell("language") {
        "" => None,
        text => Some(
            Language::ALL
                .into_iter()
                .find(|l| {
                    l.tag().eq_ignore_ascii_case(text) || l.words().get("name").eq_ignore_ascii_case(text)
                })
                .ok_or_else(|| {
                    let shown: String = text.chars().take(24).collect();
                    Refusal::from(Refused::BadText { shown })
                })?,
        ),
    };
    let interval = row.whole("interval")?;
    Ok(Customer {
        id,
        name: row.text("name")?,
        number: row.text("number")?,
        address: lines(row.text("address")?),
        invoice_address: lines(row.text("invoice address")?),
        contact: row.text("contact")?,
        email: row.text("email")?,
        // A number may begin with a plus.
        telephone: row.cell("telephone").to_owned(),
        interval_months: interval.map(|months| u8::try_from(months).unwrap_or(u8::MAX)),
        scheme: one_of(row, "tolerance", &table_books(), Scheme::label)?,
        language,
        note: row.text("note")?,
    }
    .tidied())
}

/// A customer as a row of these columns.
pub fn customer_row(customer: &Customer) -> Vec<String> {
    let one_line = |text: &str| text.lines().collect::<Vec<_>>().join(", ");
    vec![
        customer.name.clone(),
        customer.number.clone(),
        one_line(&customer.address),
        one_line(&customer.invoice_address),
        customer.contact.clone(),
        customer.email.clone(),
        customer.telephone.clone(),
        customer.interval_months.map_or_else(String::new, |m| m.to_string()),
        customer.scheme.map_or_else(String::new, |s| s.label().to_string()),
        customer.language.map_or_else(String::new, |l| l.tag().to_owned()),
        customer.note.clone(),
    ]
}

crate::refusals! {
    enum Refused {
        Taken { says: Text } = "taken" at "name": says;
        BadText { shown: String } = "bad_text" at "language": text!("customers-there-is-no-paper-in", shown);
    }
}
