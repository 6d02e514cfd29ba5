//! Friction by turbulence, as a viscosity that stands still: what the jets present would stir up.

use crate::grid::Grid;
use crate::openings::Nozzle;

/// Viscosity of a round jet over the root of its thrust: Schlichting 1933, as in his *Boundary-Layer Theory*, from memory.
const OF_A_JET: f32 = 0.0161;
/// Near its nozzle a jet is thinner than a cell, and what the fluxes smear is already more than enough: cells from the nozzle
/// between which the viscosity comes in. Found by trial, against the decay of a free jet.
const COMES_IN_CELLS: [f32; 2] = [5.0, 12.0];
/// Within this distance of a wall eddies have less room, m.
const NEAR_WALL_M: f32 = 0.05;

/// Viscosity in every cell, m²/s: the molecular one, and that of the jets, weighted by nearness.
pub(crate) fn viscosity(grid: &Grid, molecular: f32, nozzles: &[Nozzle]) -> Vec<f32> {
    let mut field = vec![molecular; grid.len()];
    for k in 0..grid.cells[2] {
        for j in 0..grid.cells[1] {
            for i in 0..grid.cells[0] {
                let place = [i, j, k].map(|index| (index as f32 + 0.5) * grid.h);
                field[grid.at(i, j, k)] += eddies(grid, place, nozzles);
            }
        }
    }
    field
}

fn eddies(grid: &Grid, place: [f32; 3], nozzles: &[Nozzle]) -> f32 {
    let (mut weights, mut sum, mut nearest) = (0.0_f32, 0.0_f32, f32::INFINITY);
    for nozzle in nozzles {
        let apart = (0..3).map(|axis| (place[axis] - nozzle.at[axis]).powi(2)).sum::<f32>();
        let weight = 1.0 / (apart + grid.h * grid.h);
        weights += weight;
        sum += weight * nozzle.thrust().sqrt();
        nearest = nearest.min(apart.sqrt());
    }
    if weights <= 0.0 {
        return 0.0;
    }
    let [from, to] = COMES_IN_CELLS;
    let in_flow = ((nearest / grid.h - from) / (to - from)).clamp(0.0, 1.0);
    // The surface is no wall: eddies there are as large as below.
    let to_wall = |axis: usize| {
        let far = grid.cells[axis] as f32 * grid.h - place[axis];
        if axis == 2 { place[axis] } else { place[axis].min(far) }
    };
    let room = (0..3).map(to_wall).fold(f32::INFINITY, f32::min) / NEAR_WALL_M;
    OF_A_JET * sum / weights * in_flow * room.min(1.0)
}
