//! A background as the water sees it: a solid with its gap, and openings through which what is
//! hidden behind it draws.

use super::{CLEAR_CM, Drawing, solid};
use crate::tank::thing::{Background, Body, Footprint, Opening, Wall};
use crate::tank::{Tank, Thing};

/// An opening through which an intake draws.
pub(super) struct Way {
    /// A point before its middle, seen from above, cm.
    pub(super) at: (f64, f64),
    /// Height of its middle over the floor, cm.
    pub(super) z: f64,
    /// Share of what the intake takes.
    pub(super) share: f64,
}

/// An opening is as good as the nearest one to an intake when it is no more than this farther from
/// it, cm. A wide gap would even it out further, a narrow one less. A judgement.
const AS_NEAR_CM: f64 = 20.0;

/// The openings of the background that hides a place, cm, through which an intake there draws: the
/// nearest and those about as near, by their area. `None` if no background hides the place.
pub(super) fn openings_for(tank: &Tank, [x, y, z]: [f64; 3]) -> Option<Vec<Way>> {
    let background = tank
        .things
        .iter()
        .filter_map(|thing| thing.what.form().background())
        .find(|background| background.hides(x, y, tank))?;
    let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
    let front = background.gap.as_cm() + background.thickness.as_cm() + CLEAR_CM;
    let (here, before): (f64, &dyn Fn(f64) -> (f64, f64)) = match background.wall {
        Wall::Back => (x, &|along| (along, width - front)),
        Wall::Front => (x, &|along| (along, front)),
        Wall::Left => (y, &|along| (front, along)),
        Wall::Right => (y, &|along| (length - front, along)),
    };
    let under_water = |opening: &&Opening| opening.above < tank.water_depth;
    let openings: Vec<&Opening> = background.openings.iter().filter(under_water).collect();
    let middle = |opening: &Opening| opening.above.as_cm() + opening.height.as_cm() / 2.0;
    let away = |opening: &Opening| (opening.along.as_cm() - here).hypot(middle(opening) - z);
    let nearest = openings
        .iter()
        .map(|opening| away(opening))
        .fold(f64::INFINITY, f64::min);
    let own = |opening: &&Opening| away(opening) <= nearest + AS_NEAR_CM;
    let area = |opening: &Opening| opening.width.as_cm() * opening.height.as_cm();
    let drawn: Vec<&Opening> = openings.into_iter().filter(own).collect();
    let total: f64 = drawn.iter().map(|opening| area(opening)).sum();
    let way = |opening: &Opening| Way {
        at: before(opening.along.as_cm()),
        z: middle(opening),
        share: area(opening) / total,
    };
    Some(drawn.into_iter().map(way).collect())
}

impl Drawing<'_> {
    /// The moulding with its gap: water behind it has no say in front, save through what is taken
    /// there.
    pub(super) fn background(&mut self, thing: &Thing, background: &Background) {
        let body = thing.body(self.tank);
        let whole = background.gap.as_cm() + background.thickness.as_cm();
        let grown = match body.footprint {
            Footprint::Rect {
                x,
                y,
                length,
                width,
                ..
            } => {
                let (tank_length, tank_width) = (
                    self.tank.glass.length.as_cm(),
                    self.tank.glass.width.as_cm(),
                );
                match background.wall {
                    Wall::Back => Body::boxed(
                        (x, tank_width - whole / 2.0),
                        (length, whole),
                        (body.bottom, body.top),
                    ),
                    Wall::Front => {
                        Body::boxed((x, whole / 2.0), (length, whole), (body.bottom, body.top))
                    }
                    Wall::Left => {
                        Body::boxed((whole / 2.0, y), (whole, width), (body.bottom, body.top))
                    }
                    Wall::Right => Body::boxed(
                        (tank_length - whole / 2.0, y),
                        (whole, width),
                        (body.bottom, body.top),
                    ),
                }
            }
            Footprint::Round { .. } => body,
        };
        self.drawn.scene.solids.push(solid(&grown, self.bed));
        self.leave_out(
            &thing.name,
            "is shown as solid with its gap; what is taken behind it is taken through its openings",
        );
    }
}

#[cfg(test)]
mod tests {
    use super::super::TankScene;
    use crate::tank::thing::{Background, FilterRef, Intake, Opening, ThingKind};
    use crate::tank::{Filter, FilterKind, Tank};
    use crate::units::{FlowRate, Length};

    fn opening(along: f64, width: f64) -> Opening {
        Opening {
            along: Length::cm(along),
            above: Length::cm(10.0),
            width: Length::cm(width),
            height: Length::cm(10.0),
        }
    }

    /// A moulding at the back with openings at 20, 30 and 100 cm, and behind it one intake of 600
    /// L/h at each of these places.
    fn intakes_at(places: &[f64]) -> TankScene {
        let mut tank = Tank::plain("t", Length::cm(120.0), Length::cm(50.0), Length::cm(54.0));
        let background = Background {
            openings: vec![
                opening(20.0, 10.0),
                opening(30.0, 5.0),
                opening(100.0, 10.0),
            ],
            ..Background::default()
        };
        let gap = background.gap.as_cm();
        tank.add_thing(
            "Moulding",
            (60.0, 50.0, 0.0),
            ThingKind::Background(background),
        );
        for along in places {
            let filter = Filter {
                kind: FilterKind::RisingBasketCanister,
                measured: Some(FlowRate::litres_per_hour(600.0)),
                ..Filter::default()
            };
            let filter = Some(FilterRef(tank.add_filter(filter).0));
            let intake = Intake {
                filter,
                ..Intake::default()
            };
            let at = (*along, 50.0 - gap / 2.0, 15.0);
            tank.add_thing("Intake", at, ThingKind::Intake(intake));
        }
        TankScene::of(&tank)
    }

    #[test]
    fn each_intake_draws_through_the_openings_nearest_to_it() {
        let drawn = intakes_at(&[22.0, 101.0]);
        let told = |drain: &reed_flow::Drain| {
            let percent = drain.flow * 3.6e6 / 6.0;
            format!(
                "{}: {:.0} cm {percent:.0} %",
                drain.intake,
                drain.at[0] * 100.0
            )
        };
        let mut drains: Vec<String> = drawn.scene.movers.drains.iter().map(told).collect();
        drains.sort();
        assert_eq!(
            drains,
            ["0: 20 cm 67 %", "0: 30 cm 33 %", "1: 100 cm 100 %"]
        );
        assert_eq!(drawn.intakes.len(), 2);
        let moved = intakes_at(&[22.0, 28.0]);
        assert!(
            moved
                .scene
                .movers
                .drains
                .iter()
                .all(|drain| drain.at[0] < 0.5)
        );
    }
}
