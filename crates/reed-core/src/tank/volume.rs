//! How much water there is: the box, less the grains of the bed and what stands in it, plus the
//! sump.

use super::{Tank, Thing};
use crate::units::Volume;

/// Where the water is and what takes its place, in litres.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Volumes {
    /// Length × width × water level.
    pub gross: f64,
    /// Grains of the bed, without the water between them.
    pub bed: f64,
    /// Rocks, roots, backgrounds, housings: the part under water, without hollows, and in the bed
    /// only what displaces its water.
    pub things: f64,
    /// Water in sumps while their pumps run.
    pub sumps: f64,
}

impl Volumes {
    /// Water in the whole system. Never below a tenth of the box: what overlaps on a drawing is
    /// counted twice.
    pub fn net(&self) -> f64 {
        (self.gross - self.bed - self.things).max(self.gross * 0.1) + self.sumps
    }
}

impl Tank {
    /// The volumes as drawn.
    pub fn volumes(&self) -> Volumes {
        let floor_cm2 = self.glass.length.as_cm() * self.glass.width.as_cm();
        let bed_cm = self.bed_level_cm();
        Volumes {
            gross: floor_cm2 * self.water_depth.as_cm() / 1000.0,
            bed: floor_cm2 * bed_cm * (1.0 - self.bed.porosity.as_percent() / 100.0) / 1000.0,
            things: self.things.iter().map(|thing| self.displaced(thing)).sum(),
            sumps: self
                .filters
                .iter()
                .filter_map(|filter| filter.sump.as_ref())
                .map(|sump| sump.running_volume().as_litres())
                .sum(),
        }
    }

    /// Water in the system: as measured by the keeper, or as drawn.
    pub fn net_volume(&self) -> Volume {
        self.measured_volume
            .unwrap_or_else(|| Volume::litres(self.volumes().net()))
    }

    /// Litres that a thing keeps the water out of.
    fn displaced(&self, thing: &Thing) -> f64 {
        let solid = thing.what.form().solid_share();
        if solid <= 0.0 {
            return 0.0;
        }
        let body = thing.body(self);
        let bed = self.bed.depth.as_cm();
        let in_bed = body.litres_between(0.0, bed) * self.bed.porosity.as_percent() / 100.0;
        solid * (in_bed + body.litres_between(bed, self.water_depth.as_cm()))
    }
}

#[cfg(test)]
mod tests {
    use crate::tank::thing::{Rock, RockShape, ThingKind};
    use crate::tank::{Bed, Filter, Sump, Tank, Thing};
    use crate::units::{Length, Percent, Volume};

    fn near(value: f64, litres: f64) {
        assert!((value - litres).abs() < 1e-9, "{value} is not {litres} L");
    }

    /// Closed forms: box less bed, a cylinder of 10 cm half buried, a hollow box that stands out of
    /// the water.
    #[test]
    fn composed_shapes_displace_what_their_closed_forms_say() {
        let mut tank = Tank::plain("t", Length::cm(100.0), Length::cm(40.0), Length::cm(50.0));
        near(tank.net_volume().as_litres(), 200.0);
        tank.bed = Bed {
            depth: Length::cm(5.0),
            porosity: Percent::of(40.0),
            ..Bed::default()
        };
        near(tank.volumes().bed, 12.0);
        let pillar = Rock {
            shape: RockShape::Cylinder,
            length: Length::cm(10.0),
            height: Length::cm(10.0),
            ..Rock::default()
        };
        tank.things.push(Thing::new(
            1,
            "Pillar",
            (20.0, 20.0, 0.0),
            ThingKind::Rock(pillar),
        ));
        let cylinder = std::f64::consts::PI * 25.0;
        near(tank.volumes().things, cylinder * (5.0 * 0.4 + 5.0) / 1000.0);
        let cave = Rock {
            length: Length::cm(20.0),
            width: Length::cm(10.0),
            height: Length::cm(30.0),
            hollow: Percent::of(50.0),
            ..Rock::default()
        };
        tank.things.push(Thing::new(
            2,
            "Cave",
            (60.0, 20.0, 40.0),
            ThingKind::Rock(cave),
        ));
        near(
            tank.volumes().things,
            cylinder * 7.0 / 1000.0 + 0.5 * 20.0 * 10.0 * 10.0 / 1000.0,
        );
        tank.filters.push(Filter {
            sump: Some(Sump::default()),
            ..Filter::default()
        });
        near(tank.volumes().sumps, 3.0 * 25.0 * 35.0 * 22.0 / 1000.0);
        tank.measured_volume = Some(Volume::litres(170.0));
        near(tank.net_volume().as_litres(), 170.0);
    }
}
