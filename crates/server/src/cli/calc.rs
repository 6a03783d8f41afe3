//! `ombret calc`: one question a line in, one answer a line out, in order.

use std::io::{BufRead, Read, Write};

use ombret_core::questions::{answer, rules};

/// Longest question, in bytes; a longer line is answered, not read.
const LONGEST: usize = 1 << 20;

/// Answers every line of `input`.
///
/// # Errors
/// Where reading or writing fails.
pub fn calc(mut input: impl BufRead, mut output: impl Write) -> std::io::Result<()> {
    let mut line = Vec::new();
    let most = u64::try_from(LONGEST).unwrap_or(u64::MAX) + 1;
    while input.by_ref().take(most).read_until(b'\n', &mut line)? > 0 {
        if line.len() > LONGEST && !line.ends_with(b"\n") {
            // The rest of it is thrown away as it comes, not held.
            skip_line(&mut input)?;
        }
        let text = String::from_utf8_lossy(&line);
        let question = text.trim_end_matches(['\n', '\r']);
        let reply =
            if line.len() > LONGEST { answer("\"a line longer than a mebibyte\"") } else { answer(question) };
        writeln!(output, "{reply}")?;
        line.clear();
    }
    output.flush()
}

fn skip_line(input: &mut impl BufRead) -> std::io::Result<()> {
    loop {
        let held = input.fill_buf()?;
        let (end, length) = match held.iter().position(|b| *b == b'\n') {
            Some(at) => (true, at + 1),
            None => (held.is_empty(), held.len()),
        };
        input.consume(length);
        if end {
            return Ok(());
        }
    }
}

/// Names the rules.
///
/// # Errors
/// Where writing fails.
pub fn list_rules(mut output: impl Write) -> std::io::Result<()> {
    rules().try_for_each(|(number, about)| writeln!(output, "{number:<4} {about}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Counts what is held of a line that never seems to end.
    struct Endless {
        left: usize,
        asked: usize,
    }

    impl Read for Endless {
        fn read(&mut self, into: &mut [u8]) -> std::io::Result<usize> {
            let n = into.len().min(self.left);
            into[..n].fill(b'x');
            self.left -= n;
            self.asked += 1;
            Ok(n)
        }
    }

    #[test]
    fn an_over_long_line_is_answered_once_and_what_comes_after_is_read() {
        let long = Endless { left: 40 << 20, asked: 0 };
        let next = "\n{\"rule\": \"R21\", \"input\": {\"unit\": \"kg\", \"max\": {\"value\": \"1\", \"unit\": \"kg\"}, \"targets\": [], \"pieces\": [{\"nominal\": {\"value\": \"0.0000000000000000000000000000000000001\", \"unit\": \"kg\"}, \"usable\": true}]}}\n";
        let mut told = Vec::new();
        calc(std::io::BufReader::new(long.chain(next.as_bytes())), &mut told).unwrap();
        let told = String::from_utf8(told).unwrap();
        let lines: Vec<&str> = told.lines().collect();
        assert_eq!(lines.len(), 2, "{told}");
        assert!(lines[0].contains("bad_line") && lines[1].contains("out_of_range"), "{told}");
    }
}
