//! A tank of another size, with everything in it scaled or seated anew so that nothing stands
//! outside, in the air or in the glass.

use super::thing::{Rest, Serial, tenths};
use super::{Tank, Thing, Weight};
use crate::units::{Length, Units};

/// Beds take no more of the water's height than this. A judgement.
const MOST_BED: f64 = 0.25;
/// Within this share of a side equipment stands at its end.
const NEAR_A_PANE: f64 = 0.25;
/// Rounds of seating: a thing that was moved may meet another.
const ROUNDS: usize = 6;

impl Tank {
    /// The same set-up in a box of this size, inside, filled as high in proportion.
    ///
    /// Equipment near a pane keeps its distance to it, everything else its share of length and
    /// width; what hangs near the surface keeps its distance to it, the rest its distance to the
    /// floor. Rocks and roots grow and shrink with the tank, equipment only shrinks. What then
    /// cannot be as it is is seated where its like usually goes, and what is only scenery and still
    /// finds no room is left out.
    #[must_use]
    pub fn resized(&self, length: Length, width: Length, height: Length) -> Self {
        let mut resized = self.clone();
        let share = self.water_depth.as_cm() / self.glass.height.as_cm().max(1.0);
        (
            resized.glass.length,
            resized.glass.width,
            resized.glass.height,
        ) = (length, width, height);
        resized.water_depth = tenths(height.as_cm() * share.min(1.0));
        let (level, was) = (resized.water_depth.as_cm(), self.water_depth.as_cm());
        resized.bed.depth = tenths(self.bed.depth.as_cm().min(level * MOST_BED));
        resized.measured_volume = None;
        let along = length.as_cm() / self.glass.length.as_cm().max(1.0);
        let across = width.as_cm() / self.glass.width.as_cm().max(1.0);
        let up = level / was.max(1.0);
        let bed_fell = self.bed.depth.as_cm() - resized.bed.depth.as_cm();
        for thing in &mut resized.things {
            let is_rock = is_loose(thing);
            thing.x = moved(thing.x, self.glass.length, length, is_rock);
            thing.y = moved(thing.y, self.glass.width, width, is_rock);
            let z = thing.z.as_cm();
            thing.z = tenths(if z > was / 2.0 {
                level - (was - z)
            } else {
                z - bed_fell
            });
            thing.what.form_mut().rescale(along, across, up);
        }
        resized.seated()
    }

    /// With everything that cannot be where it is seated where its like usually goes.
    #[must_use]
    pub fn seated(&self) -> Self {
        let mut seated = self.clone();
        for round in 0..ROUNDS {
            let wrong = seated.impossible();
            if wrong.is_empty() {
                break;
            }
            for number in wrong {
                seated.seat(number, round);
            }
        }
        // Scenery that finds no room is left out; equipment stays, and the drawing says what is
        // wrong with it.
        for number in seated.impossible() {
            seated
                .things
                .retain(|thing| thing.number != number || !is_loose(thing));
        }
        seated
    }

    /// Things that cannot be as they are; of two that take up the same place, the one that is moved
    /// more easily.
    fn impossible(&self) -> Vec<Serial> {
        let conflicts = self.conflicts(&Units::BASE);
        let wrong = conflicts
            .iter()
            .filter(|conflict| conflict.weight == Weight::Impossible);
        let mut numbers: Vec<Serial> = wrong
            .filter_map(|conflict| {
                let is_rock = |number: &&Serial| self.thing(**number).is_some_and(is_loose);
                conflict
                    .things
                    .iter()
                    .find(is_rock)
                    .or(conflict.things.first())
                    .copied()
            })
            .collect();
        numbers.sort();
        numbers.dedup();
        numbers
    }

    /// Seats one thing: where its like usually goes, smaller at each round.
    fn seat(&mut self, number: Serial, round: usize) {
        let Some(index) = self.things.iter().position(|thing| thing.number == number) else {
            return;
        };
        let mut thing = self.things.remove(index);
        if let (Some(sides), true) = (thing.what.form_mut().sides_mut(), round > 0) {
            for side in sides {
                *side = tenths((side.as_cm() * 0.7).max(0.5));
            }
        }
        let belongs = thing.what.clone();
        thing.what = thing.what.fitted(self);
        thing.what.keep_filter_of(&belongs);
        let usual = self.usual_place(&thing.what);
        self.things.insert(index, thing);
        // Where its like usually goes, else the first place on a grid that is free, from the back
        // and the ends.
        let shares = [0.06, 0.94, 0.12, 0.88, 0.2, 0.8, 0.3, 0.7, 0.4, 0.6, 0.5];
        let (length, width) = (self.glass.length.as_cm(), self.glass.width.as_cm());
        let grid = [0.85, 0.7, 0.5, 0.3, 0.15].iter().flat_map(|back| {
            shares
                .iter()
                .map(move |along| (along * length, back * width, usual.2))
        });
        for (x, y, z) in std::iter::once(usual).chain(grid).chain([usual]) {
            let thing = &mut self.things[index];
            (thing.x, thing.y, thing.z) = (tenths(x), tenths(y), tenths(z));
            let conflicts = self.conflicts(&Units::BASE);
            if !conflicts.iter().any(|conflict| {
                conflict.weight == Weight::Impossible && conflict.things.contains(&number)
            }) {
                break;
            }
        }
    }
}

/// A place along a side that has become longer or shorter.
fn moved(at: Length, was: Length, is: Length, is_rock: bool) -> Length {
    let (at, was, is) = (at.as_cm(), was.as_cm(), is.as_cm());
    let from_far = was - at;
    tenths(
        match (
            at.min(from_far) < was * NEAR_A_PANE && !is_rock,
            at < from_far,
        ) {
            (true, true) => at.min(is / 2.0),
            (true, false) => is - from_far.min(is / 2.0),
            (false, _) => at * is / was.max(1.0),
        },
    )
}

/// A loose piece, which is set anew in a tank of another size.
fn is_loose(thing: &Thing) -> bool {
    matches!(thing.what.form().stance().rest, Rest::OnTheGround { .. })
}

#[cfg(test)]
mod tests {
    use crate::document::start;
    use crate::tank::Weight;
    use crate::units::{Length, Units};

    /// Every set-up in every size from a desk cube to a wall: nothing stands outside, in the air or
    /// in the glass, and no equipment is lost.
    #[test]
    fn every_set_up_fits_every_size() {
        let sizes = [
            (25.0, 25.0, 30.0),
            (40.0, 25.0, 28.0),
            (60.0, 30.0, 36.0),
            (80.0, 35.0, 40.0),
            (120.0, 50.0, 50.0),
            (200.0, 70.0, 70.0),
            (30.0, 60.0, 90.0),
        ];
        for start in start::ALL {
            let tank = start.tank();
            for (length, width, height) in sizes {
                let resized =
                    tank.resized(Length::cm(length), Length::cm(width), Length::cm(height));
                let what = format!("{} at {length} × {width} × {height}", start.id);
                assert_eq!(resized.refusals(&Units::BASE), [], "{what}");
                let impossible: Vec<_> = resized
                    .conflicts(&Units::BASE)
                    .into_iter()
                    .filter(|conflict| conflict.weight == Weight::Impossible)
                    .collect();
                assert_eq!(impossible, [], "{what}");
                let equipment = |tank: &crate::tank::Tank| {
                    tank.things
                        .iter()
                        .filter(|thing| {
                            !matches!(thing.what, crate::tank::thing::ThingKind::Rock(_))
                        })
                        .count()
                };
                assert_eq!(equipment(&resized), equipment(&tank), "{what}");
                for (before, after) in tank
                    .things
                    .iter()
                    .filter_map(|thing| Some((thing, resized.thing(thing.number)?)))
                {
                    assert_eq!(
                        before.what.form().filter(),
                        after.what.form().filter(),
                        "{what}: {} belongs to its filter",
                        before.name
                    );
                }
                assert_eq!(resized.glass.height, Length::cm(height));
            }
        }
    }

    #[test]
    fn the_same_size_changes_nothing_that_matters() {
        for start in start::ALL {
            let tank = start.tank();
            let same = tank.resized(tank.glass.length, tank.glass.width, tank.glass.height);
            assert!(
                (same.net_volume().as_litres()
                    - crate::tank::Tank {
                        measured_volume: None,
                        ..tank.clone()
                    }
                    .net_volume()
                    .as_litres())
                .abs()
                    < 1.0,
                "{}",
                start.id
            );
            assert_eq!(same.things.len(), tank.things.len(), "{}", start.id);
        }
    }
}
