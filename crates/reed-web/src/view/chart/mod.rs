//! Charts, as SVG made here: one engine for a day and for years. They stand without scripts, print,
//! follow the theme, and can be taken away as they are.

mod course;
mod oxygen_day;
mod ph_day;

use std::fmt::Write as _;

use reed_core::tank::Plants;

pub(crate) use course::{Course, HALF, Lane, Lanes, Layer, Level, Mark, Of, Span, WIDE, stacked};
pub(crate) use oxygen_day::{Chart, Dot, HourRow, table};
pub(crate) use ph_day::ph_chart;

/// Where things lie, in the drawing's own units.
struct Scale {
    width: f64,
    height: f64,
    /// What lies at the left edge and at the right one: hours of a day, days of a span.
    across: (f64, f64),
    left: f64,
    right: f64,
    top: f64,
    bottom: f64,
    /// Values at the foot and at the top.
    values: (f64, f64),
}

impl Scale {
    fn x(&self, at: f64) -> f64 {
        let (from, to) = self.across;
        self.left + (self.width - self.left - self.right) * (at - from) / (to - from)
    }

    fn y(&self, value: f64) -> f64 {
        let (least, most) = self.values;
        self.height
            - self.bottom
            - (self.height - self.top - self.bottom)
                * ((value - least) / (most - least)).clamp(0.0, 1.0)
    }

    /// Lines at these values, and what is drawn at the top.
    fn values(&self, svg: &mut String, values: impl Iterator<Item = f64>, what: &str) {
        let (from, to) = self.across;
        for value in values {
            let y = self.y(value);
            let _ = write!(
                svg,
                r#"<line class="gridline" x1="{:.1}" x2="{:.1}" y1="{y:.1}" y2="{y:.1}"/><text class="tick" x="{:.1}" y="{:.1}" text-anchor="end">{value}</text>"#,
                self.x(from),
                self.x(to),
                self.left - 8.0,
                y + 4.0,
            );
        }
        let _ = write!(
            svg,
            r#"<text class="tick" x="{:.1}" y="{:.1}" text-anchor="start">{what}</text>"#,
            self.left, 18.0
        );
    }

    /// Hours of a day at the foot.
    fn hours(&self, svg: &mut String) {
        for hour in [0.0, 6.0, 12.0, 18.0, 24.0] {
            let _ = write!(
                svg,
                r#"<text class="tick" x="{:.1}" y="{:.1}" text-anchor="middle">{hour:02}:00</text>"#,
                self.x(hour),
                self.height - 12.0
            );
        }
    }

    /// Shades the hours without light.
    fn night(&self, svg: &mut String, plants: &Plants) {
        let on = plants.lights_on.as_hours();
        let off = on + plants.light.as_hours();
        let dark = if off <= 24.0 {
            [(0.0, on), (off, 24.0)]
        } else {
            [(off - 24.0, on), (24.0, 24.0)]
        };
        for (from, to) in dark {
            let (x, width) = (self.x(from), self.x(to) - self.x(from));
            let _ = write!(
                svg,
                r#"<rect class="night" x="{x:.1}" y="{:.1}" width="{width:.1}" height="{:.1}"/>"#,
                self.top,
                self.height - self.top - self.bottom
            );
        }
    }

    /// A curve of a day with its band: low, likely and high at each half hour from midnight on.
    fn half_hours(&self, svg: &mut String, points: &[[f64; 3]], class: &str) {
        // In a small chart half hours would lie closer than anybody sees.
        let every = if self.x(0.5) - self.x(0.0) < CLOSE_PX {
            2
        } else {
            1
        };
        let at: Vec<(f64, [f64; 3])> = (0..)
            .map(|index| f64::from(index) / 2.0)
            .zip(points.iter().copied())
            .step_by(every)
            .collect();
        self.curve(svg, &at, class);
    }

    /// A curve with its band: at each place low, likely and high.
    fn curve(&self, svg: &mut String, points: &[(f64, [f64; 3])], class: &str) {
        let _ = write!(svg, r#"<polygon class="band band-{class}" points=""#);
        for (at, [.., high]) in points {
            point(svg, self.x(*at), self.y(*high));
        }
        for (at, [low, ..]) in points.iter().rev() {
            point(svg, self.x(*at), self.y(*low));
        }
        let _ = write!(svg, r#""/><polyline class="curve curve-{class}" points=""#);
        for (at, [_, likely, _]) in points {
            point(svg, self.x(*at), self.y(*likely));
        }
        svg.push_str("\"/>");
    }

    /// A value with its spread.
    fn dot(&self, svg: &mut String, (at, value, spread): (f64, f64, f64), class: &str) {
        let (x, y) = (self.x(at), self.y(value));
        let (top, bottom) = (self.y(value + spread), self.y(value - spread));
        let _ = write!(
            svg,
            r#"<g class="dot dot-{class}"><line x1="{x:.1}" x2="{x:.1}" y1="{top:.1}" y2="{bottom:.1}"/><circle cx="{x:.1}" cy="{y:.1}" r="5"/></g>"#
        );
    }
}

/// Points of a curve closer than this are left out.
const CLOSE_PX: f64 = 8.0;

/// Writes a point of a curve, to a tenth. A page has a thousand of them, and exact decimal
/// formatting of floats took a quarter of its time.
fn point(svg: &mut String, x: f64, y: f64) {
    #[expect(
        clippy::cast_possible_truncation,
        reason = "coordinates of a drawing, below a thousand"
    )]
    let [x, y] = [x, y].map(|value| (value * 10.0).round() as i32);
    let _ = write!(svg, "{}.{},{}.{} ", x / 10, x % 10, y / 10, y % 10);
}
