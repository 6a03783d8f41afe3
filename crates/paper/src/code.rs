//! The square code that leads from paper to the record. Source: ISO/IEC 18004.

use qrcode::render::svg;
use qrcode::{EcLevel, QrCode};

/// A text as a square code; none where it is too long for one.
pub fn qr_svg(text: &str) -> Option<String> {
    let code = QrCode::with_error_correction_level(text, EcLevel::M).ok()?;
    Some(
        code.render::<svg::Color<'_>>()
            .min_dimensions(120, 120)
            .quiet_zone(true)
            .dark_color(svg::Color("#16202a"))
            .light_color(svg::Color("#ffffff"))
            .build(),
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_text_becomes_a_drawing_and_one_that_is_too_long_none() {
        let told = qr_svg("https://scales.example/jobs/1/record").unwrap();
        assert!(told.contains("<svg") && told.contains("path"));
        assert_ne!(told, qr_svg("https://scales.example/jobs/2/record").unwrap());
        assert!(qr_svg(&"x".repeat(4_000)).is_none());
    }
}
