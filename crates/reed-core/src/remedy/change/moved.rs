//! Where the cards that move things mean them to stand: a few places each, of which the flow of the
//! tank itself chooses.

use crate::tank::thing::{Heading, Kind, Pipe};
use crate::tank::{Move, Moves, Tank, Thing};
use crate::units::Angle;

/// At most so many places of one card.
pub const MOST_PLACES: usize = 6;

/// One end of the tank.
#[derive(Clone, Copy, PartialEq)]
enum End {
    Left,
    Right,
}

impl End {
    const BOTH: [Self; 2] = [Self::Left, Self::Right];

    /// Where these things stand, on the mean.
    fn of(tank: &Tank, things: &[&Thing]) -> Self {
        let sum: f64 = things.iter().map(|thing| thing.x.as_cm()).sum();
        #[expect(clippy::cast_precision_loss, reason = "a handful of things")]
        let mean = sum / things.len().max(1) as f64;
        if mean < tank.glass.length.as_cm() / 2.0 {
            Self::Left
        } else {
            Self::Right
        }
    }

    /// Just off its wall, cm from the left.
    fn x_cm(self, tank: &Tank) -> f64 {
        match self {
            Self::Left => tank.off_wall_cm(),
            Self::Right => tank.glass.length.as_cm() - tank.off_wall_cm(),
        }
    }

    /// Level, away from its wall.
    fn inwards(self) -> Heading {
        let around = match self {
            Self::Left => 0.0,
            Self::Right => 180.0,
        };
        Heading {
            around: Angle::degrees(around),
            up: Angle::degrees(0.0),
        }
    }
}

fn pipes(tank: &Tank, pipe: Pipe) -> Vec<&Thing> {
    tank.things
        .iter()
        .filter(|thing| thing.what.form().pipe() == pipe)
        .collect()
}

/// In the middle of the width, near the front, near the back, cm.
fn across(tank: &Tank) -> [f64; 3] {
    let (width, off) = (tank.glass.width.as_cm(), tank.off_wall_cm());
    [width / 2.0, off, width - off]
}

fn to(thing: &Thing, at: [f64; 3]) -> Move {
    Move {
        thing: thing.number,
        at,
        heading: None,
    }
}

/// The intake that stands farthest from the outlets, low at their end.
pub(super) fn intake_to_outlets_end(tank: &Tank) -> Vec<Moves> {
    let (outlets, intakes) = (pipes(tank, Pipe::Outlet), pipes(tank, Pipe::Intake));
    if outlets.is_empty() {
        return Vec::new();
    }
    let x = End::of(tank, &outlets).x_cm(tank);
    let farthest = intakes.into_iter().max_by(|one, other| {
        let far = |thing: &Thing| (thing.x.as_cm() - x).abs();
        far(one).total_cmp(&far(other))
    });
    let low = |intake: &Thing| {
        across(tank)
            .map(|y| Moves(vec![to(intake, [x, y, tank.low_cm()])]))
            .into()
    };
    farthest.map_or_else(Vec::new, low)
}

/// All intakes low at one end, spread over its width.
pub(super) fn intakes_to_one_end(tank: &Tank) -> Vec<Moves> {
    let intakes = pipes(tank, Pipe::Intake);
    if intakes.len() < 2 {
        return Vec::new();
    }
    #[expect(clippy::cast_precision_loss, reason = "a handful of intakes")]
    let between = tank.glass.width.as_cm() / intakes.len() as f64;
    let at_end = |end: End| {
        let mut y = -between / 2.0;
        let low = |intake: &&Thing| {
            y += between;
            to(intake, [end.x_cm(tank), y, tank.low_cm()])
        };
        Moves(intakes.iter().map(low).collect())
    };
    End::BOTH.map(at_end).into()
}

/// The first outlet in the middle of an end, along the surface, the intake of its filter low below.
pub(super) fn outlet_to_end_middle(tank: &Tank) -> Vec<Moves> {
    let Some(outlet) = pipes(tank, Pipe::Outlet).into_iter().next() else {
        return Vec::new();
    };
    let intakes = pipes(tank, Pipe::Intake);
    let own = intakes
        .iter()
        .find(|intake| intake.what.form().filter() == outlet.what.form().filter());
    let middle = tank.glass.width.as_cm() / 2.0;
    let at = |end: End, y: f64| {
        let x = end.x_cm(tank);
        let mouth = Move {
            heading: Some(end.inwards()),
            ..to(outlet, [x, middle, tank.near_surface_cm()])
        };
        let intake = own.map(|intake| to(intake, [x, y, tank.low_cm()]));
        Moves(std::iter::once(mouth).chain(intake).collect())
    };
    let own_end = End::of(tank, &[outlet]);
    let mut ends = End::BOTH;
    ends.sort_by_key(|end| *end != own_end);
    let places = ends
        .into_iter()
        .flat_map(|end| across(tank).map(|y| at(end, y)));
    places.collect()
}

/// The largest rock elsewhere on the bed, with room to the walls.
pub(super) fn rock_elsewhere(tank: &Tank) -> Vec<Moves> {
    let size = |thing: &&Thing| {
        let body = thing.body(tank);
        body.footprint.area() * (body.top - body.bottom)
    };
    let rock = tank
        .things
        .iter()
        .filter(|thing| thing.what.bare() == Kind::Rock)
        .max_by(|one, other| size(one).total_cmp(&size(other)));
    let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
    let spread = |rock: &Thing| -> Vec<Moves> {
        let places = [0.5, 0.3, 0.7]
            .into_iter()
            .flat_map(|along| [0.35, 0.65].map(|across| (along * length, across * width)));
        places
            .map(|(x, y)| Moves(vec![to(rock, [x, y, rock.z.as_cm()])]))
            .collect()
    };
    rock.map_or_else(Vec::new, spread)
}

/// The air stone or sponge filter that stands nearest to an intake, where it is far from all of
/// them.
pub(super) fn air_away_from_intakes(tank: &Tank) -> Vec<Moves> {
    let intakes = pipes(tank, Pipe::Intake);
    let to_intake = |x: f64, y: f64| {
        intakes
            .iter()
            .map(|intake| (intake.x.as_cm() - x).hypot(intake.y.as_cm() - y))
            .fold(f64::INFINITY, f64::min)
    };
    let far = |thing: &Thing| to_intake(thing.x.as_cm(), thing.y.as_cm());
    let sources = tank
        .things
        .iter()
        .filter(|thing| matches!(thing.what.bare(), Kind::AirStone | Kind::SpongeFilter));
    let nearest = sources.min_by(|one, other| far(one).total_cmp(&far(other)));
    let Some(source) = nearest.filter(|_| !intakes.is_empty()) else {
        return Vec::new();
    };
    let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
    let mut spots: Vec<[f64; 2]> = [0.15, 0.5, 0.85]
        .into_iter()
        .flat_map(|along| [0.3, 0.7].map(|across| [along * length, across * width]))
        .collect();
    spots.sort_by(|one, other| to_intake(other[0], other[1]).total_cmp(&to_intake(one[0], one[1])));
    let places = spots.into_iter().take(MOST_PLACES / 2);
    places
        .map(|[x, y]| Moves(vec![to(source, [x, y, source.z.as_cm()])]))
        .collect()
}
