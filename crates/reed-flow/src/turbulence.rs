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
            }
        }));
        all
    }

    /// Points the same way with the same thrust: the holes of one bar, the pieces of one slot.
    fn is_like(&self, axis: [f32; 3], thrust: f32) -> bool {
        let same = |one: f32, other: f32| (one - other).abs() < 1e-3;
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
    fn root_at(&self, place: [f32; 3], foot: [f32; 3], h: f32) -> f32 {
        let Some(axis) = self.axis else {
            return self.thrust.sqrt();
        };
        let from = minus(place, foot);
        let along = dot(from, axis).max(0.0);
        let near = |squared: f32, wide: f32| (-squared / (wide * wide)).exp();
        let widened = WIDENS * along;
        let together: f32 = self
            .feet
            .iter()
            .map(|other| {
                let between = minus(*other, foot);
                let aside = squared(between) - dot(between, axis).powi(2);
                near(aside, widened.max(THINNEST_M))
            })
            .sum();
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
    for cell in grid.all() {
        field[grid.at(cell[0], cell[1], cell[2])] +=
            times * eddies(grid, grid.middle(cell), &stirrers);
    }
    field
}

fn eddies(grid: &Grid, place: [f32; 3], stirrers: &[Stirrer]) -> f32 {
    let (mut weights, mut sum, mut nearest) = (0.0_f32, 0.0_f32, f32::INFINITY);
    for stirrer in stirrers {
        let (foot, apart) = stirrer.nearest(place);
        let weight = 1.0 / (apart + grid.h * grid.h);
        weights += weight;
        sum += weight * stirrer.root_at(place, foot, grid.h);
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
