//! A customer: whose scales they are, what stands on the certificate, and what is agreed with them. Source:
//! ISO/IEC 17025:2017 7.1 (agreements), 7.8.2.1 e (name and contact information of the customer).

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::longest::LONGEST_FIELD;
use crate::refusal::Refusal;
use crate::scale::ScaleSheet;
use crate::tolerance::Scheme;
use crate::wording::Language;
use crate::wording::Text;

/// Longest note, in characters.
const LONGEST_NOTE: usize = 2_000;

/// Somebody whose scales are looked after.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Customer {
    /// Identity, made by the client.
    pub id: Uuid,
    /// The number under which the workshop keeps them; empty: none.
    #[serde(default)]
    pub number: String,
    /// Name, as it stands on certificates.
    pub name: String,
    /// Address in lines, as it stands on certificates.
    #[serde(default)]
    pub address: String,
    /// Where invoices go, where that is elsewhere.
    #[serde(default)]
    pub invoice_address: String,
    /// Whom to ask for.
    #[serde(default)]
    pub contact: String,
    /// Where reminders go.
    #[serde(default)]
    pub email: String,
    /// Telephone.
    #[serde(default)]
    pub telephone: String,
    /// Months from one check to the next that a new scale of theirs gets; none: as the workshop's.
    #[serde(default)]
    #[schema(required)]
    pub interval_months: Option<u8>,
    /// Tolerance book that a new scale of theirs gets; none: as the workshop's.
    #[serde(default)]
    #[schema(required)]
    pub scheme: Option<Scheme>,
    /// Language of their paper; none: as the workshop's.
    #[serde(default)]
    #[schema(required)]
    pub language: Option<Language>,
    /// What else to know: opening hours, keys, safety briefing.
    #[serde(default)]
    pub note: String,
}

impl Customer {
    /// Who owns a scale, by what stands on its sheet.
    pub fn of_sheet(id: Uuid, sheet: &ScaleSheet) -> Self {
        Self {
            id,
            name: sheet.owner.trim().to_owned(),
            address: sheet.owner_address.clone(),
            ..Self::default()
        }
    }

    /// Without what nobody typed on purpose: blanks at the ends, line ends of other systems.
    #[must_use]
    pub fn tidied(mut self) -> Self {
        for text in
            [&mut self.number, &mut self.name, &mut self.contact, &mut self.email, &mut self.telephone]
        {
            *text = text.trim().to_owned();
        }
        for lines in [&mut self.address, &mut self.invoice_address, &mut self.note] {
            *lines = lines.replace('\r', "").trim().to_owned();
        }
        self
    }

    /// Checks that it makes sense.
    ///
    /// # Errors
    /// Every [`Refusal`], at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        let mut wrong = Vec::new();
        let most = LONGEST_FIELD;
        if self.name.trim().is_empty() {
            wrong.push(Refusal::from(Refused::Missing));
        }
        for (field, text) in [
            ("number", &self.number),
            ("name", &self.name),
            ("contact", &self.contact),
            ("email", &self.email),
            ("telephone", &self.telephone),
        ] {
            if text.chars().count() > most || text.chars().any(char::is_control) {
                let says = text!("customer-at-most-most-characters-fit", most);
                wrong.push(Refusal::from(Refused::BadText { says }).at(field));
            }
        }
        for (field, text) in [("address", &self.address), ("invoice_address", &self.invoice_address)] {
            let odd = |c: char| c.is_control() && c != '\n';
            let lines = ScaleSheet::MOST_LINES;
            if text.lines().count() > lines || text.chars().count() > most * 3 || text.chars().any(odd) {
                let says = text!("customer-an-address-has-at-most", lines, most = most * 3);
                wrong.push(Refusal::from(Refused::BadText { says }).at(field));
            }
        }
        if self.note.chars().count() > LONGEST_NOTE
            || self.note.chars().any(|c| c.is_control() && c != '\n' && c != '\t')
        {
            let says = text!("customer-at-most-longest-note-characters", longest_note = LONGEST_NOTE);
            wrong.push(Refusal::from(Refused::BadTextNote { says }));
        }
        if !self.email.is_empty() && !is_address(&self.email) {
            wrong.push(Refusal::from(Refused::NoMailAddress));
        }
        if self.interval_months.is_some_and(|m| !(1..=ScaleSheet::MOST_MONTHS).contains(&m)) {
            let says = text!("customer-the-interval-is-1-to", most_months = ScaleSheet::MOST_MONTHS);
            wrong.push(Refusal::from(Refused::OutOfRange { says }));
        }
        Refusal::all(wrong).map_or(Ok(()), Err)
    }

    /// What is compared when the same customer is looked for under another spelling.
    pub fn plain_name(name: &str) -> String {
        name.split_whitespace().collect::<Vec<_>>().join(" ").to_lowercase()
    }
}

/// Whether a text could be a mail address: whoever sends to it finds out the rest.
fn is_address(text: &str) -> bool {
    let plain = |c: char| !c.is_whitespace() && !c.is_control() && !matches!(c, '<' | '>' | ',' | ';' | '"');
    text.chars().all(plain)
        && text.split_once('@').is_some_and(|(who, host)| {
            !who.is_empty()
                && !host.contains('@')
                && host.split('.').count() >= 2
                && host.split('.').all(|part| !part.is_empty())
        })
}

crate::refusals! {
    enum Refused {
        Missing = "missing" at "name": text!("customer-a-customer-has-a-name");
        BadText { says: Text } = "bad_text": says;
        BadTextNote { says: Text } = "bad_text" at "note": says;
        NoMailAddress = "bad_text" at "email": text!("customer-this-is-no-mail-address");
        OutOfRange { says: Text } = "out_of_range" at "interval_months": says;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn named(name: &str) -> Customer {
        Customer { name: name.into(), ..Customer::default() }
    }

    #[test]
    fn a_customer_needs_a_name_and_every_error_is_told_at_its_field() {
        assert!(named("Alder Mill").check().is_ok());
        let wrong = Customer {
            email: "nobody".into(),
            interval_months: Some(0),
            address: "x\n".repeat(9),
            note: "\u{7}".into(),
            ..named(" ")
        };
        let told = wrong.check().unwrap_err();
        let mut fields: Vec<String> = told.field.into_iter().collect();
        fields.extend(told.also.into_iter().filter_map(|r| r.field));
        assert_eq!(fields, ["name", "address", "note", "email", "interval_months"]);
    }

    #[test]
    fn a_mail_address_has_somebody_and_a_host() {
        for good in ["scales@example.org", "a.b+c@mill.example"] {
            assert!(is_address(good), "{good}");
        }
        for bad in ["", "a", "@b.c", "a@b", "a@b..c", "a@b@c.d", "a b@c.d", "<a@b.c>", "a@b.c,d@e.f"] {
            assert!(!is_address(bad), "{bad}");
        }
    }

    #[test]
    fn names_are_the_same_whatever_their_blanks_and_capitals() {
        assert_eq!(Customer::plain_name("  Alder  Mill "), Customer::plain_name("ALDER MILL"));
    }
}
