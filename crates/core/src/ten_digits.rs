//! Figures of a library that reaches the machine's own exp and log, made the same on every machine.

/// Ten significant digits of a figure without unit: more than anybody reads, and fewer than the last digits in
/// which two machines' functions differ.
pub fn ten_digits(figure: f64) -> f64 {
    format!("{figure:.9e}").parse().unwrap_or(figure)
}

#[cfg(test)]
mod tests {
    use super::ten_digits;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn the_last_digits_of_a_machine_do_not_matter(figure in -1e9f64..1e9) {
            let near = ten_digits(figure);
            prop_assert!((near - figure).abs() <= figure.abs() * 1e-9);
            prop_assert_eq!(ten_digits(near).to_bits(), near.to_bits());
        }
    }

    #[test]
    fn what_is_no_figure_stays_what_it_is() {
        assert!(ten_digits(f64::NAN).is_nan());
        assert_eq!(ten_digits(f64::INFINITY).to_bits(), f64::INFINITY.to_bits());
    }

    /// The places of a rounded figure are counted with it.
    #[test]
    fn powers_of_ten_have_whole_logarithms() {
        for place in -15..=15 {
            assert_eq!(
                libm::log10(format!("1e{place}").parse().unwrap()).to_bits(),
                f64::from(place).to_bits()
            );
        }
    }
}
