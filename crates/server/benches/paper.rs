//! What paper costs: the certificate of a record as PDF/A with the record inside, and the same record as a
//! digital calibration certificate, each from its frozen bytes. Figures: docs/performance.md.

use std::hint::black_box;
use std::time::Duration;

use criterion::{Criterion, criterion_group, criterion_main};
use ombret::http::Ready;
use ombret::rules::PaperRules;
use ombret::store::records::Issued;
use ombret_core::record::{Letterhead, read_dcc};
use uuid::Uuid;

/// A bench scale of the demo, calibrated with certified weights and approved.
const RECORD: &[u8] = include_bytes!("certified.ombret-job.json");

fn ready() -> Ready {
    let letterhead = Letterhead {
        name: "Skarholm Weights & Scales".into(),
        lines: vec!["Ropewalk 3".into()],
        country: "XS".into(),
        ..Letterhead::default()
    };
    let issued = Issued {
        number: "2026-0001".into(),
        bytes: Vec::new(),
        sha256: String::new(),
        replaced_by: None,
        foreign: false,
    };
    Ready::opened(
        RECORD.to_vec(),
        Some(issued),
        PaperRules { letterhead, review: true, customer_signs: false },
        false,
    )
    .unwrap()
}

fn paper(c: &mut Criterion) {
    let id = Uuid::from_u128(7);
    let address = |n: u32| format!("https://scales.example/jobs/{n}/record");
    assert!(ready().certificate(id, &address(0)).unwrap().starts_with(b"%PDF"));
    let mut group = c.benchmark_group("paper");
    group.sample_size(40).measurement_time(Duration::from_secs(12));
    // Another address each time, so that nothing that was set before is set again.
    let mut n = 0;
    group.bench_function("a certificate as PDF/A, from frozen bytes", |b| {
        b.iter(|| {
            n += 1;
            ready().certificate(black_box(id), &address(n)).unwrap()
        });
    });
    group.bench_function("the same as DCC, from frozen bytes", |b| {
        b.iter(|| ready().dcc(Uuid::nil()).unwrap())
    });
    let text = ready().dcc(Uuid::nil()).unwrap();
    group.bench_function("a DCC read back", |b| b.iter(|| read_dcc(black_box(&text)).unwrap()));
    group.finish();
}

criterion_group!(benches, paper);
criterion_main!(benches);
