//! `ombret calc`: one question a line in, one answer a line out, in order.

use std::io::{BufRead, Write};

use ombret_core::calc::{answer, rules};

/// Longest question, in bytes; a longer line is answered, not read.
const LONGEST: usize = 1 << 20;

/// Answers every line of `input`.
///
/// # Errors
/// Where reading or writing fails.
pub fn calc(mut input: impl BufRead, mut output: impl Write) -> std::io::Result<()> {
    let mut line = Vec::new();
    while input.read_until(b'\n', &mut line)? > 0 {
        let text = String::from_utf8_lossy(&line);
        let question = text.trim_end_matches(['\n', '\r']);
        let reply =
            if line.len() > LONGEST { answer("\"a line longer than a mebibyte\"") } else { answer(question) };
        writeln!(output, "{reply}")?;
        line.clear();
    }
    output.flush()
}

/// Names the rules.
///
/// # Errors
/// Where writing fails.
pub fn list_rules(mut output: impl Write) -> std::io::Result<()> {
    rules().try_for_each(|(number, about)| writeln!(output, "{number:<4} {about}"))
}
