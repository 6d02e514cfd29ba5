//! What a tank's charts show: read from the store, as few points as can be told apart, with what is
//! expected behind them and what happened below.

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::log::sheet::Shown;
use reed_core::log::{Entry, Family};
use reed_core::outlook::limits::Limit;
use reed_core::tank::{Analyte, Tank};
use reed_core::units::Units;
use reed_store::{Connection, StoreError, TankId, entries, hours, readings, settings, tanks};

use super::asked::Asked;
use crate::pages::tank::water::{WaterInputs, ahead, bands_of};
use crate::view::{Course, Lane, Lanes, Layer, Level, Mark, Of, Span, WIDE, when_of};

/// So many readings are drawn one by one.
const SINGLE: usize = 70;
/// So many are read one by one; of more, their hours.
const READ_SINGLY: usize = 8_000;
/// Points of a curve at most.
const POINTS: u16 = 460;
/// Things that are drawn without being asked for at most.
const USUAL: usize = 6;

/// Whether what is expected is drawn behind what was read: it takes longer to compute than all else.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Expected {
    /// Room is left for it.
    Left,
    Computed,
}

/// What is drawn.
pub(super) struct Drawn {
    pub(super) tank: Tank,
    pub(super) units: Units,
    /// What was read of the tank, the most important first; whether it is drawn.
    pub(super) choices: Vec<(&'static Analyte, bool)>,
    /// Other tanks.
    pub(super) others: Vec<(TankId, String)>,
    pub(super) sister: Option<String>,
    /// Days ahead are shown, of which something is expected.
    pub(super) is_ahead: bool,
    pub(super) courses: Vec<Course>,
    pub(super) lanes: Lanes,
    /// The points, thing by thing.
    pub(super) shown: Vec<(&'static Analyte, Vec<Shown>)>,
}

/// What was read of one thing of one tank.
struct Read {
    points: Vec<Shown>,
    /// Spreads of single readings; none where several are together.
    spreads: Option<Vec<f64>>,
}

impl Read {
    fn of(
        db: &Connection,
        tank: TankId,
        name: &str,
        analyte: &'static Analyte,
        span: &Span,
    ) -> Result<Self, StoreError> {
        let (from, to) = (span.from, span.to());
        let many = hours::many(db, tank, analyte, from, to)?;
        let point = |from, to, [least, mean, most]: [f64; 3], many| Shown {
            tank: name.to_owned(),
            analyte,
            from,
            to,
            least,
            mean,
            most,
            many,
        };
        if many > READ_SINGLY {
            let of_hour = |hour: hours::Hour| {
                let to = hour.from + SignedDuration::from_hours(1);
                point(hour.from, to, [hour.least, hour.mean, hour.most], hour.many)
            };
            let hours = hours::between(db, tank, analyte, from, to)?;
            return Ok(Self {
                points: thinned(&hours.into_iter().map(of_hour).collect::<Vec<_>>(), span),
                spreads: None,
            });
        }
        let stored = readings::between(db, tank, analyte, from, to)?;
        let spreads = stored.iter().map(|stored| stored.reading.spread).collect();
        let single = stored.iter().map(|stored| {
            let reading = &stored.reading;
            point(reading.taken_at, reading.taken_at, [reading.value; 3], 1)
        });
        let points: Vec<Shown> = single.collect();
        Ok(if points.len() <= SINGLE {
            Self {
                points,
                spreads: Some(spreads),
            }
        } else {
            Self {
                points: thinned(&points, span),
                spreads: None,
            }
        })
    }

    /// As it is drawn, in the keeper's unit.
    fn layer(&self, of: Of, span: &Span, units: &Units) -> Option<Layer> {
        let first = self.points.first()?;
        let unit = units.of(first.analyte.units);
        Some(match &self.spreads {
            Some(spreads) => {
                let dots = self.points.iter().zip(spreads).map(|(point, spread)| {
                    let value = unit.from_base(point.mean);
                    let spread = (unit.from_base(point.mean + spread) - value).abs();
                    (span.day_of(point.from), value, spread)
                });
                Layer::Dots(dots.collect(), of)
            }
            None => {
                let range = self.points.iter().map(|point| {
                    let middle = point.from + point.to.duration_since(point.from) / 2;
                    let values = [point.least, point.mean, point.most];
                    (
                        span.day_of(middle),
                        values.map(|value| unit.from_base(value)),
                    )
                });
                Layer::Range(range.collect(), of)
            }
        })
    }
}

/// Points that lie in the same column of the drawing become one, which keeps their least and their
/// most: a spike of a minute is seen in a year.
fn thinned(points: &[Shown], span: &Span) -> Vec<Shown> {
    let column = |point: &Shown| (f64::from(POINTS) * span.day_of(point.from) / span.days).floor();
    points
        .chunk_by(|one, other| column(one) >= column(other))
        .filter_map(Shown::together)
        .collect()
}

/// Everything that is drawn of a tank.
///
/// `Err` inside holds why a span is none, in a sentence.
pub(super) fn read(
    db: &Connection,
    id: TankId,
    asked: &Asked,
    with: Expected,
    now: DateTime,
) -> Result<Result<Drawn, String>, StoreError> {
    let tank = tanks::latest(db, id)?.tank;
    let units = settings::units(db)?;
    let known = hours::read_of(db, id)?;
    let span = match asked.span(now, hours::first(db, id)?) {
        Ok(span) => span,
        Err(why) => return Ok(Err(why)),
    };
    let others: Vec<(TankId, String)> = tanks::all(db)?
        .into_iter()
        .filter(|other| other.tank_id != id)
        .map(|other| {
            // By their names they are told apart in the tables, the legend and the sheet.
            let name = if other.tank.name == tank.name {
                format!("{}, tank {}", other.tank.name, other.tank_id)
            } else {
                other.tank.name
            };
            (other.tank_id, name)
        })
        .collect();
    let sister = asked
        .beside
        .and_then(|beside| others.iter().find(|(other, _)| *other == beside));
    let mut usual = 0;
    let choices: Vec<(&'static Analyte, bool)> = known
        .iter()
        .map(|(analyte, _)| {
            let is_wanted = if asked.is_usual {
                usual += usize::from(!analyte.is_of_tap());
                !analyte.is_of_tap() && usual <= USUAL
            } else {
                asked.read.contains(analyte)
            };
            (*analyte, is_wanted)
        })
        .collect();
    let is_ahead = span.to() > now && asked.ahead;
    let outlook = if is_ahead && with == Expected::Computed {
        let inputs = WaterInputs::read(db, id, now)?;
        let known = inputs.known();
        let belief = inputs.belief(&known);
        let days = span.days - span.day_of(now);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "days ahead, no more than a few dozen"
        )]
        Some(inputs.outlook(&belief, &known, days.floor() as usize))
    } else {
        None
    };
    let (mut courses, mut shown) = (Vec::new(), Vec::new());
    for (analyte, _) in choices.iter().filter(|(_, is_wanted)| *is_wanted) {
        let own = Read::of(db, id, &tank.name, analyte, &span)?;
        let unit = units.of(analyte.units);
        let mut layers = Vec::new();
        let expected = outlook
            .as_ref()
            .and_then(|outlook| Some((bands_of(outlook, analyte)?, &outlook.days)));
        if let Some((bands, days)) = expected {
            layers.push(Layer::Ahead(ahead(bands, days, span.day_of(now), unit)));
        }
        let mut points = own.points.clone();
        if let Some((other, name)) = sister {
            let read = Read::of(db, *other, name, analyte, &span)?;
            layers.extend(read.layer(Of::Sister, &span, &units));
            points.extend(read.points);
        }
        layers.extend(own.layer(Of::Own, &span, &units));
        let level = Limit::of(analyte, &tank).map(|limit| Level {
            value: unit.from_base(limit.value),
            words: limit.words.to_owned(),
        });
        courses.push(Course {
            id: format!("course-{}", analyte.id),
            title: [analyte.label, unit.symbol]
                .iter()
                .filter(|word| !word.is_empty())
                .copied()
                .collect::<Vec<_>>()
                .join(", "),
            unit: unit.symbol,
            span,
            now,
            size: WIDE,
            reach: starts_at_zero(&points, unit.from_base(0.0)).then_some(0.0),
            layers,
            levels: level.into_iter().collect(),
        });
        shown.push((*analyte, points));
    }
    Ok(Ok(Drawn {
        lanes: lanes(db, id, &span, now, &units)?,
        sister: sister.map(|(_, name)| name.clone()),
        is_ahead,
        tank,
        units,
        choices,
        others,
        courses,
        shown,
    }))
}

/// An axis begins at zero unless that would press everything into its upper half.
fn starts_at_zero(points: &[Shown], zero: f64) -> bool {
    let least = points
        .iter()
        .map(|point| point.least)
        .fold(f64::INFINITY, f64::min);
    let most = points.iter().map(|point| point.most).fold(0.0, f64::max);
    // A unit that does not begin where the first one does has no zero worth drawing.
    zero == 0.0 && least < 0.5 * most
}

/// What happened and is planned, family by family.
fn lanes(
    db: &Connection,
    id: TankId,
    span: &Span,
    now: DateTime,
    units: &Units,
) -> Result<Lanes, StoreError> {
    let kept = entries::since(db, id, span.from)?;
    let standing: Vec<_> = kept
        .iter()
        .filter(|kept| !kept.is_struck() && kept.entry.when.likely() <= span.to())
        .collect();
    let lane = |family: &Family| {
        let is_of = |entry: &Entry| entry.kind().is_some_and(|kind| kind.family == *family);
        let marks: Vec<Mark> = standing
            .iter()
            .filter(|kept| is_of(&kept.entry))
            .map(|kept| Mark {
                day: span.day_of(kept.entry.when.likely()).max(0.0),
                words: format!(
                    "{}: {}",
                    when_of(&kept.entry.when, now),
                    kept.entry.words(units)
                ),
                link: format!("/tanks/{id}/log/{}", kept.id),
            })
            .collect();
        (!marks.is_empty()).then(|| Lane {
            words: family.words(),
            marks,
        })
    };
    Ok(Lanes {
        span: *span,
        now,
        lanes: Family::ALL.iter().filter_map(lane).collect(),
    })
}
