//! What cannot be as it is drawn, and what is odd about it, in words at its place.

use super::thing::{Body, RockMaterial, Serial, ThingKind, Wall};
use super::{FilterKind, Tank, Thing};
use crate::units::{Length, Quantity, Units};

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

/// Beyond a wall by less than this, in cm, is a keeper's rounding.
const ROUNDING: f64 = 0.3;

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
                if takes_room(thing)
                    && takes_room(other)
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
        let hangs_over = matches!(
            thing.what,
            ThingKind::HangOnBack(_) | ThingKind::Background(_) | ThingKind::Heater(_)
        );
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
        let (level, z, bed) = (
            self.water_depth.as_cm(),
            thing.z.as_cm(),
            self.bed.depth.as_cm(),
        );
        let name = &thing.name;
        match &thing.what {
            ThingKind::Intake(_) if body.top > level + ROUNDING => {
                let out = cm(body.top - level, units);
                found.push(impossible(
                    thing,
                    format!("{name} reaches {out} above the water and draws air. Lower it."),
                ));
            }
            ThingKind::Intake(_) if z < bed => {
                found.push(impossible(
                    thing,
                    format!(
                        "{name} lies in the bed and would draw it in. Raise it above {}.",
                        cm(bed, units)
                    ),
                ));
            }
            ThingKind::Outlet(_) if z < bed => {
                found.push(impossible(
                    thing,
                    format!(
                        "{name} lies in the bed and would blow it about. Raise it above {}.",
                        cm(bed, units)
                    ),
                ));
            }
            ThingKind::Outlet(_) if z > level + ROUNDING => {
                let fall = cm(z - level, units);
                found.push(odd(
                    thing,
                    format!("{name} is {fall} above the water: its stream falls in, which aerates and takes bubbles down."),
                ));
            }
            ThingKind::Powerhead(_) if body.top > level + ROUNDING => {
                found.push(impossible(
                    thing,
                    format!(
                        "{name} is not wholly under water: it draws air and runs dry. Lower it."
                    ),
                ));
            }
            ThingKind::AirStone(_) if z > level => {
                found.push(impossible(
                    thing,
                    format!("{name} is above the water. Lower it to the bed."),
                ));
            }
            ThingKind::SpongeFilter(_) | ThingKind::InternalFilter(_)
                if body.top > level + ROUNDING =>
            {
                let out = cm(body.top - level, units);
                found.push(impossible(
                    thing,
                    format!("{name} stands {out} out of the water. Lower it, or raise the water."),
                ));
            }
            ThingKind::Heater(_) if body.top > level + ROUNDING => {
                let words = format!(
                    "{name} is not wholly under water. Most heaters crack when they run half dry: unplug it before you move it."
                );
                found.push(odd(thing, words));
            }
            ThingKind::HangOnBack(filter) => {
                if z < level - ROUNDING {
                    found.push(odd(thing, format!("The lip of {name} is under water: nothing falls, and less oxygen comes in.")));
                }
                if z - filter.intake.as_cm() > level {
                    found.push(impossible(
                        thing,
                        format!("The intake tube of {name} ends above the water. Lengthen it."),
                    ));
                }
            }
            ThingKind::Overflow(_) if z > level + ROUNDING => {
                let dry = cm(z - level, units);
                found.push(odd(
                    thing,
                    format!("The sill of {name} is {dry} above the water: nothing runs over it."),
                ));
            }
            _ => {}
        }
    }

    /// Rocks stand on the floor or on one another.
    fn standing(
        &self,
        thing: &Thing,
        body: &Body,
        all: &[(&Thing, Body)],
        units: &Units,
        found: &mut Vec<Conflict>,
    ) {
        let ThingKind::Rock(rock) = &thing.what else {
            return;
        };
        let ground = self.bed.depth.as_cm();
        if body.bottom <= ground + ROUNDING {
            return;
        }
        let below = |other: &&(&Thing, Body)| {
            matches!(other.0.what, ThingKind::Rock(_))
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
        if air > 1.0 && rock.material != RockMaterial::Root {
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
        let ThingKind::Background(background) = &thing.what else {
            return;
        };
        let hidden = |other: &&Thing| {
            matches!(other.what, ThingKind::Intake(_) | ThingKind::Heater(_))
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
            if owner.is_none() && matches!(thing.what, ThingKind::Outlet(_) | ThingKind::Intake(_))
            {
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
            .filter(|filter| filter.kind.is_plumbed())
        {
            let parts: Vec<&Thing> = self
                .things
                .iter()
                .filter(|thing| belongs(thing, filter.number))
                .collect();
            let has = |test: fn(&ThingKind) -> bool| parts.iter().any(|thing| test(&thing.what));
            let mut missing = Vec::new();
            if !has(|kind| matches!(kind, ThingKind::Outlet(_))) {
                missing.push("outlet");
            }
            if !has(|kind| matches!(kind, ThingKind::Intake(_) | ThingKind::Overflow(_))) {
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

/// Bodies that keep others out; a stone may lie under a root, an intake inside an overflow.
fn takes_room(thing: &Thing) -> bool {
    !matches!(thing.what, ThingKind::AirStone(_))
}

/// An intake or heater may sit inside the overflow box or right beside the part of its own filter;
/// a hang-on filter's tube passes others. Rocks may lean on a background, which is no even plane.
fn belong_together(one: &Thing, other: &Thing) -> bool {
    let in_overflow = |a: &Thing, b: &Thing| {
        matches!(a.what, ThingKind::Overflow(_))
            && matches!(
                b.what,
                ThingKind::Intake(_) | ThingKind::Heater(_) | ThingKind::Outlet(_)
            )
    };
    let leaning = |a: &Thing, b: &Thing| {
        matches!(a.what, ThingKind::Background(_))
            && matches!(b.what, ThingKind::Rock(_) | ThingKind::Outlet(_))
    };
    [(one, other), (other, one)]
        .into_iter()
        .any(|(a, b)| in_overflow(a, b) || leaning(a, b))
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
