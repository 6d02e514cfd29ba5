//! The pH of a day as a drawing, with the readings on it.

use std::fmt::Write as _;

use reed_core::acidity::Acidity;
use reed_core::tank::{Plants, Reading};

use super::chart::Scale;

/// A band of nine in ten, in standard deviations.
const BAND: f64 = 1.645;

/// pH through a day, with readings of pH as dots.
pub(crate) fn ph_chart(acidity: &Acidity, plants: &Plants, readings: &[&Reading], title: &str) -> String {
    let points: Vec<[f64; 3]> = (0..49)
        .map(|half| f64::from(half) / 2.0)
        .map(|hour| [-BAND, 0.0, BAND].map(|deviations| acidity.ph_at(hour, deviations)))
        .collect();
    let all = || points.iter().flatten().copied().chain(readings.iter().map(|reading| reading.value));
    let least = (all().fold(f64::INFINITY, f64::min) * 2.0).floor() / 2.0;
    let most = ((all().fold(f64::NEG_INFINITY, f64::max) * 2.0).ceil() / 2.0).max(least + 0.5);
    let scale = Scale { width: 520.0, height: 250.0, left: 56.0, right: 36.0, top: 30.0, bottom: 34.0, values: (least, most) };
    let mut svg = String::with_capacity(4096);
    let _ = write!(
        svg,
        r#"<svg class="chart chart-full" viewBox="0 0 {} {}" role="img" aria-labelledby="ph-day-title"><title id="ph-day-title">{title}</title>"#,
        scale.width, scale.height,
    );
    scale.night(&mut svg, plants);
    scale.axes(&mut svg, (0..).map(|step| least + 0.5 * f64::from(step)).take_while(|ph| *ph <= most + 1e-9), "pH");
    scale.curve(&mut svg, &points, "now");
    for reading in readings {
        scale.dot(&mut svg, (reading.hour_of_day(), reading.value, reading.spread), "now");
    }
    svg.push_str("</svg>");
    svg
}
