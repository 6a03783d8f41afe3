//! What became known of a weight after a record was made with it. Source: ISO/IEC 17025:2017, 6.4.9 and
//! 7.10 (effect of a defect on earlier results).

use time::Date;

use super::piece::Piece;
use crate::wording::Text;

impl Piece {
    /// Why a record of `day` that rests on this piece is to be looked at again; none: nothing speaks
    /// against it. `certificate` is the one that was in force for it then.
    pub fn doubt_since(&self, certificate: Option<&str>, day: Date) -> Option<Text> {
        // One that was found wrong later may have been wrong then already.
        let later = self.certificates.iter().filter(|c| c.date > day).find_map(|c| {
            Some(text!(
                "later-findings-certificate-number-of-date-out",
                number = c.number,
                date = c.date,
                out_of_class = self.out_of_class(c)?
            ))
        });
        if later.is_some() {
            return later;
        }
        if self.damaged {
            return Some(text!("later-findings-it-is-damaged-now"));
        }
        let number = certificate?;
        match self.certificates.iter().find(|c| c.number == number) {
            None => Some(text!("later-findings-certificate-number-is-not-in", number)),
            Some(then) if day > then.due => {
                Some(text!("later-findings-certificate-number-had-run-out", number, due = then.due))
            }
            Some(_) => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use serde_json::json;
    use time::Duration;
    use time::macros::date;

    /// A 20 kg block of class M1 (± 1 g) with a certificate of 2024 and one of 2026.
    fn block(later_mg: i64, damaged: bool) -> Piece {
        let of = |number: &str, day: &str, due: &str, mg: i64| json!({"number": number, "laboratory": "L", "date": day, "due": due, "error": {"value": mg.to_string(), "unit": "mg"}, "U": {"value": "300", "unit": "mg"}, "k": "2"});
        serde_json::from_value(json!({
            "id": uuid::Uuid::nil(), "serial": "TB-1", "nominal": {"value": "20", "unit": "kg"}, "class": "M1", "form": "block", "damaged": damaged,
            "certificates": [of("A", "2024-01-10", "2025-01-10", 100), of("B", "2026-01-10", "2027-01-10", later_mg)]
        }))
        .unwrap()
    }

    #[test]
    fn what_was_found_later_is_told_with_its_certificate() {
        let day = date!(2024 - 06 - 01);
        assert_eq!(block(400, false).doubt_since(Some("A"), day), None);
        let told = block(1400, false).doubt_since(Some("A"), day).unwrap();
        assert!(
            told.to_string()
                .starts_with("certificate B of 2026-01-10: its error of 1400 mg is outside class M1"),
            "{told}"
        );
        // A record that was made with that very certificate knew of it.
        assert_eq!(block(1400, false).doubt_since(Some("B"), date!(2026 - 02 - 01)), None);
        assert_eq!(
            block(400, true).doubt_since(Some("A"), day).map(|t| t.to_string()).as_deref(),
            Some("it is damaged now")
        );
        assert_eq!(
            block(400, false).doubt_since(Some("C"), day).map(|t| t.to_string()).as_deref(),
            Some("certificate C is not in the kit any more")
        );
        assert_eq!(
            block(400, false).doubt_since(Some("A"), date!(2025 - 01 - 11)).map(|t| t.to_string()).as_deref(),
            Some("certificate A had run out on 2025-01-10")
        );
        assert_eq!(block(400, false).doubt_since(None, day), None);
    }

    proptest! {
        #[test]
        fn a_larger_error_found_later_never_takes_a_doubt_away(mg in 0i64..3_000, more in 0i64..3_000, back in 0i64..700) {
            let day = date!(2026 - 01 - 09) - Duration::days(back);
            let doubt = |mg: i64| block(mg, false).doubt_since(Some("A"), day).is_some();
            prop_assert!(!doubt(mg) || doubt(mg + more));
            // On either side of nominal it is the same.
            prop_assert_eq!(doubt(mg), doubt(-mg));
        }
    }
}
