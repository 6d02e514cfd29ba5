//! The oxygen of a day as a drawing: now, after a change, what is good, what was read.

use std::fmt::Write as _;

use reed_core::outlook::forecast::{Forecast, GOOD_SHARE};
use reed_core::statistics::BAND;
use reed_core::tank::{Plants, Reading};

use super::Scale;

/// A reading as a dot.
#[derive(Clone, Copy)]
pub(crate) struct Dot {
    hour: f64,
    mg_l: f64,
    spread: f64,
    /// Read after the change.
    after: bool,
}

impl Dot {
    /// The dot of an oxygen reading.
    pub(crate) fn of(reading: &Reading, after: bool) -> Self {
        Self {
            hour: reading.hour_of_day(),
            mg_l: reading.value,
            spread: reading.spread,
            after,
        }
    }
}

/// What is drawn.
pub(crate) struct Chart<'a> {
    pub(crate) now: &'a Forecast,
    pub(crate) after: Option<&'a Forecast>,
    pub(crate) plants: Plants,
    pub(crate) dots: &'a [Dot],
    /// Unique on the page, for its title.
    pub(crate) id: &'a str,
}

impl Chart<'_> {
    /// The drawing as SVG.
    pub(crate) fn draw(&self) -> String {
        let scale = self.scale();
        let (_, most_mg_l) = scale.values;
        let mut svg = String::with_capacity(8192);
        let _ = write!(
            svg,
            r#"<svg class="chart chart-full" viewBox="0 0 {} {}" role="img" aria-labelledby="{id}-title"><title id="{id}-title">{}</title>"#,
            scale.width,
            scale.height,
            self.words(),
            id = self.id,
        );
        scale.night(&mut svg, &self.plants);
        let step = if most_mg_l > 10.0 { 4 } else { 2 };
        scale.hours(&mut svg);
        scale.values(
            &mut svg,
            (0..)
                .map(|index| f64::from(index * step))
                .take_while(|mg_l| *mg_l <= most_mg_l),
            "mg/L",
        );
        self.limits(&mut svg, &scale);
        scale.half_hours(&mut svg, &banded(self.now), "now");
        if let Some(after) = self.after {
            scale.half_hours(&mut svg, &banded(after), "after");
        }
        self.labels(&mut svg, &scale);
        for dot in self.dots {
            scale.dot(
                &mut svg,
                (dot.hour, dot.mg_l, dot.spread),
                if dot.after { "after" } else { "now" },
            );
        }
        svg.push_str("</svg>");
        svg
    }

    /// High enough for every curve and every dot.
    fn scale(&self) -> Scale {
        let highest = |forecast: &Forecast| {
            forecast
                .mean
                .iter()
                .zip(&forecast.spread)
                .map(|(mean, sd)| mean + BAND * sd)
                .fold(0.0, f64::max)
        };
        let curves = highest(self.now)
            .max(self.after.map_or(0.0, highest))
            .max(self.now.saturation);
        let most_mg_l = self
            .dots
            .iter()
            .map(|dot| dot.mg_l + dot.spread)
            .fold(curves, f64::max)
            .ceil();
        Scale {
            width: 860.0,
            height: 330.0,
            across: (0.0, 24.0),
            left: 46.0,
            right: 104.0,
            top: 30.0,
            bottom: 34.0,
            values: (0.0, most_mg_l),
        }
    }

    fn words(&self) -> String {
        let lowest = |forecast: &Forecast| {
            format!(
                "{:.1} ± {:.1} mg/L",
                forecast.lowest, forecast.lowest_spread
            )
        };
        let after = self.after.map_or_else(String::new, |after| {
            format!(", after the change {}", lowest(after))
        });
        format!(
            "Oxygen through a day. Lowest now {}{after}; good from {:.1} mg/L.",
            lowest(self.now),
            GOOD_SHARE.value * self.now.saturation
        )
    }

    fn limits(&self, svg: &mut String, scale: &Scale) {
        let good = GOOD_SHARE.value * self.now.saturation;
        for (mg_l, class, words) in [
            (good, "good", "good from here"),
            (self.now.act_below(), "act", "act below"),
        ] {
            let y = scale.y(mg_l);
            let (from, to) = (scale.x(0.0), scale.x(24.0));
            let _ = write!(
                svg,
                r#"<line class="limit limit-{class}" x1="{from:.1}" x2="{to:.1}" y1="{y:.1}" y2="{y:.1}"/>"#
            );
            let _ = write!(
                svg,
                r#"<text class="limit-word" x="{:.1}" y="{:.1}">{words}</text>"#,
                to + 6.0,
                y + 4.0
            );
        }
    }

    fn labels(&self, svg: &mut String, scale: &Scale) {
        // Beside the end of each curve; moved apart where they would lie over each other or over
        // the words of a limit.
        let taken = [
            scale.y(GOOD_SHARE.value * self.now.saturation),
            scale.y(self.now.act_below()),
        ];
        let mut placed = taken.to_vec();
        let ends = [
            (Some(self.now), "now", "as it is now"),
            (self.after, "after", "after"),
        ];
        for (forecast, class, words) in ends
            .into_iter()
            .filter_map(|(forecast, class, words)| Some((forecast?, class, words)))
        {
            let wanted = scale.y(*forecast.mean.last().unwrap_or(&0.0));
            let free = (0..12)
                .flat_map(|step| [f64::from(step) * 6.0, f64::from(step) * -6.0])
                .map(|shift| wanted + shift);
            let y = free
                .into_iter()
                .find(|y| placed.iter().all(|other| (other - y).abs() >= 15.0))
                .unwrap_or(wanted);
            placed.push(y);
            let _ = write!(
                svg,
                r#"<text class="curve-word word-{class}" x="{:.1}" y="{:.1}">{words}</text>"#,
                scale.x(24.0) + 6.0,
                y + 4.0
            );
        }
    }
}

/// Low, likely and high of a forecast at each half hour.
fn banded(forecast: &Forecast) -> Vec<[f64; 3]> {
    forecast
        .mean
        .iter()
        .zip(&forecast.spread)
        .map(|(mean, sd)| [mean - BAND * sd, *mean, mean + BAND * sd])
        .collect()
}

/// An hour of the day in figures, mg/L.
pub(crate) struct HourRow {
    pub(crate) hour: String,
    pub(crate) now: String,
    /// After a change; a dash where there is none.
    pub(crate) after: String,
}

/// The same as figures, for those who read rather than look.
pub(crate) fn table(now: &Forecast, after: Option<&Forecast>) -> Vec<HourRow> {
    let value = |(mean, spread): (f64, f64)| format!("{mean:.1} ± {spread:.1}");
    (0..24)
        .step_by(3)
        .map(|hour| {
            let at = f64::from(hour);
            HourRow {
                hour: format!("{hour:02}:00"),
                now: value(now.at(at)),
                after: after.map_or_else(|| "–".to_owned(), |after| value(after.at(at))),
            }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::{Chart, Dot, HourRow, table};
    use reed_core::document::Document;
    use reed_core::outlook::forecast::Ensemble;
    use reed_core::remedy::change;
    use reed_core::tank::{Analyte, Reading, Tank};

    fn numbers(svg: &str, attribute: &str) -> Vec<f64> {
        let parts = svg
            .split(attribute)
            .skip(1)
            .filter_map(|rest| rest.split('"').next());
        parts
            .flat_map(|list| {
                list.trim()
                    .split([',', ' '])
                    .map(|number| number.parse().expect("a finite number"))
                    .collect::<Vec<_>>()
            })
            .collect()
    }

    #[test]
    fn everything_drawn_lies_inside_the_drawing_whatever_the_readings() {
        for (file, text) in reed_fixtures::examples() {
            let document = Document::read(&text).expect("an example").document;
            let believed = Ensemble::of_tank(&document.tank);
            let (now, after) = (
                believed.forecast(Tank::clone),
                believed
                    .forecast(|tank| change::by_id("add-air-stone").expect("listed").apply(tank)),
            );
            let at = document.as_of.expect("dated");
            let dots = [0.0, 3.0, 24.9]
                .map(|value| Dot::of(&Reading::usual(Analyte::OXYGEN, value, at), true));
            let chart = Chart {
                now: &now,
                after: Some(&after),
                plants: document.tank.plants,
                dots: &dots,
                id: "day",
            };
            let svg = chart.draw();
            let points = numbers(&svg, "points=\"");
            assert_eq!(
                points.len(),
                2 * (2 * 98 + 2 * 49),
                "{file}: two bands and two curves"
            );
            assert!(
                points
                    .chunks(2)
                    .all(|point| (0.0..=860.0).contains(&point[0])
                        && (0.0..=330.0).contains(&point[1])),
                "{file}"
            );
            assert!(
                numbers(&svg, "cy=\"")
                    .iter()
                    .all(|y| (0.0..=330.0).contains(y)),
                "{file}"
            );
        }
    }

    #[test]
    fn the_table_says_what_the_curves_say() {
        let tank = Document::read(&reed_fixtures::example("waiting-room"))
            .expect("an example")
            .document
            .tank;
        let now = Ensemble::of_tank(&tank).forecast(Tank::clone);
        let rows = table(&now, None);
        assert_eq!(rows.len(), 8);
        let HourRow {
            hour,
            now: level,
            after,
        } = &rows[2];
        let expected = format!("{:.1} ± {:.1}", now.mean[12], now.spread[12]);
        assert_eq!([hour, level, after], ["06:00", &expected, "–"]);
    }
}
