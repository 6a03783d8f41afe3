//! `ombret assess FILE`: a job file on the command line.

use std::fmt::Write as _;
use std::path::Path;

use ombret_core::assessment::{Assessment, PhaseView, assess};
use ombret_core::job::open_file;
use ombret_core::journal::{Direction, Entry};

/// Reads a job file and gives its assessment as text.
///
/// # Errors
/// What is wrong with the file.
pub fn assess_file(path: &Path) -> Result<String, Box<dyn std::error::Error>> {
    let bytes = std::fs::read(path)?;
    let (file, state) = open_file(&bytes)?;
    let entries: Vec<Entry> = file.entries.iter().map(|s| s.entry.clone()).collect();
    Ok(text(&assess(&entries, &state)))
}

fn text(a: &Assessment) -> String {
    let mut out = String::new();
    // OK because writing to a string does not fail.
    let mut line = |text: String| {
        let _ = writeln!(out, "{text}");
    };
    line(format!("{} · {} · {}", a.sheet.name, a.sheet.owner, a.sheet.place));
    line(format!(
        "Max {} × d {} · {} · {} entries",
        a.setup.setup.max,
        a.setup.setup.d,
        a.tolerance.label,
        a.entries.len()
    ));
    for stage in &a.stages {
        line(format!("  {:<12} {}", stage.label, stage.says));
    }
    phase(&mut line, "As found", &a.as_found);
    phase(&mut line, "As left", &a.proof);
    line(a.outcome_says.to_string());
    for reservation in &a.reservations {
        line(format!("  ! {reservation}"));
    }
    line(match &a.close.signed {
        Some(name) => format!("Signed by {name}"),
        None => format!("Open. Next: {}", a.next.says),
    });
    out
}

fn phase(line: &mut impl FnMut(String), name: &str, phase: &PhaseView) {
    if phase.readings.is_empty() {
        return;
    }
    line(name.to_owned());
    for r in &phase.readings {
        let direction = if r.direction == Direction::Down { "down" } else { "up" };
        let verdict = match (r.counts, r.within) {
            (false, _) => "does not count",
            (true, true) => "within",
            (true, false) => "OUTSIDE",
        };
        line(format!(
            "  {:>16} {direction:<4} {:>14}  E {:>12}  MPE {:>10}  {verdict}",
            r.load_text, r.shown_text, r.error_text, r.mpe_text
        ));
    }
}
