//! Readings as a chart shows them: single, or several together; and as a sheet of what is shown.

use jiff::civil::DateTime;

use super::write::guarded;
use crate::tank::Analyte;
use crate::units::Units;

/// The columns of such a sheet. Moments are by the clock beside the tank.
pub const SHOWN_HEADER: [&str; 9] = [
    "tank", "what", "from", "to", "least", "mean", "most", "readings", "unit",
];

/// Readings of one thing together, in its first unit.
#[derive(Clone, Debug, PartialEq)]
pub struct Shown {
    /// The name of the tank.
    pub tank: String,
    /// What was read.
    pub analyte: &'static Analyte,
    /// The first moment.
    pub from: DateTime,
    /// The last moment; the same of a single reading.
    pub to: DateTime,
    /// The least of them.
    pub least: f64,
    /// Their mean.
    pub mean: f64,
    /// The most of them.
    pub most: f64,
    /// How many readings.
    pub many: u32,
}

impl Shown {
    /// Several as one, which keeps the least and the most; none of none.
    pub fn together(points: &[Self]) -> Option<Self> {
        let (first, last) = (points.first()?, points.last()?);
        let many: u32 = points.iter().map(|point| point.many).sum();
        let total: f64 = points
            .iter()
            .map(|point| point.mean * f64::from(point.many))
            .sum();
        let side = |of: fn(&Self) -> f64| points.iter().map(of);
        Some(Self {
            to: last.to,
            least: side(|point| point.least).fold(f64::INFINITY, f64::min),
            mean: total / f64::from(many),
            most: side(|point| point.most).fold(f64::NEG_INFINITY, f64::max),
            many,
            ..first.clone()
        })
    }
}

/// The sheet, in the keeper's units.
pub fn write_shown<'a>(points: impl Iterator<Item = &'a Shown>, units: &Units) -> String {
    let mut csv = csv::Writer::from_writer(Vec::new());
    csv.write_record(SHOWN_HEADER).expect("memory takes all");
    for point in points {
        let unit = units.of(point.analyte.units);
        let print = |value: f64| unit.from_base(value).to_string();
        csv.write_record([
            guarded(&point.tank),
            point.analyte.id.to_owned(),
            point.from.to_string(),
            point.to.to_string(),
            print(point.least),
            print(point.mean),
            print(point.most),
            point.many.to_string(),
            unit.symbol.to_owned(),
        ])
        .expect("memory takes all");
    }
    let bytes = csv.into_inner().expect("memory takes all");
    String::from_utf8(bytes).expect("only text was written")
}
