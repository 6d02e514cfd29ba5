//! A sump from the front, with its levels.

use reed_core::filter::sump_levels::SumpLevels;
use reed_core::tank::Sump;

use super::pen::{Num, Pen};

/// A sump from the front, to scale: running levels, what runs down when the pump stops, the highest
/// safe level of the return chamber.
pub(crate) fn sump_drawing(sump: &Sump, levels: &SumpLevels) -> String {
    let mut pen = Pen::new();
    let long: f64 = sump
        .chambers
        .iter()
        .map(|chamber| chamber.length.as_cm())
        .sum::<f64>()
        .max(1.0);
    let high = sump.height.as_cm();
    let scale = 116.0 / long.max(high * 1.6);
    let (wide, tall) = (long * scale, high * scale);
    let floor = tall + 12.0;
    pen.raw(format_args!(
        r#"<svg class="cutaway sump-levels" viewBox="0 0 124 {}" role="img" aria-label="The sump from the front, with its running levels and the highest safe one">"#,
        Num(floor + 12.0)
    ));
    let mut x = 4.0;
    for (index, chamber) in sump.chambers.iter().enumerate() {
        let (own, level) = (
            chamber.length.as_cm() * scale,
            chamber.level.as_cm() * scale,
        );
        let is_return = sump.return_at() == Some(index);
        pen.rect(
            "cut-rise",
            (x, floor - tall),
            (own, (tall - level).max(0.0)),
            0.0,
        );
        pen.rect("cut-water", (x, floor - level), (own, level), 0.0);
        pen.line(
            "cut-baffle",
            (x + own, floor - (level + 2.0).min(tall)),
            (x + own, floor),
        );
        pen.text("cut-words", (x + 1.0, floor + 8.0), chamber.role.words());
        if let Some(highest) = levels.highest_cm.filter(|_| is_return) {
            let y = floor - (highest * scale).min(tall);
            pen.line("cut-mark", (x, y), (x + own, y));
        }
        x += own;
    }
    pen.rect("cut-housing", (4.0, floor - tall), (wide, tall), 1.0);
    pen.raw("</svg>");
    pen.finish()
}
