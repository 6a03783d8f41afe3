//! Paper and the digital certificate: what may be a certificate, laws of writing and reading back, and
//! what is refused.

use ombret_core::quantity::{Decimal, Mass, Unit};
use ombret_core::record::{
    AttachedRecord, Dcc, Equipment, Influence, Letterhead, Responsible, ResultSet, Series, read_dcc,
    write_dcc,
};
use ombret_core::wording::Language;
use proptest::prelude::*;
use time::macros::date;

fn mass(value: i64, unit: Unit) -> Mass {
    Mass::new(Decimal::new(value, 3), unit)
}

fn made(values: &[(i64, i64, i64)], unit: Unit, with_u: bool, words: &[String]) -> Dcc {
    let word = |i: usize| words.get(i).cloned().unwrap_or_else(|| "word".into());
    let series = |name: &str, values: Vec<Mass>| Series {
        name: name.into(),
        values,
        expanded: Vec::new(),
        k: Vec::new(),
    };
    let error = Series {
        name: "error of indication".into(),
        values: values.iter().map(|v| mass(v.1, unit)).collect(),
        expanded: if with_u { values.iter().map(|v| mass(v.2, unit)).collect() } else { Vec::new() },
        k: if with_u { vec![Decimal::new(2, 0); values.len()] } else { Vec::new() },
    };
    Dcc {
        number: "2026-0042".into(),
        country: "XS".into(),
        language: "en".into(),
        begun: date!(2026 - 11 - 24),
        ended: date!(2026 - 11 - 25),
        software: "Ombret 0.1.0".into(),
        item: word(0),
        serial: word(1),
        laboratory: word(2),
        customer: word(3),
        place: word(4),
        people: vec![Responsible { name: word(5), role: "technician".into(), main_signer: true }],
        statements: vec!["In tolerance".into(), word(6)],
        conforms: Some(true),
        methods: vec![word(7)],
        equipment: vec![Equipment { name: "20 kg".into(), mark: word(8), certificate: Some(word(9)) }],
        influences: vec![Influence {
            name: "temperature".into(),
            value: Decimal::new(185, 1),
            unit: "\\degreecelsius".into(),
        }],
        results: vec![ResultSet {
            name: "as left".into(),
            series: vec![series("load", values.iter().map(|v| mass(v.0, unit)).collect()), error],
        }],
        record: with_u.then(|| AttachedRecord { name: "job.json".into(), bytes: word(2).into_bytes() }),
    }
}

fn word() -> impl Strategy<Value = String> {
    // Signs that XML has to escape, umlauts, minus and more; no blank at either end, since it is not kept.
    "[A-Za-z0-9&<>\"'äöüßéł−±µ][ A-Za-z0-9&<>\"'/.,;:äöüßéł−±µ]{0,30}[A-Za-z0-9&<>äöü]"
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn what_is_written_is_read_back_the_same(values in proptest::collection::vec((0i64..90_000_000, -5_000i64..5_000, 1i64..900), 1..12), with_u in any::<bool>(), words in proptest::collection::vec(word(), 10), unit in prop::sample::select(vec![Unit::Kg, Unit::G, Unit::Mg, Unit::T])) {
        let dcc = made(&values, unit, with_u, &words);
        let text = write_dcc(&dcc).unwrap();
        prop_assert_eq!(read_dcc(&text).unwrap(), dcc);
    }

    #[test]
    fn an_element_that_is_taken_out_is_named(which in 0usize..400) {
        let text = write_dcc(&made(&[(1000, 1, 2)], Unit::Kg, true, &[])).unwrap();
        // Elements with a text in them: one a line.
        let lines: Vec<&str> = text.lines().collect();
        let plain: Vec<usize> = (0..lines.len()).filter(|i| lines[*i].contains("</") && lines[*i].matches('<').count() == 2).collect();
        let gone = plain[which % plain.len()];
        let name = lines[gone].trim().trim_start_matches('<').split(['>', ' ']).next().unwrap().split(':').next_back().unwrap();
        let without: Vec<&str> = lines.iter().enumerate().filter(|(i, _)| *i != gone).map(|(_, l)| *l).collect();
        match read_dcc(&without.join("\n")) {
            Err(refusal) => prop_assert_eq!(refusal.code.as_str(), "bad_dcc"),
            // These may be left out by the schema.
            Ok(_) => prop_assert!(["content", "role", "mainSigner", "conformity", "name", "declaration", "countryCode"].contains(&name), "{} was not missed", name),
        }
    }

    #[test]
    fn no_file_makes_the_reader_panic(text in "(<[a-z!/?]{0,6}[ =\"a-z]{0,8}>?|[ &;#x0-9a-z]{0,6}){0,30}") {
        prop_assert!(read_dcc(&text).is_err());
    }
}

#[test]
fn what_is_wrong_with_a_file_is_said_with_its_place() {
    let text = write_dcc(&made(&[(1000, 1, 2), (2000, 0, 2)], Unit::Kg, true, &[])).unwrap();
    let told = |changed: String| read_dcc(&changed).unwrap_err().message;
    let cases = [
        (text.replace("schemaVersion=\"3.2.1\"", "schemaVersion=\"2.4.0\""), "version 3 is read"),
        (
            text.replace("<dcc:uniqueIdentifier>2026-0042</dcc:uniqueIdentifier>", ""),
            "/digitalCalibrationCertificate/administrativeData/coreData/uniqueIdentifier is missing",
        ),
        (text.replace("2026-0042<", "<"), "coreData/uniqueIdentifier is empty"),
        (text.replace("2026-11-24", "yesterday"), "coreData/beginPerformanceDate is no day: “yesterday”"),
        (text.replace("\\kilogram", "\\metre"), "is in “\\metre”, which is no unit of mass"),
        (text.replace("<si:valueXMLList>1 2<", "<si:valueXMLList>1<"), "has 2 values beside 1"),
        (text.replace("0.002 0.002", "0.002 0.002 0.002"), "has 3 figures for 2 values"),
        (text.replace("<si:valueXMLList>1 2<", "<si:valueXMLList>1 lots<"), "is no number: “lots”"),
        (
            text.replace("<dcc:customer>", "<dcc:surprise/><dcc:customer>"),
            "administrativeData/surprise does not belong there",
        ),
        (text.replace("</dcc:administrativeData>", ""), "is not well-formed"),
        (text.replacen("<dcc:admin", "<!DOCTYPE x [<!ENTITY a \"b\">]><dcc:admin", 1), "document type"),
        (text.replace("Ombret", "&lol;"), "names “lol”, which is not followed"),
        (text[..text.find("<dcc:customer>").unwrap()].to_owned(), "ends in the middle"),
        ("{}".into(), "has no content"),
        ("<html></html>".into(), "“html” is no digital calibration certificate"),
        (format!("{}{}", "<a>".repeat(60), "</a>".repeat(60)), "deeper or longer"),
    ];
    for (changed, says) in cases {
        assert_ne!(changed, text, "{says}");
        let message = told(changed);
        assert!(message.to_string().contains(says), "{message} should say: {says}");
    }
}

#[test]
fn elements_out_of_their_order_or_twice_are_refused() {
    let text = write_dcc(&made(&[(1000, 1, 2)], Unit::Kg, true, &[])).unwrap();
    let begun = "<dcc:beginPerformanceDate>2026-11-24</dcc:beginPerformanceDate>";
    let twice = text.replace(begun, &format!("{begun}{begun}"));
    assert!(
        read_dcc(&twice)
            .unwrap_err()
            .message
            .to_string()
            .contains("beginPerformanceDate stands more than once")
    );
    let moved = text
        .replace(begun, "")
        .replace("</dcc:performanceLocation>", &format!("</dcc:performanceLocation>{begun}"));
    assert!(
        read_dcc(&moved)
            .unwrap_err()
            .message
            .to_string()
            .contains("beginPerformanceDate stands out of its order")
    );
}

#[test]
fn a_letterhead_that_does_not_fit_is_refused_at_its_field() {
    let plain = Letterhead {
        name: "Skarholm".into(),
        lines: vec!["Quay 4".into()],
        closing: String::new(),
        language: Language::De,
        country: "XS".into(),
    };
    plain.check().unwrap();
    let field = |changed: Letterhead| changed.check().unwrap_err().field.unwrap();
    assert_eq!(field(Letterhead { lines: vec!["x".into(); 7], ..plain.clone() }), "lines");
    assert_eq!(field(Letterhead { name: "x".repeat(121), ..plain.clone() }), "name");
    assert_eq!(field(Letterhead { closing: "x".repeat(1_201), ..plain.clone() }), "closing");
    assert_eq!(field(Letterhead { country: "xs".into(), ..plain }), "country");
}
