//! What the flow model says of the bed, over the view from above.

use reed_core::flow::Facts;

use super::pen::Pen;
use super::view::{Side, View};

/// Radius of the mark of a good place, cm.
const PLACE_CM: f64 = 1.6;
/// Seconds of current that an arrow shows: a centimetre of it is half a centimetre a second.
const ARROW_SECONDS: f64 = 2.0;

/// Where the other view is cut, with a grip to move it by: a line at a height in the view from the
/// front, at a depth in that from above. It is moved and shown by the page's script.
pub(super) fn cut(pen: &mut Pen, view: &View) {
    let (axis, label, most) = match view.side {
        Side::Front => ("z", "Height of the cut that is seen from above", view.level),
        Side::Above => (
            "y",
            "Depth of the cut that is seen from the front",
            view.width,
        ),
    };
    let length = view.length;
    pen.raw(format_args!(
        r#"<g class="cut" data-cut="{axis}" tabindex="0" role="slider" aria-orientation="vertical" aria-label="{label}" aria-valuemin="0" aria-valuemax="{most:.0}" aria-valuenow="0">"#
    ));
    pen.path("cut-line", format_args!("M0 0H{length:.2}"));
    // Fingers are wider than the grip.
    pen.rect("hand", (length, -5.0), (8.0, 10.0), 0.8);
    pen.path(
        "cut-grip",
        format_args!("M{length:.2} 0l2.4 -2.2h4.4v4.4h-4.4z"),
    );
    pen.raw("</g>");
}

/// The share of all muck that rests in each part, and the current over it.
pub(super) fn bed(pen: &mut Pen, view: &View, facts: &Facts) {
    let (rows, columns) = (facts.rests.len(), facts.rests[0].len());
    let (width, depth) = (view.length / columns as f64, view.width / rows as f64);
    let fullest = facts
        .rests
        .iter()
        .flatten()
        .fold(0.01, |most: f64, range| most.max(range.likely));
    pen.raw(r#"<g class="rests" data-layer="rests">"#);
    for (row, parts) in facts.rests.iter().enumerate() {
        for (column, range) in parts.iter().enumerate() {
            let (x, y) = view.place(column as f64 * width, (row + 1) as f64 * depth, 0.0);
            #[expect(
                clippy::cast_possible_truncation,
                clippy::cast_sign_loss,
                reason = "one of six"
            )]
            let heap = (range.likely / fullest * 5.0).round().clamp(0.0, 5.0) as u8;
            pen.rect(&format!("heap heap-{heap}"), (x, y), (width, depth), 0.0);
            if range.likely >= 0.01 {
                let at = (
                    x + width - 0.4 * width.min(depth) / 2.0,
                    y + depth - 0.12 * depth,
                );
                pen.text("heap-share", at, &format!("{:.0} %", range.likely * 100.0));
            }
        }
    }
    pen.raw(r#"</g><g class="currents" data-layer="currents">"#);
    for (row, parts) in facts.bed_cm_s.iter().enumerate() {
        for (column, [right, back]) in parts.iter().enumerate() {
            let (x, y) = view.place(
                (column as f64 + 0.5) * width,
                (row as f64 + 0.5) * depth,
                0.0,
            );
            let (dx, dy) = (right * ARROW_SECONDS, -back * ARROW_SECONDS);
            let long = dx.hypot(dy);
            if long < 0.3 {
                pen.circle("standing", (x, y), 0.5);
                continue;
            }
            // The head: two strokes back from the tip.
            let (ux, uy, head) = (dx / long, dy / long, (long / 2.0).min(1.4));
            let (tip_x, tip_y) = (x + dx / 2.0, y + dy / 2.0);
            pen.path(
                "current",
                format_args!(
                    "M{:.2} {:.2}L{tip_x:.2} {tip_y:.2}M{:.2} {:.2}L{tip_x:.2} {tip_y:.2}L{:.2} {:.2}",
                    x - dx / 2.0,
                    y - dy / 2.0,
                    tip_x - head * (ux - 0.6 * uy),
                    tip_y - head * (uy + 0.6 * ux),
                    tip_x - head * (ux + 0.6 * uy),
                    tip_y - head * (uy - 0.6 * ux)
                ),
            );
        }
    }
    pen.raw("</g>");
}

/// Good places for one more intake, numbered from the best.
pub(super) fn places(pen: &mut Pen, view: &View, facts: &Facts) {
    pen.raw(r#"<g class="places" data-layer="places">"#);
    for (index, spot) in facts.best.iter().enumerate() {
        let (x, y) = view.place(spot.x_cm, spot.y_cm, spot.z_cm);
        pen.circle("good-place", (x, y), PLACE_CM);
        pen.text(
            "good-place-number",
            (x, y + PLACE_CM / 2.0),
            &(index + 1).to_string(),
        );
    }
    pen.raw("</g>");
}
