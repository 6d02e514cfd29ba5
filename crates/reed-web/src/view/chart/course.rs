//! A quantity over days and years: what was read, what is expected, its limits; and what happened
//! meanwhile, in lanes of its own under the same days.

use std::fmt::Write as _;

use jiff::civil::DateTime;
use reed_core::units::{days_of, span_of_days};

use super::{Scale, point};
use crate::view::drawing::escaped;

/// The style of a chart that stands alone; on a page the page has it.
const STYLE: &str = include_str!("../../../assets/css/parts/course.css");

/// Labels at the foot at most.
const MOST_LABELS: f64 = 8.0;
/// Marks of a lane closer than this are one, px.
const CLOSE_MARKS_PX: f64 = 5.0;
/// A curve does not bridge a longer time without a reading, as a share of what is shown.
const LONGEST_BRIDGE: f64 = 0.06;
const LANE_HEIGHT: f64 = 34.0;

/// From when, and for how many days.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Span {
    pub(crate) from: DateTime,
    pub(crate) days: f64,
}

/// How large a course is drawn, in units of its own: letters are as large in each.
#[derive(Clone, Copy)]
pub(crate) struct Size {
    width: f64,
    height: f64,
}

/// Across a page.
pub(crate) const WIDE: Size = Size {
    width: 760.0,
    height: 210.0,
};

/// Two beside each other.
pub(crate) const HALF: Size = Size {
    width: 520.0,
    height: 190.0,
};

const LEFT: f64 = 48.0;
const RIGHT: f64 = 14.0;

/// Whose.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Of {
    /// The tank's own.
    Own,
    /// Of the tank it is compared with.
    Sister,
}

impl Of {
    const fn class(self) -> &'static str {
        match self {
            Self::Own => "own",
            Self::Sister => "sister",
        }
    }
}

/// A part of the drawing; days count from the beginning of the span.
#[derive(Clone, Debug)]
pub(crate) enum Layer {
    /// What is expected: low, likely and high.
    Ahead(Vec<(f64, [f64; 3])>),
    /// Many readings, some together: the least, the mean and the most of each.
    Range(Vec<(f64, [f64; 3])>, Of),
    /// Single readings with their spread.
    Dots(Vec<(f64, f64, f64)>, Of),
}

/// A level with what it means.
#[derive(Clone, Debug)]
pub(crate) struct Level {
    pub(crate) value: f64,
    pub(crate) words: String,
}

/// A quantity over a span.
pub(crate) struct Course {
    /// Unique on the page, for its title.
    pub(crate) id: String,
    /// What is drawn, in words.
    pub(crate) title: String,
    /// Its unit.
    pub(crate) unit: &'static str,
    pub(crate) span: Span,
    pub(crate) now: DateTime,
    pub(crate) size: Size,
    /// The axis reaches at least so far from zero; `None` where it need not begin there.
    pub(crate) reach: Option<f64>,
    pub(crate) layers: Vec<Layer>,
    pub(crate) levels: Vec<Level>,
}

/// Something that happened.
pub(crate) struct Mark {
    pub(crate) day: f64,
    pub(crate) words: String,
    pub(crate) link: String,
}

/// What happened of one kind.
pub(crate) struct Lane {
    pub(crate) words: &'static str,
    pub(crate) marks: Vec<Mark>,
}

/// What happened, under the same days as the courses above.
pub(crate) struct Lanes {
    pub(crate) span: Span,
    pub(crate) now: DateTime,
    pub(crate) lanes: Vec<Lane>,
}

impl Span {
    /// Days from its beginning.
    pub(crate) fn day_of(&self, at: DateTime) -> f64 {
        days_of(at.duration_since(self.from))
    }

    /// Where it ends.
    pub(crate) fn to(&self) -> DateTime {
        let span = span_of_days(self.days).unwrap_or_default();
        self.from.checked_add(span).unwrap_or(DateTime::MAX)
    }

    /// Where the foot is labelled, and how: whole hours, days, weeks, months or years.
    fn labels(&self) -> Vec<(f64, String)> {
        let steps = STEPS
            .iter()
            .find(|step| self.days / step.days() <= MOST_LABELS);
        let step = steps.unwrap_or(&Step::Years(10));
        let mut at = step.first(self.from);
        let mut labels = Vec::new();
        while at <= self.to() {
            if at >= self.from {
                labels.push((self.day_of(at), step.words(at)));
            }
            match step.next(at) {
                Some(next) if next > at => at = next,
                _ => break,
            }
        }
        labels
    }
}

/// From one label to the next.
enum Step {
    Hours(i8),
    Days(i8),
    Weeks(i8),
    Months(i8),
    Years(i16),
}

const STEPS: &[Step] = &[
    Step::Hours(1),
    Step::Hours(3),
    Step::Hours(6),
    Step::Hours(12),
    Step::Days(1),
    Step::Days(2),
    Step::Weeks(1),
    Step::Weeks(2),
    Step::Months(1),
    Step::Months(3),
    Step::Months(6),
    Step::Years(1),
    Step::Years(2),
    Step::Years(5),
];

impl Step {
    /// Its length, roughly.
    fn days(&self) -> f64 {
        match self {
            Self::Hours(hours) => f64::from(*hours) / 24.0,
            Self::Days(days) => f64::from(*days),
            Self::Weeks(weeks) => 7.0 * f64::from(*weeks),
            Self::Months(months) => 30.4 * f64::from(*months),
            Self::Years(years) => 365.25 * f64::from(*years),
        }
    }

    /// No later than this moment.
    fn first(&self, from: DateTime) -> DateTime {
        let date = from.date();
        let date = match self {
            Self::Hours(_) | Self::Days(_) => date,
            Self::Weeks(_) => {
                let since_monday = i64::from(date.weekday().to_monday_zero_offset());
                date.checked_sub(jiff::Span::new().days(since_monday))
                    .unwrap_or(date)
            }
            Self::Months(_) => date.first_of_year(),
            Self::Years(_) => date.first_of_year(),
        };
        date.at(0, 0, 0, 0)
    }

    fn next(&self, at: DateTime) -> Option<DateTime> {
        let span = jiff::Span::new();
        let span = match self {
            Self::Hours(hours) => span.hours(*hours),
            Self::Days(days) => span.days(*days),
            Self::Weeks(weeks) => span.weeks(*weeks),
            Self::Months(months) => span.months(*months),
            Self::Years(years) => span.years(*years),
        };
        at.checked_add(span).ok()
    }

    fn words(&self, at: DateTime) -> String {
        let form = match self {
            Self::Hours(_) if at.hour() != 0 => "%H:%M",
            Self::Hours(_) | Self::Days(_) | Self::Weeks(_) => "%-d %b",
            Self::Months(_) if at.month() != 1 => "%b",
            Self::Months(_) | Self::Years(_) => "%Y",
        };
        at.strftime(form).to_string()
    }
}

impl Layer {
    /// Every value that must find room.
    fn values(&self) -> Vec<f64> {
        match self {
            Self::Ahead(points) | Self::Range(points, _) => {
                points.iter().flat_map(|(_, values)| *values).collect()
            }
            Self::Dots(dots, _) => dots
                .iter()
                .flat_map(|(_, value, spread)| [value - spread, *value, value + spread])
                .collect(),
        }
    }
}

impl Course {
    /// Values at the foot and at the top, and where lines lie between them.
    fn values(&self) -> ((f64, f64), Vec<f64>) {
        let all: Vec<f64> = self.layers.iter().flat_map(Layer::values).collect();
        let least = all.iter().copied().fold(f64::INFINITY, f64::min);
        let most = all.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let (least, most) = if least > most {
            (0.0, 1.0)
        } else {
            (least, most)
        };
        // A limit is shown unless everything lies far below it.
        let levels = || self.levels.iter().map(|level| level.value);
        let near = levels().filter(|value| *value < 3.0 * most);
        let most = near.fold(most, f64::max);
        let (low, high) = match self.reach {
            Some(reach) if most.max(reach) > 0.0 => (0.0, most.max(reach) * 1.08),
            Some(_) => (0.0, 1.0),
            None => {
                let room = (0.12 * (most - least)).max(0.02 * most.abs()).max(1e-3);
                (least - room, most + room)
            }
        };
        let step = round_step((high - low) / 4.0);
        let first = (low / step).ceil();
        let lines = (0..12)
            .map(|index| (first + f64::from(index)) * step)
            .take_while(|value| *value <= high)
            // So that it prints as it is read.
            .map(|value| (value * 1e6).round() / 1e6)
            .collect();
        ((low, high), lines)
    }

    fn scale(&self, values: (f64, f64)) -> Scale {
        Scale {
            width: self.size.width,
            height: self.size.height,
            across: (0.0, self.span.days),
            left: LEFT,
            right: RIGHT,
            top: 26.0,
            bottom: 30.0,
            values,
        }
    }

    /// Where the first day lies and how wide a day is, as shares of the whole width: what moves on
    /// top of the drawing goes by it.
    pub(crate) fn shares(&self) -> (f64, f64) {
        let plot = self.size.width - LEFT - RIGHT;
        (
            LEFT / self.size.width,
            plot / self.size.width / self.span.days,
        )
    }

    /// The drawing as SVG.
    pub(crate) fn draw(&self) -> String {
        let (values, lines) = self.values();
        let scale = self.scale(values);
        let mut svg = String::with_capacity(16 * 1024);
        let _ = write!(
            svg,
            r#"<svg xmlns="http://www.w3.org/2000/svg" class="course{}" viewBox="0 0 {} {}" role="img" aria-labelledby="{id}-title"><title id="{id}-title">{}</title>"#,
            if self.size.width > HALF.width {
                " wide"
            } else {
                ""
            },
            scale.width,
            scale.height,
            escaped(&self.title),
            id = self.id,
        );
        scale.values(&mut svg, lines.into_iter(), self.unit);
        foot(&mut svg, &scale, &self.span);
        today(&mut svg, &scale, self.span.day_of(self.now));
        for layer in &self.layers {
            layer.draw(&mut svg, &scale);
        }
        for level in &self.levels {
            self.level(&mut svg, &scale, level);
        }
        svg.push_str("</svg>");
        svg
    }

    fn level(&self, svg: &mut String, scale: &Scale, level: &Level) {
        let (low, high) = scale.values;
        if !(low..=high).contains(&level.value) {
            return;
        }
        let (y, to) = (scale.y(level.value), scale.x(self.span.days));
        let _ = write!(
            svg,
            r#"<line class="limit" x1="{:.1}" x2="{to:.1}" y1="{y:.1}" y2="{y:.1}"/>"#,
            scale.x(0.0)
        );
        // In the keeper's way nowhere else: what lies beside a drawing of half the width says it.
        if self.size.width > HALF.width {
            let _ = write!(
                svg,
                r#"<text class="limit-word" x="{:.1}" y="{:.1}" text-anchor="end">{}</text>"#,
                to - 4.0,
                y - 5.0,
                escaped(&level.words)
            );
        }
    }
}

impl Layer {
    fn draw(&self, svg: &mut String, scale: &Scale) {
        match self {
            Self::Ahead(points) => scale.curve(svg, points, "ahead"),
            Self::Range(points, of) => {
                let (from, to) = scale.across;
                let longest = LONGEST_BRIDGE * (to - from);
                for part in points.chunk_by(|(one, _), (other, _)| other - one <= longest) {
                    scale.curve(svg, part, of.class());
                }
            }
            Self::Dots(dots, of) => {
                let _ = write!(
                    svg,
                    r#"<polyline class="curve-link curve-link-{}" points=""#,
                    of.class()
                );
                for (at, value, _) in dots {
                    point(svg, scale.x(*at), scale.y(*value));
                }
                svg.push_str("\"/>");
                for dot in dots {
                    scale.dot(svg, *dot, of.class());
                }
            }
        }
    }
}

impl Lanes {
    fn height(&self) -> f64 {
        LANE_HEIGHT * f64::from(u32::try_from(self.lanes.len()).unwrap_or(u32::MAX)) + 30.0
    }

    /// The drawing as SVG; nothing where nothing happened.
    pub(crate) fn draw(&self) -> String {
        let scale = Scale {
            width: WIDE.width,
            height: self.height(),
            across: (0.0, self.span.days),
            left: LEFT,
            right: RIGHT,
            top: 0.0,
            bottom: 30.0,
            values: (0.0, 1.0),
        };
        if self.lanes.is_empty() {
            return String::new();
        }
        let mut svg = String::with_capacity(16 * 1024);
        let _ = write!(
            svg,
            r#"<svg xmlns="http://www.w3.org/2000/svg" class="course wide lanes" viewBox="0 0 {} {}" role="group" aria-label="What happened">"#,
            scale.width, scale.height
        );
        foot(&mut svg, &scale, &self.span);
        today(&mut svg, &scale, self.span.day_of(self.now));
        for (lane, y) in self
            .lanes
            .iter()
            .zip((0..).map(|row| LANE_HEIGHT * (f64::from(row) + 0.75)))
        {
            let _ = write!(
                svg,
                r#"<line class="gridline" x1="{:.1}" x2="{:.1}" y1="{y:.1}" y2="{y:.1}"/><text class="lane-word" x="{:.1}" y="{:.1}">{}</text>"#,
                scale.x(0.0),
                scale.x(self.span.days),
                scale.x(0.0) + 4.0,
                y - 9.0,
                escaped(lane.words)
            );
            lane.draw(&mut svg, &scale, y);
        }
        svg.push_str("</svg>");
        svg
    }
}

impl Lane {
    fn draw(&self, svg: &mut String, scale: &Scale, y: f64) {
        let close = |one: &Mark, other: &Mark| {
            (scale.x(other.day) - scale.x(one.day)).abs() < CLOSE_MARKS_PX
        };
        for near in self.marks.chunk_by(close) {
            let Some(first) = near.first() else { continue };
            let words: Vec<&str> = near.iter().map(|mark| mark.words.as_str()).collect();
            let _ = write!(
                svg,
                r#"<a href="{}"><title>{}</title><circle class="mark" cx="{:.1}" cy="{y:.1}" r="{}"/></a>"#,
                escaped(&first.link),
                escaped(&words.join("; ")),
                scale.x(first.day),
                if near.len() > 1 { 6 } else { 4 }
            );
        }
    }
}

/// Dates at the foot.
fn foot(svg: &mut String, scale: &Scale, span: &Span) {
    for (day, words) in span.labels() {
        let (x, y) = (scale.x(day), scale.height - scale.bottom);
        let _ = write!(
            svg,
            r#"<line class="gridline" x1="{x:.1}" x2="{x:.1}" y1="{:.1}" y2="{:.1}"/><text class="tick" x="{x:.1}" y="{:.1}" text-anchor="middle">{words}</text>"#,
            scale.top,
            y + 5.0,
            y + 20.0,
        );
    }
}

/// A line where now is, where that is shown and something lies beyond it.
fn today(svg: &mut String, scale: &Scale, day: f64) {
    let (from, to) = scale.across;
    if day > from && day < to {
        let _ = write!(
            svg,
            r#"<line class="now" x1="{x:.1}" x2="{x:.1}" y1="{:.1}" y2="{:.1}"/>"#,
            scale.top,
            scale.height - scale.bottom,
            x = scale.x(day)
        );
    }
}

/// The next 1, 2 or 5 with its power of ten.
fn round_step(about: f64) -> f64 {
    let power = 10_f64.powf(about.log10().floor());
    let share = about / power;
    power
        * if share <= 1.0 {
            1.0
        } else if share <= 2.0 {
            2.0
        } else if share <= 5.0 {
            5.0
        } else {
            10.0
        }
}

/// Courses and lanes one below another, as one picture that stands alone.
pub(crate) fn stacked(courses: &[Course], lanes: &Lanes) -> String {
    const HEADING: f64 = 24.0;
    let drawn = lanes.draw();
    let below = if drawn.is_empty() {
        0.0
    } else {
        lanes.height()
    };
    let height = courses
        .iter()
        .map(|course| course.size.height + HEADING)
        .sum::<f64>()
        + below;
    let mut svg = format!(
        r#"<svg xmlns="http://www.w3.org/2000/svg" class="course-sheet" viewBox="0 0 {width} {height}" width="{width}" height="{height}"><style>{STYLE}</style><rect class="ground" width="{width}" height="{height}"/>"#,
        width = WIDE.width
    );
    let mut y = 0.0;
    let placed = |svg: &mut String, part: &str, y: f64, height: f64| {
        let size = format!(r#"<svg y="{y}" width="{}" height="{height}" "#, WIDE.width);
        svg.push_str(&part.replacen("<svg ", &size, 1));
    };
    for course in courses {
        let _ = write!(
            svg,
            r#"<text class="heading" x="{LEFT}" y="{:.1}">{}</text>"#,
            y + 18.0,
            escaped(&course.title)
        );
        placed(&mut svg, &course.draw(), y + HEADING, course.size.height);
        y += course.size.height + HEADING;
    }
    placed(&mut svg, &drawn, y, below);
    svg.push_str("</svg>\n");
    svg
}

#[cfg(test)]
mod tests {
    use super::{Course, HALF, Layer, Level, Of, Span, WIDE, round_step};
    use jiff::civil::date;

    fn course(days: f64, layers: Vec<Layer>, level: f64, reach: Option<f64>) -> Course {
        let from = date(2024, 11, 5).at(9, 30, 0, 0);
        Course {
            id: "c".to_owned(),
            title: "Nitrate".to_owned(),
            unit: "mg/L",
            span: Span { from, days },
            now: from,
            size: WIDE,
            reach,
            layers,
            levels: vec![Level {
                value: level,
                words: "stay under".to_owned(),
            }],
        }
    }

    /// From an hour to forty years there are labels, not too many, in order, inside.
    #[test]
    fn every_span_has_labels_that_can_be_read() {
        for days in [
            1.0 / 24.0,
            0.5,
            1.0,
            2.0,
            7.0,
            31.0,
            92.0,
            366.0,
            3653.0,
            14_610.0,
        ] {
            let span = course(days, Vec::new(), 1.0, None).span;
            let labels = span.labels();
            assert!((1..=9).contains(&labels.len()), "{days}: {labels:?}");
            assert!(labels.is_sorted_by(|one, other| one.0 < other.0));
            assert!(
                labels
                    .iter()
                    .all(|(day, _)| (0.0..=days + 1e-9).contains(day))
            );
        }
        let year = course(366.0, Vec::new(), 1.0, None).span.labels();
        assert!(year.iter().any(|(_, words)| words == "2025"), "{year:?}");
    }

    /// Whatever the values: finite, inside, and lines at round numbers between foot and top.
    #[test]
    fn everything_drawn_lies_inside_whatever_the_values() {
        let points = |values: &[f64]| -> Vec<(f64, [f64; 3])> {
            values
                .iter()
                .enumerate()
                .map(|(day, value)| (day as f64, [value - 1.0, *value, value + 1.0]))
                .collect()
        };
        for values in [
            &[0.0][..],
            &[7.0, 7.0, 7.0],
            &[-3.0, 1e5],
            &[1e-6, 2e-6],
            &[],
        ] {
            for (reach, level) in [
                (Some(0.0), 40.0),
                (Some(0.2), 40.0),
                (None, 6.9),
                (None, 1e9),
            ] {
                let dots = points(values)
                    .iter()
                    .map(|(day, [_, value, _])| (*day, *value, 0.5))
                    .collect();
                let layers = vec![
                    Layer::Range(points(values), Of::Own),
                    Layer::Dots(dots, Of::Sister),
                    Layer::Ahead(points(values)),
                ];
                let course = course(30.0, layers, level, reach);
                let ((low, high), lines) = course.values();
                assert!(low < high && !lines.is_empty() && lines.len() < 12);
                assert!(lines.iter().all(|line| (low..=high).contains(line)));
                let svg = course.draw();
                assert!(!svg.contains("NaN") && !svg.contains("inf"), "{svg}");
                for list in svg
                    .split("points=\"")
                    .skip(1)
                    .filter_map(|rest| rest.split('"').next())
                {
                    for pair in list.split_whitespace() {
                        let (x, y) = pair.split_once(',').expect("a pair");
                        let [x, y] = [x, y].map(|number| number.parse::<f64>().expect("a number"));
                        assert!(
                            (0.0..=760.0).contains(&x) && (0.0..=210.0).contains(&y),
                            "{pair}"
                        );
                    }
                }
            }
        }
    }

    #[test]
    fn a_curve_does_not_bridge_what_nobody_looked_at() {
        let points = [0.0, 1.0, 2.0, 20.0, 21.0]
            .map(|day| (day, [1.0, 2.0, 3.0]))
            .to_vec();
        let svg = course(30.0, vec![Layer::Range(points, Of::Own)], 1.0, None).draw();
        assert_eq!(svg.matches("curve-own").count(), 2);
    }

    #[test]
    fn days_lie_where_the_page_is_told_that_they_lie() {
        let half = Course {
            size: HALF,
            ..course(74.0, Vec::new(), 1.0, None)
        };
        let (first, day) = half.shares();
        let ((low, high), _) = half.values();
        let scale = half.scale((low, high));
        for at in [0.0, 14.0, 74.0] {
            assert!((scale.x(at) / scale.width - (first + day * at)).abs() < 1e-9);
        }
    }

    #[test]
    fn steps_are_one_two_or_five() {
        for (about, step) in [
            (0.9, 1.0),
            (1.5, 2.0),
            (3.0, 5.0),
            (7.0, 10.0),
            (0.03, 0.05),
            (1200.0, 2000.0),
        ] {
            assert!((round_step(about) - step).abs() < 1e-9 * step);
        }
    }
}
