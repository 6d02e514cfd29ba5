//! The pH of a day as a drawing, with the readings on it.

use std::fmt::Write as _;

use reed_core::outlook::acidity::{Acidity, BAND};
use reed_core::tank::{Plants, Reading};

use super::Scale;

/// pH through a day, with readings of pH as dots.
pub(crate) fn ph_chart(
    acidity: &Acidity,
    plants: &Plants,
    readings: &[&Reading],
    title: &str,
) -> String {
    let points: Vec<[f64; 3]> = (0..49)
        .map(|half| f64::from(half) / 2.0)
        .map(|hour| [-BAND, 0.0, BAND].map(|deviations| acidity.ph_at(hour, deviations)))
        .collect();
    let all = || {
        points
            .iter()
            .flatten()
            .copied()
            .chain(readings.iter().map(|reading| reading.value))
    };
    let least = (all().fold(f64::INFINITY, f64::min) * 2.0).floor() / 2.0;
    let most = ((all().fold(f64::NEG_INFINITY, f64::max) * 2.0).ceil() / 2.0).max(least + 0.5);
    let scale = Scale {
        width: 520.0,
        height: 250.0,
        across: (0.0, 24.0),
        left: 56.0,
        right: 36.0,
        top: 30.0,
        bottom: 34.0,
        values: (least, most),
    };
    let mut svg = String::with_capacity(4096);
    let _ = write!(
        svg,
        r#"<svg class="chart chart-full" viewBox="0 0 {} {}" role="img" aria-labelledby="ph-day-title"><title id="ph-day-title">{title}</title>"#,
        scale.width, scale.height,
    );
    scale.night(&mut svg, plants);
    scale.hours(&mut svg);
    scale.values(
        &mut svg,
        (0..)
            .map(|step| least + 0.5 * f64::from(step))
            .take_while(|ph| *ph <= most + 1e-9),
        "pH",
    );
    scale.half_hours(&mut svg, &points, "now");
    for reading in readings {
        scale.dot(
            &mut svg,
            (reading.hour_of_day(), reading.value, reading.spread),
            "now",
        );
    }
    svg.push_str("</svg>");
    svg
}

#[cfg(test)]
mod tests {
    use jiff::civil::date;
    use reed_core::document::start;
    use reed_core::outlook::acidity::Acidity;
    use reed_core::tank::{Analyte, Reading};
    use reed_core::twin::Stirring;

    use super::ph_chart;

    /// Every set-up, and readings as far out as pH goes: all that is drawn lies inside, and no
    /// number is none.
    #[test]
    fn everything_drawn_lies_inside() {
        let now = date(2026, 3, 10).at(9, 0, 0, 0);
        for start in start::ALL {
            let tank = start.tank();
            let acidity = Acidity::of(&tank, Stirring::AS_IT_LOOKS, &[], now);
            let readings = [4.0, 7.2, 10.0].map(|value| Reading::usual(Analyte::PH, value, now));
            for dots in [&[][..], &readings.iter().collect::<Vec<_>>()[..]] {
                let svg = ph_chart(&acidity, &tank.plants, dots, "pH");
                assert!(
                    !svg.contains("NaN")
                        && !svg.contains("inf")
                        && svg.matches("<circle").count() == dots.len(),
                    "{}",
                    start.id
                );
                let points = svg
                    .split("points=\"")
                    .skip(1)
                    .filter_map(|rest| rest.split('"').next());
                for point in points.flat_map(|list| list.split_whitespace()) {
                    let (x, y) = point.split_once(',').expect("a pair");
                    let [x, y] = [x, y].map(|number| number.parse::<f64>().expect("a number"));
                    assert!(
                        (0.0..=520.0).contains(&x) && (0.0..=250.0).contains(&y),
                        "{}: {point}",
                        start.id
                    );
                }
            }
        }
    }
}
