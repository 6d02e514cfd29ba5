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
/// Away from the axis of a jet there are fewer eddies than in it: this share of its viscosity is
/// left there, and the jet is so wide for each metre from its nozzle, beside two cells. Fitted with
/// the drag of the walls to settled fields of a general flow package, see `docs/flow-verification.md`.
const LEFT_ASIDE: f32 = 0.7;
const WIDENS: f32 = 0.15;
/// Within this distance of a wall eddies have less room, m.
const NEAR_WALL_M: f32 = 0.05;

/// Something that stirs: a point, or an upright line.
struct Stirrer {
    foot: [f32; 3],
    top: f32,
    /// Where it points, of length one; none for what rises.
    axis: Option<[f32; 3]>,
    /// Root of its thrust over density, m²/s.
    root: f32,
    /// How much later its viscosity comes in than along an axis.
    later: f32,
}

impl Stirrer {
    fn all(movers: &Movers, depth: f32) -> Vec<Self> {
        let point = |at: [f32; 3], towards: [f32; 3], thrust: f32| {
            let oblique = direction(towards)
                .iter()
                .map(|part| part.abs())
                .sum::<f32>()
                - 1.0;
            Self {
                foot: at,
                top: at[2],
                axis: Some(direction(towards)),
                root: thrust.max(0.0).sqrt(),
                later: 1.0 + LATER_WHEN_OBLIQUE * oblique.max(0.0),
            }
        };
        let nozzles = movers
            .nozzles
            .iter()
            .map(|nozzle| point(nozzle.at, nozzle.towards, nozzle.thrust()));
        let pushes = movers
            .pushes
            .iter()
            .map(|push| point(push.at, push.towards, push.thrust));
        let plumes = movers.plumes.iter().map(|plume| {
            let rises = (depth - plume.foot[2]).max(0.0);
            Self {
                foot: plume.foot,
                top: plume.foot[2] + rises,
                axis: None,
                root: (plume.lift() * rises).sqrt(),
                later: 1.0,
            }
        });
        nozzles.chain(pushes).chain(plumes).collect()
    }

    /// Share of its viscosity that is left at a place, by how far that is from its axis.
    fn left_at(&self, place: [f32; 3], h: f32) -> f32 {
        let Some(axis) = self.axis else { return 1.0 };
        let from: [f32; 3] = std::array::from_fn(|part| place[part] - self.foot[part]);
        let dot = from.iter().zip(axis).map(|(from, axis)| from * axis);
        let along = dot.sum::<f32>().max(0.0);
        let aside = (0..3)
            .map(|part| (from[part] - along * axis[part]).powi(2))
            .sum::<f32>();
        let wide = WIDENS * along + 2.0 * h;
        LEFT_ASIDE + (1.0 - LEFT_ASIDE) * (-aside / (wide * wide)).exp()
    }

    fn squared_distance(&self, place: [f32; 3]) -> f32 {
        let nearest = [
            self.foot[0],
            self.foot[1],
            place[2].clamp(self.foot[2], self.top.max(self.foot[2])),
        ];
        (0..3)
            .map(|axis| (place[axis] - nearest[axis]).powi(2))
            .sum()
    }
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
        let apart = stirrer.squared_distance(place);
        let weight = 1.0 / (apart + grid.h * grid.h);
        weights += weight;
        sum += weight * stirrer.root * stirrer.left_at(place, grid.h);
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
