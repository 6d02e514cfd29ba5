//! What moves the water: where it enters with a thrust, where it leaves, what pushes it on its way,
//! what lifts it.

use crate::grid::{Axis, Grid};

/// A nozzle, smaller than a cell: water enters at a speed that the grid cannot show.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Nozzle {
    /// Its mouth, m from the corner of the box.
    pub at: [f32; 3],
    /// Where it points; need not be of length one.
    pub towards: [f32; 3],
    /// Volume that enters, m³/s.
    pub flow: f32,
    /// Speed at the mouth, m/s.
    pub speed: f32,
}

/// A place where water is taken out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Drain {
    /// Its middle, m from the corner of the box.
    pub at: [f32; 3],
    /// Volume that leaves, m³/s.
    pub flow: f32,
    /// The intake that it is part of, counted from zero: what is caught is told by intake.
    pub intake: usize,
}

/// A pump that hangs in the water: what it takes in behind it blows out ahead.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Push {
    /// Where it hangs, m from the corner of the box.
    pub at: [f32; 3],
    /// Where it points; need not be of length one.
    pub towards: [f32; 3],
    /// Thrust over density, m⁴/s².
    pub thrust: f32,
    /// Half the reach of its push, m: the root of the mean squared distance is some 0.6 of it.
    /// Below the edge of a cell it is that edge.
    pub reach: f32,
}

/// A curtain of bubbles that rises from a point to the surface.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Plume {
    /// Where the air leaves, m from the corner of the box.
    pub foot: [f32; 3],
    /// Air, m³/s.
    pub air: f32,
}

/// All that moves the water of a box.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Movers {
    /// Where water enters.
    pub nozzles: Vec<Nozzle>,
    /// Where water leaves.
    pub drains: Vec<Drain>,
    /// Pumps in the water.
    pub pushes: Vec<Push>,
    /// Rising bubbles.
    pub plumes: Vec<Plume>,
}

impl Nozzle {
    /// Thrust over density: flow times speed, m⁴/s².
    pub fn thrust(&self) -> f32 {
        self.flow * self.speed
    }

    /// A slot or a row of holes between two points, as so many nozzles that share the flow.
    pub fn row(self, from: [f32; 3], to: [f32; 3], count: usize) -> impl Iterator<Item = Self> {
        between(from, to, count).map(move |at| Self {
            at,
            flow: self.flow / count as f32,
            ..self
        })
    }
}

impl Drain {
    /// A weir or a long strainer between two points, as so many drains that share the flow.
    pub fn row(self, from: [f32; 3], to: [f32; 3], count: usize) -> impl Iterator<Item = Self> {
        between(from, to, count).map(move |at| Self {
            at,
            flow: self.flow / count as f32,
            ..self
        })
    }
}

impl Plume {
    /// Lift over density for each metre that the bubbles rise, m³/s²: their volume there times
    /// gravity.
    pub fn lift(&self) -> f32 {
        GRAVITY * self.air / BUBBLES_RISE
    }
}

impl Movers {
    /// How many intakes the drains belong to.
    pub fn intakes(&self) -> usize {
        self.drains
            .iter()
            .map(|drain| drain.intake + 1)
            .max()
            .unwrap_or(0)
    }

    /// Thrust of all together, over density, for water so deep, m⁴/s².
    pub fn thrust(&self, depth: f32) -> f32 {
        let nozzles: f32 = self.nozzles.iter().map(Nozzle::thrust).sum();
        let pushes: f32 = self.pushes.iter().map(|push| push.thrust).sum();
        let plumes: f32 = self
            .plumes
            .iter()
            .map(|plume| plume.lift() * (depth - plume.foot[2]).max(0.0))
            .sum();
        nozzles + pushes + plumes
    }
}

/// The middles of so many equal pieces of a line.
fn between(from: [f32; 3], to: [f32; 3], count: usize) -> impl Iterator<Item = [f32; 3]> {
    (0..count).map(move |index| {
        let share = (index as f32 + 0.5) / count as f32;
        std::array::from_fn(|axis| from[axis] + share * (to[axis] - from[axis]))
    })
}

/// Gravity, m/s².
const GRAVITY: f32 = 9.81;
/// How fast the bubbles of an air stone rise with the water that they lift, m/s: some 0.25 of their
/// own and some 0.15 of the water. From memory, rounded.
const BUBBLES_RISE: f32 = 0.4;

pub(crate) fn direction(towards: [f32; 3]) -> [f32; 3] {
    let length = towards.iter().map(|part| part * part).sum::<f32>().sqrt();
    towards.map(|part| part / length.max(f32::MIN_POSITIVE))
}

/// What nozzles and drains do to the cells and faces around them.
#[derive(Clone, Debug, Default)]
pub(crate) struct Openings {
    /// Place of a cell and what it gains, 1/s.
    pub(crate) gains: Vec<(usize, f32)>,
    /// By axis: place of a face and the push there, m/s².
    pub(crate) pushes: [Vec<(usize, f32)>; 3],
    /// By axis: place of a face and the share of its water that a drain takes with it, 1/s.
    pub(crate) takes: [Vec<(usize, f32)>; 3],
}

/// Cells downstream of the mouth at which the thrust acts: of one in the open, and of one in a wall,
/// which would suck a part of it back. Of a jet that points down from a wall a third was lost at 1.5
/// cells, against settled fields of a general flow package.
const THRUST_AHEAD_CELLS: [f32; 2] = [1.5, 2.5];
/// Cells behind the mouth from which on a wall counts as none.
const OPEN_BEHIND_CELLS: f32 = 3.0;
/// Reach of the lift of a plume, m: bubbles spread to about a hand's breadth. From memory.
const PLUME_REACH: f32 = 0.04;

impl Openings {
    /// What moves the water of a box whose faces are open (1) or closed (0).
    pub(crate) fn of(grid: &Grid, open: &[Vec<f32>; 3], movers: &Movers) -> Self {
        let mut openings = Self::default();
        let volume = grid.h.powi(3);
        let strides = grid.strides();
        let wet = |at: usize| {
            (0..3).any(|axis| open[axis][at] > 0.0 || open[axis][at + strides[axis]] > 0.0)
        };
        for nozzle in &movers.nozzles {
            let in_cells = spread(grid, nozzle.at, None, 0.0, wet);
            openings.gains.extend(
                in_cells
                    .into_iter()
                    .map(|(at, share)| (at, share * nozzle.flow / volume)),
            );
            let direction = direction(nozzle.towards);
            let cells = thrust_ahead(grid, nozzle.at, direction);
            let ahead =
                std::array::from_fn(|axis| nozzle.at[axis] + cells * grid.h * direction[axis]);
            openings.push(
                grid,
                open,
                ahead,
                direction.map(|part| part * nozzle.thrust()),
                0.0,
            );
        }
        for push in &movers.pushes {
            openings.push(
                grid,
                open,
                push.at,
                direction(push.towards).map(|part| part * push.thrust),
                push.reach,
            );
        }
        for plume in &movers.plumes {
            let top = grid.cells[2] as f32 * grid.h;
            for k in 0..grid.cells[2] {
                let (lower, upper) = (k as f32 * grid.h, (k + 1) as f32 * grid.h);
                let rises = (upper.min(top) - lower.max(plume.foot[2])).max(0.0);
                let at = [plume.foot[0], plume.foot[1], upper - rises / 2.0];
                openings.push(
                    grid,
                    open,
                    at,
                    [0.0, 0.0, rises * plume.lift()],
                    PLUME_REACH,
                );
            }
        }
        for drain in &movers.drains {
            for (at, share) in spread(grid, drain.at, None, 0.0, wet) {
                let rate = share * drain.flow / volume;
                openings.gains.push((at, -rate));
                for (takes, up) in openings.takes.iter_mut().zip(strides) {
                    // A face lies between two cells: each takes its half.
                    takes.extend([(at, rate / 2.0), (at + up, rate / 2.0)]);
                }
            }
        }
        openings
    }

    /// A push over density, m⁴/s² along each axis, on the open faces around a place.
    fn push(
        &mut self,
        grid: &Grid,
        open: &[Vec<f32>; 3],
        at: [f32; 3],
        push: [f32; 3],
        reach: f32,
    ) {
        for axis in (0..3).filter(|axis| push[*axis] != 0.0) {
            let on_faces = spread(grid, at, Some(axis), reach, |at| open[axis][at] > 0.0);
            self.pushes[axis].extend(
                on_faces
                    .into_iter()
                    .map(|(at, share)| (at, share * push[axis] / grid.h.powi(3))),
            );
        }
    }
}

/// Cells ahead of a mouth at which its thrust acts, by how far behind it the wall of the box is.
fn thrust_ahead(grid: &Grid, at: [f32; 3], direction: [f32; 3]) -> f32 {
    let back_to_wall = |axis: usize| {
        let side = grid.cells[axis] as f32 * grid.h;
        let to_wall = if direction[axis] > 0.0 {
            at[axis]
        } else {
            side - at[axis]
        };
        to_wall.max(0.0) / direction[axis].abs().max(f32::MIN_POSITIVE)
    };
    let behind = (0..3).map(back_to_wall).fold(f32::INFINITY, f32::min) / grid.h;
    let [open, in_wall] = THRUST_AHEAD_CELLS;
    in_wall + (open - in_wall) * (behind / OPEN_BEHIND_CELLS).min(1.0)
}

/// Shares of the cells around a place, or of the faces across an axis, by cubic B-splines along
/// each axis of this reach, m, at least one cell; those that hold no water leave their share to the
/// others. Nothing where nothing around holds water.
///
/// B-splines keep their mean and their spread (a third of the squared reach) wherever in its cell
/// the place lies, so that a jet hardly changes when its nozzle is dragged by half a cell.
fn spread(
    grid: &Grid,
    place: [f32; 3],
    across: Option<Axis>,
    reach: f32,
    wet: impl Fn(usize) -> bool,
) -> Vec<(usize, f32)> {
    let mut shares = vec![(grid.at(0, 0, 0), 1.0_f32)];
    let cells_of_reach = (reach / grid.h).max(1.0);
    for (axis, stride) in grid.strides().into_iter().enumerate() {
        // Faces stand half a cell lower than middles.
        let half = if across == Some(axis) { 0.0 } else { 0.5 };
        let along = (place[axis] / grid.h - half).clamp(0.0, (grid.cells[axis] - 1) as f32);
        let by_index = (0..grid.cells[axis])
            .map(|index| (index, b_spline((index as f32 - along) / cells_of_reach)));
        let here: Vec<_> = by_index.filter(|(_, share)| *share > 0.0).collect();
        shares = here
            .into_iter()
            .flat_map(|(index, share)| {
                shares
                    .iter()
                    .map(move |(at, so_far)| (at + index * stride, so_far * share))
            })
            .collect();
    }
    shares.retain(|(at, _)| wet(*at));
    let sum: f32 = shares.iter().map(|(_, share)| share).sum();
    shares.iter_mut().for_each(|(_, share)| *share /= sum);
    shares
}

/// The cubic B-spline: four parabolas of the third degree between −2 and 2.
fn b_spline(x: f32) -> f32 {
    let x = x.abs();
    if x < 1.0 {
        (4.0 - 6.0 * x * x + 3.0 * x.powi(3)) / 6.0
    } else {
        (2.0 - x).max(0.0).powi(3) / 6.0
    }
}

#[cfg(test)]
mod tests {
    use super::spread;
    use crate::grid::Grid;

    #[test]
    fn shares_sum_to_one_and_balance_around_the_place() {
        let grid = Grid {
            cells: [8, 6, 5],
            h: 0.1,
        };
        for place in [[0.33, 0.21, 0.4], [0.0, 0.0, 0.0], [0.8, 0.6, 0.5]] {
            let shares = spread(&grid, place, None, 0.0, |_| true);
            assert!(
                (shares.iter().map(|(_, share)| share).sum::<f32>() - 1.0).abs() < 1e-6,
                "{place:?}"
            );
        }
        // Wherever in its cell the place lies, mean and spread are the same.
        for step in 0_u8..10 {
            let place = 0.35 + 0.01 * f32::from(step);
            let shares = spread(&grid, [place, 0.25, 0.25], None, 0.0, |_| true);
            let along = |at: usize| {
                (0..8)
                    .find(|i| (0..6).any(|j| (0..5).any(|k| grid.at(*i, j, k) == at)))
                    .expect("in the box") as f32
                    * 0.1
                    + 0.05
            };
            let mean: f32 = shares.iter().map(|(at, share)| share * along(*at)).sum();
            let spread: f32 = shares
                .iter()
                .map(|(at, share)| share * (along(*at) - place).powi(2))
                .sum();
            assert!(
                (mean - place).abs() < 1e-6 && (spread - 0.01 / 3.0).abs() < 1e-6,
                "{place}: {mean} {spread}"
            );
        }
    }
}
