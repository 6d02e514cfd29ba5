//! Where a new thing usually goes, and how large it is then: a start to drag from.

use super::Tank;
use super::thing::{FilterRef, OutletStyle, Posture, ThingKind, Wall};
use crate::units::Length;

/// At most so long, never below what the field takes.
fn at_most(length: &mut Length, most: f64, least: f64) {
    *length = Length::cm(length.as_cm().min(most).max(least));
}

impl ThingKind {
    /// The same, no larger than this tank, and belonging to its first filter if it has to belong to
    /// one.
    #[must_use]
    pub fn fitted(&self, tank: &Tank) -> Self {
        let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
        let (level, bed) = (tank.water_depth.as_cm(), tank.bed.depth.as_cm());
        let deep = level - bed;
        let filter = tank
            .filters
            .first()
            .map(|filter| FilterRef(filter.number.0));
        let mut fitted = self.clone();
        match &mut fitted {
            Self::Outlet(outlet) => {
                outlet.filter = filter;
                outlet.bar = outlet.bar.filter(|_| outlet.style == OutletStyle::SprayBar);
            }
            Self::Intake(intake) => {
                intake.filter = filter;
                at_most(&mut intake.basket, deep * 0.4, 1.0);
            }
            Self::Rock(rock) => {
                at_most(&mut rock.length, length * 0.3, 0.5);
                at_most(&mut rock.width, width * 0.4, 0.5);
                at_most(&mut rock.height, level * 0.5, 0.5);
            }
            Self::SpongeFilter(sponge) => {
                at_most(&mut sponge.across, (width * 0.4).min(length * 0.3), 2.0);
                at_most(&mut sponge.height, deep * 0.6, 2.0);
                at_most(
                    &mut sponge.riser,
                    (deep - sponge.height.as_cm() - 1.0).max(0.0),
                    0.0,
                );
            }
            Self::HangOnBack(hang_on) => {
                at_most(&mut hang_on.lip, length * 0.4, 2.0);
                at_most(&mut hang_on.intake, level * 0.7, 3.0);
            }
            Self::InternalFilter(internal) => at_most(&mut internal.height, deep - 2.0, 3.0),
            Self::Overflow(overflow) => {
                overflow.filter = filter;
                at_most(&mut overflow.length, length * 0.3, 2.0);
                at_most(&mut overflow.width, width * 0.3, 2.0);
                overflow.height = Length::cm((level - 1.0).max(3.0));
            }
            Self::Heater(heater) => {
                let room = if heater.posture == Posture::Lying {
                    length * 0.6
                } else {
                    deep - 4.0
                };
                at_most(&mut heater.length, room.max(5.0), 5.0);
            }
            Self::Uv(lamp) => at_most(&mut lamp.length, length * 0.5, 5.0),
            Self::AirStone(_) | Self::Powerhead(_) | Self::Background(_) => {}
        }
        fitted
    }
}

impl Tank {
    /// Where a thing of this kind usually goes: to the right, to the back, up, in cm.
    pub fn usual_place(&self, kind: &ThingKind) -> (f64, f64, f64) {
        let (length, width) = (self.glass.length.as_cm(), self.glass.width.as_cm());
        let (level, bed) = (self.water_depth.as_cm(), self.bed.depth.as_cm());
        let ((free_x, free_y), low) = (self.free_place(), (bed - 1.0).max(0.0));
        match kind.fitted(self) {
            ThingKind::Outlet(_) => (5.0_f64.min(length / 4.0), width * 0.8, level - 1.5),
            ThingKind::Intake(intake) => (
                5.0_f64.min(length / 4.0),
                width * 0.25,
                bed + 4.0 + intake.basket.as_cm() / 2.0,
            ),
            ThingKind::Rock(_) => (free_x, free_y, low),
            ThingKind::AirStone(_) => (free_x, free_y, self.stone_height()),
            ThingKind::SpongeFilter(_) => (free_x, free_y, bed),
            ThingKind::HangOnBack(hang_on) => match hang_on.wall {
                Wall::Back | Wall::Front => (length * 0.6, width, level + 2.0),
                Wall::Left | Wall::Right => (0.0, width / 2.0, level + 2.0),
            },
            ThingKind::InternalFilter(filter) => {
                let z = (level - filter.height.as_cm() - 3.0).max(bed);
                (
                    length - filter.length.as_cm() / 2.0 - 1.0,
                    width - filter.width.as_cm() / 2.0 - 1.0,
                    z,
                )
            }
            ThingKind::Powerhead(_) => (
                4.0_f64.min(length / 4.0),
                width / 2.0,
                (level - 6.0).max(bed + 3.0),
            ),
            ThingKind::Overflow(overflow) => (
                length - overflow.length.as_cm() / 2.0 - 1.0,
                width - overflow.width.as_cm() / 2.0 - 1.0,
                level - 1.0,
            ),
            ThingKind::Background(_) => (length / 2.0, width, 0.0),
            ThingKind::Heater(_) => (length - 5.0, width - 5.0, bed + 2.0),
            ThingKind::Uv(lamp) => (
                length / 2.0,
                width - lamp.across.as_cm() / 2.0 - 1.0,
                bed + 3.0,
            ),
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::document::start;
    use crate::field::{FieldValue, What};
    use crate::tank::thing::ThingKind;
    use crate::tank::{Tank, Weight};
    use crate::units::{Length, Units};

    #[test]
    fn a_new_thing_of_every_kind_fits_a_bare_tank_of_any_size() {
        let sizes = [(25.0, 25.0, 22.0), (60.0, 30.0, 33.0), (200.0, 70.0, 65.0)];
        let What::Kinds(kinds) = ThingKind::WHAT else {
            panic!("things have kinds")
        };
        for kind in kinds {
            for (length, width, level) in sizes {
                let mut tank = Tank::plain(
                    "bare",
                    Length::cm(length),
                    Length::cm(width),
                    Length::cm(level),
                );
                let blank: ThingKind =
                    serde_json::from_value(serde_json::json!({ kind.id: (kind.part.blank)() }))
                        .expect("a kind");
                let place = tank.usual_place(&blank);
                tank.add_thing("New", place, blank.fitted(&tank));
                assert_eq!(
                    tank.refusals(&Units::BASE),
                    [],
                    "{} in {length} cm",
                    kind.id
                );
                let impossible: Vec<_> = tank
                    .conflicts(&Units::BASE)
                    .into_iter()
                    .filter(|conflict| conflict.weight == Weight::Impossible)
                    .collect();
                assert_eq!(impossible, [], "{} in {length} cm", kind.id);
            }
        }
        assert!(start::ALL.len() >= 8);
    }
}
