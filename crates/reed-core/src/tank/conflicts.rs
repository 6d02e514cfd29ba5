//! What cannot be as it is drawn, and what is odd about it, in words at its place.

use super::filter::PACKED_OVER;
use super::thing::{Body, Pipe, ROUNDING, Rest, Serial, Stands, Wall};
use super::{At, FilterKind, Tank, Thing};
use crate::units::{Length, Quantity, Units, Volume};

/// How wrong it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Weight {
    /// Worth a look.
    Odd,
    /// It cannot stand like this.
    Impossible,
}

/// One thing that is wrong.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Conflict {
    /// How wrong.
    pub weight: Weight,
    /// The things it is about; empty when it is about a filter that has no place in the drawing.
    pub things: Vec<Serial>,
    /// What is wrong and what would be right, a sentence or two.
    pub words: String,
}

impl Tank {
    /// Everything that cannot be as it is drawn, the impossible first. Lengths are said in the
    /// keeper's units.
    pub fn conflicts(&self, units: &Units) -> Vec<Conflict> {
        let bodies: Vec<(&Thing, Body)> = self
            .things
            .iter()
            .map(|thing| (thing, thing.body(self)))
            .collect();
        let mut found = Vec::new();
        for (thing, body) in &bodies {
            self.against_the_glass(thing, body, units, &mut found);
            self.against_the_water(thing, body, units, &mut found);
            self.standing(thing, body, &bodies, units, &mut found);
            self.behind(thing, &mut found);
        }
        for (index, (thing, body)) in bodies.iter().enumerate() {
            for (other, other_body) in &bodies[index + 1..] {
                if thing.what.form().stance().takes_room
                    && other.what.form().stance().takes_room
                    && !belong_together(thing, other)
                    && body.overlaps(other_body)
                {
                    let words = format!(
                        "{} and {} take up the same place. Move one of them.",
                        thing.name, other.name
                    );
                    found.push(Conflict {
                        weight: Weight::Impossible,
                        things: vec![thing.number, other.number],
                        words,
                    });
                }
            }
        }
        self.plumbing(&mut found);
        self.overfilled(units, &mut found);
        found.sort_by_key(|conflict| std::cmp::Reverse(conflict.weight));
        found
    }

    fn against_the_glass(
        &self,
        thing: &Thing,
        body: &Body,
        units: &Units,
        found: &mut Vec<Conflict>,
    ) {
        let (x0, x1, y0, y1) = body.footprint.bounds();
        let (length, width, height) = (
            self.glass.length.as_cm(),
            self.glass.width.as_cm(),
            self.glass.height.as_cm(),
        );
        let sides = [
            (-x0, "left end"),
            (x1 - length, "right end"),
            (-y0, "front pane"),
            (y1 - width, "back wall"),
            (-body.bottom, "floor"),
        ];
        for (beyond, side) in sides.into_iter().filter(|(beyond, _)| *beyond > ROUNDING) {
            let words = format!(
                "{} goes {} through the {side}. Move it in.",
                thing.name,
                cm(beyond, units)
            );
            found.push(impossible(thing, words));
        }
        let hangs_over = thing.what.form().stance().hangs_over;
        let above = body.top - height;
        if above > ROUNDING && !hangs_over {
            found.push(odd(
                thing,
                format!("{} stands {} above the rim.", thing.name, cm(above, units)),
            ));
        }
    }

    fn against_the_water(
        &self,
        thing: &Thing,
        body: &Body,
        units: &Units,
        found: &mut Vec<Conflict>,
    ) {
        let stands = Stands {
            name: &thing.name,
            z: thing.z.as_cm(),
            top: body.top,
            level: self.water_depth.as_cm(),
            bed: self.bed.depth.as_cm(),
            units,
        };
        let amiss = thing.what.form().amiss(&stands);
        found.extend(amiss.into_iter().map(|(weight, words)| Conflict {
            weight,
            things: vec![thing.number],
            words,
        }));
    }

    /// What stands on the ground stands on the floor or on others that do.
    fn standing(
        &self,
        thing: &Thing,
        body: &Body,
        all: &[(&Thing, Body)],
        units: &Units,
        found: &mut Vec<Conflict>,
    ) {
        let Rest::OnTheGround { floats } = thing.what.form().stance().rest else {
            return;
        };
        let ground = self.bed.depth.as_cm();
        if body.bottom <= ground + ROUNDING {
            return;
        }
        let below = |other: &&(&Thing, Body)| {
            other.0.what.form().stance().rest != Rest::Held
                && other.0.number != thing.number
                && other.1.footprint.overlaps(&body.footprint)
        };
        let support = all
            .iter()
            .filter(below)
            .map(|(_, other)| other.top)
            .filter(|top| *top <= body.bottom + ROUNDING);
        let support = support.fold(ground, f64::max);
        let air = body.bottom - support;
        if air > 1.0 && !floats {
            found.push(impossible(
                thing,
                format!(
                    "{} hangs {} above what is under it. Set it down.",
                    thing.name,
                    cm(air, units)
                ),
            ));
        }
    }

    /// What sits behind a background gets water through its openings only.
    fn behind(&self, thing: &Thing, found: &mut Vec<Conflict>) {
        let Some(background) = thing.what.form().background() else {
            return;
        };
        let hidden = |other: &&Thing| {
            other.what.form().stance().needs_passing_water
                && background.hides(other.x.as_cm(), other.y.as_cm(), self)
        };
        if background.openings.is_empty() {
            for other in self.things.iter().filter(hidden) {
                let words = format!(
                    "{} is behind {}, which has no opening: no water gets there. Add an opening.",
                    other.name, thing.name
                );
                found.push(Conflict {
                    weight: Weight::Impossible,
                    things: vec![other.number, thing.number],
                    words,
                });
            }
        }
        for opening in &background.openings {
            let along = if matches!(background.wall, Wall::Back | Wall::Front) {
                self.glass.length
            } else {
                self.glass.width
            };
            if opening.along > along || opening.above > self.water_depth {
                found.push(odd(
                    thing,
                    format!("An opening of {} lies outside the water.", thing.name),
                ));
            }
        }
    }

    /// Trays that hold less than is said to be in them.
    fn overfilled(&self, units: &Units, found: &mut Vec<Conflict>) {
        let litres = |value: f64| units.print(value, Volume::UNITS, 1);
        for filter in &self.filters {
            for stop in filter.path() {
                let (Some(holds), At::Tray(_)) = (stop.holds, stop.at) else {
                    continue;
                };
                if stop.litres() > holds.as_litres() * PACKED_OVER {
                    let words = format!(
                        "{} of {} holds {} and is said to have {} in it. Take some out, or correct what it holds.",
                        stop.name,
                        filter.name,
                        litres(holds.as_litres()),
                        litres(stop.litres())
                    );
                    found.push(Conflict {
                        weight: Weight::Odd,
                        things: Vec::new(),
                        words,
                    });
                }
            }
        }
    }

    /// Every filter has what it needs in the tank, and every part belongs to one.
    fn plumbing(&self, found: &mut Vec<Conflict>) {
        let belongs = |thing: &&Thing, number: Serial| {
            thing
                .what
                .form()
                .filter()
                .is_some_and(|filter| filter.0 == number.0)
        };
        for thing in &self.things {
            let owner = thing.what.form().filter();
            if owner
                .is_some_and(|owner| !self.filters.iter().any(|filter| filter.number.0 == owner.0))
            {
                found.push(odd(
                    thing,
                    format!(
                        "{} belongs to a filter that is not there. Choose another.",
                        thing.name
                    ),
                ));
            }
            if owner.is_none() && matches!(thing.what.form().pipe(), Pipe::Outlet | Pipe::Intake) {
                found.push(odd(
                    thing,
                    format!(
                        "{} belongs to no filter yet. Choose one, so that its flow is known.",
                        thing.name
                    ),
                ));
            }
        }
        for filter in self
            .filters
            .iter()
            .filter(|filter| filter.kind.design().is_plumbed)
        {
            let parts: Vec<&Thing> = self
                .things
                .iter()
                .filter(|thing| belongs(thing, filter.number))
                .collect();
            let has = |ends: &[Pipe]| {
                parts
                    .iter()
                    .any(|thing| ends.contains(&thing.what.form().pipe()))
            };
            let mut missing = Vec::new();
            if !has(&[Pipe::Outlet]) {
                missing.push("outlet");
            }
            if !has(&[Pipe::Intake, Pipe::Overflow]) {
                missing.push(if filter.kind == FilterKind::Sump {
                    "overflow"
                } else {
                    "intake"
                });
            }
            if !missing.is_empty() {
                let words = format!(
                    "{} has no {} in the tank yet. Add it and let it belong to this filter.",
                    filter.name,
                    missing.join(" and no ")
                );
                found.push(Conflict {
                    weight: Weight::Odd,
                    things: parts.iter().map(|thing| thing.number).collect(),
                    words,
                });
            }
        }
    }
}

/// Pipes and heaters may stand inside an overflow box; rocks and outlets may lean into a
/// background.
fn belong_together(one: &Thing, other: &Thing) -> bool {
    let [one, other] = [one, other].map(|thing| thing.what.form().stance());
    [(one, other), (other, one)]
        .into_iter()
        .any(|(a, b)| a.houses && b.is_housed || a.is_leant_on && b.leans)
}

fn impossible(thing: &Thing, words: String) -> Conflict {
    Conflict {
        weight: Weight::Impossible,
        things: vec![thing.number],
        words,
    }
}

fn odd(thing: &Thing, words: String) -> Conflict {
    Conflict {
        weight: Weight::Odd,
        things: vec![thing.number],
        words,
    }
}

fn cm(value: f64, units: &Units) -> String {
    units.print(value, Length::UNITS, 1)
}
