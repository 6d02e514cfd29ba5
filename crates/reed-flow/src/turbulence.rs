//! Friction by turbulence, as a viscosity that stands still: what the movers present would stir up.

use crate::grid::Grid;
use crate::openings::{Movers, direction};

/// Viscosity of a round jet over the root of its thrust, on its axis: 0.0161 by Schlichting 1933, as
/// in his *Boundary-Layer Theory*, from memory; a little more, since it is less beside the axis here.
const OF_A_JET: f32 = 0.018;
/// Near its nozzle a jet is thinner than a cell, and what the fluxes smear is already more than
/// enough: cells from the nozzle between which the viscosity comes in. Found by trial, against the
/// decay of a free jet.
const COMES_IN_CELLS: [f32; 2] = [5.0, 12.0];
/// Fluxes along each axis by itself smear a jet that crosses the cells at an angle more: how much
/// later the viscosity comes in there, for each unit by which the sum of the parts of its direction
/// exceeds one. Found by trial, so that jets of any angle come out as fast as straight ones.
const LATER_WHEN_OBLIQUE: f32 = 1.7;
/// What is left aside of many that have grown into one: set by the water that comes back along the
/// floor of the ventilated room of IEA Annex 20 (Nielsen 1990, from memory).
const LEFT_ASIDE_OF_A_ROW: f32 = 0.3;
/// Away from the axis of a jet there are fewer eddies than in it: this share of its viscosity is
/// left there, and the jet is so wide for each metre from its nozzle, beside two cells. Fitted with
/// the drag of the walls to settled fields of a general flow package, see `docs/flow-verification.md`.
const LEFT_ASIDE: f32 = 0.7;
const WIDENS: f32 = 0.15;
/// Two jets are alike, and grow into one where they meet, less and less as the cosine between them
/// falls below one by this, and as the logarithm of the ratio of their thrusts grows to this.
/// Judgements: a few degrees, and a few tens of percent.
const ALIKE_TO_COSINE: f32 = 0.03;
const ALIKE_TO_THRUST: f32 = 0.4;
/// What is less alike than this is taken for another jet, what differs by less for the same. By
/// definition.
const HARDLY: f32 = 1e-3;
/// No jet is thinner, m: rounding. By definition.
const THINNEST_M: f32 = 1e-4;
/// Within this distance of a wall eddies have less room, m.
const NEAR_WALL_M: f32 = 0.05;

/// Something that stirs: a point, an upright line, or several alike that blow side by side.
struct Stirrer {
    /// Where each begins.
    feet: Vec<[f32; 3]>,
    /// How far up it stirs as much as at its foot, m.
    rises: f32,
    /// Where they point, of length one; none for what rises.
    axis: Option<[f32; 3]>,
    /// Thrust of each over density, m⁴/s².
    thrust: f32,
    /// How much later its viscosity comes in than along an axis.
    later: f32,
    /// Others that are nearly alike: which, and how much so, 0 to 1.
    kin: Vec<(usize, f32)>,
}

impl Stirrer {
    fn all(movers: &Movers, depth: f32) -> Vec<Self> {
        let mut all: Vec<Self> = Vec::new();
        let nozzles = movers.nozzles.iter();
        let nozzles = nozzles.map(|nozzle| (nozzle.at, nozzle.towards, nozzle.thrust()));
        let pushes = movers.pushes.iter();
        let pushes = pushes.map(|push| (push.at, push.towards, push.thrust));
        for (at, towards, thrust) in nozzles.chain(pushes) {
            let (axis, thrust) = (direction(towards), thrust.max(0.0));
            if let Some(alike) = all.iter_mut().find(|it| it.is_like(axis, thrust)) {
                alike.feet.push(at);
                continue;
            }
            let oblique = axis.iter().map(|part| part.abs()).sum::<f32>() - 1.0;
            all.push(Self {
                feet: vec![at],
                rises: 0.0,
                axis: Some(axis),
                thrust,
                later: 1.0 + LATER_WHEN_OBLIQUE * oblique.max(0.0),
                kin: Vec::new(),
            });
        }
        all.extend(movers.plumes.iter().map(|plume| {
            let rises = (depth - plume.foot[2]).max(0.0);
            Self {
                feet: vec![plume.foot],
                rises,
                axis: None,
                thrust: plume.lift() * rises,
                later: 1.0,
                kin: Vec::new(),
            }
        }));
        for own in 0..all.len() {
            let alike = (0..all.len()).filter(|other| *other != own);
            let kin = alike.map(|other| (other, all[own].alike(&all[other])));
            all[own].kin = kin.filter(|(_, alike)| *alike > HARDLY).collect();
        }
        all
    }

    /// How much two blow the same way with the same thrust, 0 to 1.
    fn alike(&self, other: &Self) -> f32 {
        let (Some(own), Some(axis)) = (self.axis, other.axis) else {
            return 0.0;
        };
        if self.thrust <= 0.0 || other.thrust <= 0.0 {
            return 0.0;
        }
        let turned = (1.0 - dot(own, axis)) / ALIKE_TO_COSINE;
        let stronger = (self.thrust / other.thrust).ln() / ALIKE_TO_THRUST;
        (-turned * turned - stronger * stronger).exp()
    }

    /// Points the same way with the same thrust: the holes of one bar, the pieces of one slot.
    fn is_like(&self, axis: [f32; 3], thrust: f32) -> bool {
        let same = |one: f32, other: f32| (one - other).abs() < HARDLY;
        self.axis
            .is_some_and(|own| own.iter().zip(axis).all(|(one, other)| same(*one, other)))
            && same(self.thrust / thrust, 1.0)
    }

    /// The nearest of its feet, and its squared distance from a place, m².
    fn nearest(&self, place: [f32; 3]) -> ([f32; 3], f32) {
        let apart = |foot: [f32; 3]| {
            let beside = [
                foot[0],
                foot[1],
                place[2].clamp(foot[2], foot[2] + self.rises),
            ];
            squared(minus(place, beside))
        };
        let all = self.feet.iter().map(|foot| (*foot, apart(*foot)));
        all.min_by(|one, other| one.1.total_cmp(&other.1))
            .expect("a stirrer has a foot")
    }

    /// Root of the thrust that stirs at a place near this foot, m²/s, by how far that is from its
    /// axis. Jets side by side grow into one: their thrusts count together as far as they have
    /// widened into each other, so that a slot has the viscosity of a plane jet into however many
    /// pieces it was cut.
    fn root_at(&self, place: [f32; 3], foot: [f32; 3], h: f32, all: &[Self]) -> f32 {
        let Some(axis) = self.axis else {
            return self.thrust.sqrt();
        };
        let from = minus(place, foot);
        let along = dot(from, axis).max(0.0);
        let near = |squared: f32, wide: f32| (-squared / (wide * wide)).exp();
        let widened = WIDENS * along;
        let met = |feet: &[[f32; 3]]| -> f32 {
            let each = feet.iter().map(|other| {
                let between = minus(*other, foot);
                let aside = squared(between) - dot(between, axis).powi(2);
                near(aside, widened.max(THINNEST_M))
            });
            each.sum()
        };
        let kin = self.kin.iter().map(|(other, alike)| {
            let other = &all[*other];
            alike * other.thrust / self.thrust * met(&other.feet)
        });
        let together = met(&self.feet) + kin.sum::<f32>();
        let aside = squared(from) - along * along;
        let together = together.max(1.0);
        let stays = LEFT_ASIDE_OF_A_ROW + (LEFT_ASIDE - LEFT_ASIDE_OF_A_ROW) / together;
        let left = stays + (1.0 - stays) * near(aside, widened + 2.0 * h);
        left * (self.thrust * together).sqrt()
    }
}

fn minus(one: [f32; 3], other: [f32; 3]) -> [f32; 3] {
    std::array::from_fn(|axis| one[axis] - other[axis])
}

fn dot(one: [f32; 3], other: [f32; 3]) -> f32 {
    one.iter().zip(other).map(|(one, other)| one * other).sum()
}

fn squared(of: [f32; 3]) -> f32 {
    dot(of, of)
}

/// Viscosity in every cell, m²/s: the molecular one, and so many times that of the movers, weighted
/// by nearness.
pub(crate) fn viscosity(grid: &Grid, molecular: f32, movers: &Movers, times: f32) -> Vec<f32> {
    let stirrers = Stirrer::all(movers, grid.cells[2] as f32 * grid.h);
    let mut field = vec![molecular; grid.len()];
    let mut nearest = Vec::with_capacity(stirrers.len());
    for cell in grid.all() {
        field[grid.at(cell[0], cell[1], cell[2])] +=
            times * eddies(grid, grid.middle(cell), &stirrers, &mut nearest);
    }
    field
}

/// Eddies at a place, over [`OF_A_JET`]; `feet` is room for the nearest foot of each stirrer.
fn eddies(
    grid: &Grid,
    place: [f32; 3],
    stirrers: &[Stirrer],
    feet: &mut Vec<([f32; 3], f32)>,
) -> f32 {
    feet.clear();
    feet.extend(stirrers.iter().map(|stirrer| stirrer.nearest(place)));
    let (mut weights, mut sum, mut nearest) = (0.0_f32, 0.0_f32, f32::INFINITY);
    for (own, stirrer) in stirrers.iter().enumerate() {
        let (foot, apart) = feet[own];
        // Of those that are alike the nearest stands for all, as of the feet of one.
        let nearer = |(other, _): &&(usize, f32)| (feet[*other].1, *other) < (apart, own);
        let stands: f32 = (stirrer.kin.iter().filter(nearer))
            .map(|(_, alike)| 1.0 - alike)
            .product();
        let weight = stands / (apart + grid.h * grid.h);
        weights += weight;
        sum += weight * stirrer.root_at(place, foot, grid.h, stirrers);
        // Cells from the nozzle, as those of a straight jet.
        nearest = nearest.min(apart.sqrt() / (grid.h * stirrer.later));
    }
    if weights <= 0.0 {
        return 0.0;
    }
    let [from, to] = COMES_IN_CELLS;
    let in_flow = ((nearest - from) / (to - from)).clamp(0.0, 1.0);
    // The surface is no wall: eddies there are as large as below.
    let to_wall = |axis: usize| {
        let far = grid.cells[axis] as f32 * grid.h - place[axis];
        if axis == 2 {
            place[axis]
        } else {
            place[axis].min(far)
        }
    };
    let room = (0..3).map(to_wall).fold(f32::INFINITY, f32::min) / NEAR_WALL_M;
    OF_A_JET * sum / weights * in_flow * room.min(1.0)
}

#[cfg(test)]
mod tests {
    use super::viscosity;
    use crate::grid::Grid;
    use crate::openings::{Movers, Nozzle};

    const H: f32 = 0.03;

    /// Mean viscosity of two outlets side by side, of which one is turned by an angle and blows so
    /// many times as fast.
    fn of_two(turned: f32, faster: f32) -> f32 {
        let grid = Grid {
            cells: [34, 17, 17],
            h: H,
        };
        let outlet = |y: f32, turned: f32, faster: f32| Nozzle {
            at: [0.02, y, 0.4],
            towards: [turned.cos(), turned.sin(), 0.0],
            flow: 1e-4 * faster,
            speed: 0.5 * faster,
        };
        let movers = Movers {
            nozzles: vec![outlet(0.2, 0.0, 1.0), outlet(0.3, turned, faster)],
            ..Movers::default()
        };
        let all = viscosity(&grid, 1e-6, &movers, 1.0);
        all.iter().sum::<f32>() / all.len() as f32
    }

    /// A little more flow of one filter, or a little turn of it, changes the eddies a little: nothing
    /// jumps where two jets cease to be alike.
    #[test]
    fn eddies_change_little_by_little_with_what_blows() {
        let same = of_two(0.0, 1.0);
        let mut before = same;
        for step in 1..=60_u8 {
            let faster = of_two(0.0, 1.0 + 0.01 * f32::from(step));
            assert!(
                (faster / before - 1.0).abs() < 0.015,
                "{step} % faster: {before} {faster}"
            );
            before = faster;
        }
        before = same;
        for step in 1..=60_u8 {
            let turned = of_two((0.5 * f32::from(step)).to_radians(), 1.0);
            assert!(
                (turned / before - 1.0).abs() < 0.015,
                "{step} half degrees: {before} {turned}"
            );
            before = turned;
        }
        let almost = of_two(0.000_1, 1.000_2);
        assert!((almost / same - 1.0).abs() < 1e-3, "{same} {almost}");
    }
}
