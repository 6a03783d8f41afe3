//! Sheets are set, are the same for the same data, and take any text as text.

#![allow(
    clippy::unwrap_used,
    clippy::float_cmp,
    reason = "what cannot be had fails a test and says where; figures of a test are small and meant"
)]

use ombret_paper::{Beside, Sheet, pdf, qr_svg, svg};
use serde_json::{Value, json};
use time::macros::datetime;

const DAY: time::OffsetDateTime = datetime!(2026-11-25 09:30 UTC);

fn certificate(other: Value) -> Value {
    let mut data = json!({
        "certificate": true, "lang": "en", "title": "Calibration certificate", "number": "2026-0042", "keywords": ["WT-07"], "draft": null, "version": null, "replaced": null,
        "letterhead": {"name": "Skarholm Scales", "lines": ["Quay 4"]}, "verdict": "In tolerance", "good": true, "statement": "All 3 readings lie within.",
        "facts": [["Scale", "Wool table"], ["Serial", "WT-07"]],
        "tables": [{"title": "As left", "about": "Max 870 kg, d = 0.2 kg", "head": ["Load", "Shown", "Error", "U", "MPE", "Verdict"], "rows": [{"cells": ["200 kg", "200.2 kg", "+0.2 kg", "0.12 kg", "±0.2 kg", "within"], "within": true}]}],
        "drawing": false, "drawing_says": "", "sections": [{"title": "Weights used", "lines": ["Traceable."], "table": {"head": ["Nominal"], "rows": [["200 kg"]]}}],
        "signatures": [{"role": "Signed by", "name": "Ebba Lund", "at": "2026-11-25"}], "closing": "", "end": "End of 2026-0042", "foot": "Whole only.", "page": "Page", "of": "of", "qr": true,
        "address": "https://scales.example/jobs/1/record", "attachment": {"name": "record.json", "description": "The record"}
    });
    data.as_object_mut().unwrap().extend(other.as_object().unwrap().clone());
    data
}

fn beside() -> Vec<Beside> {
    vec![
        Beside { name: "record.json".into(), bytes: b"{}".to_vec() },
        Beside {
            name: "qr.svg".into(),
            bytes: qr_svg("https://scales.example/jobs/1/record").unwrap().into_bytes(),
        },
    ]
}

fn set(other: Value) -> Vec<u8> {
    pdf(Sheet::Certificate, &certificate(other), beside(), "record/1", DAY).unwrap()
}

#[test]
fn the_same_record_on_the_same_day_gives_the_same_bytes_and_another_other_ones() {
    let first = set(json!({}));
    assert!(first.starts_with(b"%PDF-1.7"));
    assert_eq!(first, set(json!({})));
    assert_ne!(first, set(json!({"number": "2026-0043"})));
}

#[test]
fn any_text_is_text_and_what_no_face_has_is_no_reason_to_fail() {
    for odd in [
        "#panic(\"no\") $ * _ ` @ <a> // /* \\",
        "计量 \u{1F600} \u{7}\u{200b}",
        "",
        "= head\n- list",
        &"long ".repeat(400),
    ] {
        set(
            json!({"statement": odd, "closing": odd, "letterhead": {"name": odd, "lines": [odd]}, "facts": [["Scale", odd]]}),
        );
    }
}

#[test]
fn a_long_record_takes_more_pages() {
    let row =
        json!({"cells": ["200 kg", "200.2 kg", "+0.2 kg", "0.12 kg", "±0.2 kg", "within"], "within": true});
    let rows: Vec<Value> = std::iter::repeat_n(row, 120).collect();
    let long = set(
        json!({"tables": [{"title": "As left", "about": "", "head": ["Load", "Shown", "Error", "U", "MPE", "Verdict"], "rows": rows}]}),
    );
    assert!(long.len() > set(json!({})).len());
}

#[test]
fn a_label_is_set_as_pdf_and_as_svg() {
    let label = json!({"title": "Wool table", "lang": "en", "workshop": "Skarholm", "scale": "Wool table", "number": "2026-0042", "rows": [["Done", "2026-11-25"], ["Due", "2027-11-25"]], "qr": true});
    assert!(pdf(Sheet::Label, &label, beside(), "label/1", DAY).unwrap().starts_with(b"%PDF-1.7"));
    assert!(svg(Sheet::Label, &label, beside(), DAY).unwrap().starts_with("<svg"));
}

#[test]
fn a_sheet_without_its_data_says_what_it_misses() {
    let told = pdf(Sheet::Label, &json!({}), Vec::new(), "x", DAY).unwrap_err().to_string();
    assert!(told.contains("title"), "{told}");
}
