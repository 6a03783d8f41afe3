//! The digits of a figure as they are keyed in: the one place where they are worked out.

use super::values::Setup;
use crate::keying::{FieldError, NumberField};
use crate::quantity::{Decimal, Mass, digits_without_point};
use crate::refusal::Refusal;
use crate::scale::ScaleSheet;

/// The digits of Max as they are keyed.
///
/// # Errors
/// A [`Refusal`] where it cannot be keyed exactly.
pub(crate) fn max_digits(sheet: &ScaleSheet, setup: &Setup) -> Result<String, Refusal> {
    let field = sheet.profile_facts().and_then(|f| f.max.as_ref());
    digits(sheet, setup, &setup.max.to(setup.d.unit), field)
}

/// The digits of a span weight as they are keyed: the one place where they are worked out.
///
/// # Errors
/// A [`Refusal`] where it cannot be keyed exactly.
pub(crate) fn span_digits(sheet: &ScaleSheet, setup: &Setup, weight: &Mass) -> Result<String, Refusal> {
    let facts = sheet.profile_facts();
    let unit = facts.and_then(|f| f.weights_in).or(setup.calibrated_in).unwrap_or(setup.d.unit);
    digits(sheet, setup, &weight.to(unit), facts.and_then(|f| f.span_weight.as_ref()))
}

/// By the field of the profile or, without one, by the width on the sheet.
fn digits(
    sheet: &ScaleSheet,
    setup: &Setup,
    mass: &Mass,
    field: Option<&NumberField>,
) -> Result<String, Refusal> {
    let Some(field) = field else {
        return digits_without_point(mass, setup.decimals, u32::from(sheet.field_width))
            .map_err(Refusal::from);
    };
    keyed_in(field, &mass.value, mass.unit.symbol(), setup.decimals)
}

/// A number as a field of the profile takes it; `unit`: empty where it has none.
///
/// # Errors
/// A [`Refusal`] where it cannot be keyed exactly, with the nearest that can.
pub(crate) fn keyed_in(
    field: &NumberField,
    value: &Decimal,
    unit: &str,
    decimals: u32,
) -> Result<String, Refusal> {
    let said = |value: &Decimal| if unit.is_empty() { value.to_string() } else { format!("{value} {unit}") };
    let item = &field.label;
    field.text(value, decimals).map_err(|error| match error {
        FieldError::Decimals(decimals, nearest) => Refusal::from(Refused::NotWholeDigits {
            said: said(value),
            decimals,
            item: item.clone(),
            said_too: said(&nearest),
        }),
        FieldError::Below(least) => {
            Refusal::from(Refused::BelowLeast { item: item.clone(), said: said(&least), said2: said(value) })
        }
        FieldError::Above(most) => {
            Refusal::from(Refused::AboveMost { item: item.clone(), said: said(&most), said2: said(value) })
        }
        FieldError::Width(needs, most) => Refusal::from(Refused::TooWide {
            said: said(value),
            needs,
            item: item.clone(),
            digits: field.digits,
            said_too: said(&most),
        }),
    })
}

crate::refusals! {
    enum Refused {
        NotWholeDigits { said: String, decimals: i64, item: String, said_too: String } = "not_whole_digits":
            text!("digits-said-does-not-end-at", said = crate::wording::figure(said), decimals, item),
            then text!("digits-the-nearest-is-said", said = crate::wording::figure(said_too));
        BelowLeast { item: String, said: String, said2: String } = "below_least":
            text!("digits-item-takes-said-or-more", item, said = crate::wording::figure(said), said2 = crate::wording::figure(said2));
        AboveMost { item: String, said: String, said2: String } = "above_most":
            text!("digits-item-takes-up-to-said", item, said = crate::wording::figure(said), said2 = crate::wording::figure(said2));
        TooWide { said: String, needs: usize, item: String, digits: u8, said_too: String } = "too_wide":
            text!("digits-said-needs-needs-digits-item", said = crate::wording::figure(said), needs, item, digits),
            then text!("digits-it-takes-up-to-said", said = crate::wording::figure(said_too));
    }
}
