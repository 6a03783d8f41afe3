//! A slip of the pen: what was written is not what the display showed.

use super::law::normal;
use super::seen::Facts;

/// The density of what was written less what should have been, in divisions, where that is known with a standard
/// deviation: one digit read as another, two that changed places, a piece that was left out or too much; either
/// sign is as likely.
pub(super) fn density(facts: &Facts, off: f64, sd: f64) -> f64 {
    let near = |at: f64| normal(off.abs() - at, sd);
    let places = libm::log10(facts.n / facts.digit).floor().max(0.0) + 1.0;
    let (mut digits, mut swapped, mut count, mut place) = (0.0, 0.0, 0.0, facts.digit);
    while count < 9.0 * places {
        for by in 1..=9 {
            digits += near(f64::from(by) * place);
            // Two neighbours that changed places: nine times their difference.
            swapped += near(9.0 * f64::from(by) * place);
            count += 1.0;
        }
        place *= 10.0;
    }
    let kinds = facts.kinds();
    #[expect(clippy::cast_precision_loss, reason = "a kit")]
    let pieces = kinds.iter().map(|m| near(*m)).sum::<f64>() / kinds.len().max(1) as f64;
    0.5 * (0.4 * digits / count + 0.25 * swapped / count + 0.2 * pieces) + 0.15 / (2.0 * facts.n)
}

#[cfg(test)]
mod tests {
    use super::super::seen::Facts;
    use super::*;

    #[test]
    fn what_a_slip_makes_is_likelier_than_what_none_makes() {
        let facts = Facts { pieces: vec![130.0], ..Facts::of(3000.0, 1.5) };
        let density = |off: f64| density(&facts, off, 0.4);
        for slip in [7.0, -400.0, 27.0, 130.0, -130.0] {
            assert!(density(slip) > 20.0 * density(slip + 5.5), "{slip}");
        }
    }
}
