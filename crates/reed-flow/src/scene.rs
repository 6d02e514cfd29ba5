//! What stands in the box, in metres and independent of any grid.

use crate::flow::Flow;
use crate::grid::Grid;
use crate::openings::{Drain, Nozzle};
use crate::walls::{Wall, Walls};

/// A solid body.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Solid {
    /// A box between two corners, m.
    Box {
        /// Lower corner: left, front, bottom.
        from: [f32; 3],
        /// Upper corner: right, back, top.
        to: [f32; 3],
    },
    /// An upright cylinder, m.
    Cylinder {
        /// Middle of its foot.
        foot: [f32; 3],
        /// Radius.
        radius: f32,
        /// Height.
        height: f32,
    },
}

/// A box of water with what stands in it and what moves it.
#[derive(Clone, Debug, PartialEq)]
pub struct Scene {
    /// Length, depth and height of the water, m.
    pub size: [f32; 3],
    /// Solid bodies; they may overlap and reach out of the water.
    pub solids: Vec<Solid>,
    /// Where water enters.
    pub nozzles: Vec<Nozzle>,
    /// Where water leaves.
    pub drains: Vec<Drain>,
}

/// Drag coefficient of glass and bed, about what the logarithmic law of the wall gives at half a cell of 2.5 cm. From memory.
const WALL_DRAG: f32 = 0.005;
/// Kinematic viscosity of water at 20 °C, m²/s: from memory, rounded.
const WATER: f32 = 1.0e-6;

impl Solid {
    /// Whether a place is inside.
    pub fn holds(&self, [x, y, z]: [f32; 3]) -> bool {
        match self {
            Self::Box { from, to } => (from[0]..to[0]).contains(&x) && (from[1]..to[1]).contains(&y) && (from[2]..to[2]).contains(&z),
            Self::Cylinder { foot, radius, height } => {
                let aside = (x - foot[0]).powi(2) + (y - foot[1]).powi(2);
                aside <= radius * radius && (foot[2]..foot[2] + height).contains(&z)
            }
        }
    }
}

impl Scene {
    /// The grid of about this spacing: at least four cells along every side, the spacing such that the length is met exactly.
    pub fn grid(&self, about: f32) -> Grid {
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a length over a spacing is small and positive")]
        let along = |length: f32, h: f32| ((length / h).round() as usize).max(4);
        let length = along(self.size[0], about);
        let h = self.size[0] / length as f32;
        Grid { cells: [length, along(self.size[1], h), along(self.size[2], h)], h }
    }

    /// Its water at rest on a grid of about this spacing: glass and bed hold it back, the surface lets it slide.
    pub fn at_rest(&self, about: f32) -> Flow {
        let grid = self.grid(about);
        let rough = Wall::Rough(WALL_DRAG);
        let walls: Walls = [[rough; 2], [rough; 2], [rough, Wall::Slip]];
        let middle = |i: usize, j: usize, k: usize| [i, j, k].map(|index| (index as f32 + 0.5) * grid.h);
        let solid = |i: usize, j: usize, k: usize| self.solids.iter().any(|solid| solid.holds(middle(i, j, k)));
        let mut flow = Flow::at_rest(grid, walls, WATER, solid);
        flow.open(&self.nozzles, &self.drains);
        flow
    }
}

#[cfg(test)]
mod tests {
    use super::{Scene, Solid};

    #[test]
    fn bodies_hold_what_is_in_them_and_the_grid_meets_the_length() {
        let rock = Solid::Box { from: [0.4, 0.1, 0.0], to: [0.6, 0.3, 0.2] };
        assert!(rock.holds([0.5, 0.2, 0.1]) && !rock.holds([0.5, 0.2, 0.25]));
        let post = Solid::Cylinder { foot: [0.2, 0.2, 0.0], radius: 0.05, height: 0.3 };
        assert!(post.holds([0.23, 0.2, 0.29]) && !post.holds([0.24, 0.24, 0.1]) && !post.holds([0.2, 0.2, 0.31]));
        let scene = Scene { size: [1.01, 0.5, 0.46], solids: vec![], nozzles: vec![], drains: vec![] };
        let grid = scene.grid(0.025);
        assert!((grid.h * grid.cells[0] as f32 - 1.01).abs() < 1e-5 && grid.cells == [40, 20, 18], "{grid:?}");
    }
}
