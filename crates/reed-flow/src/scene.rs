//! What stands in the box, in metres and independent of any grid.

use crate::flow::Flow;
use crate::grid::Grid;
use crate::openings::{Movers, direction};
use crate::walls::{Wall, Walls};

/// A solid body that stands upright; of any thickness, though a grid takes none for thinner than
/// one of its cells.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Solid {
    /// Middle of its foot, m from the corner of the box.
    pub foot: [f32; 3],
    /// How high it is, m.
    pub height: f32,
    /// Seen from above.
    pub outline: Outline,
}

/// The outline of a body, seen from above.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Outline {
    /// A rectangle.
    Rectangle {
        /// Sides, m.
        size: [f32; 2],
        /// From the right to the back, radians.
        turn: f32,
    },
    /// A circle of this radius, m.
    Circle(f32),
}

/// A box of water with what stands in it and what moves it.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Scene {
    /// Length, depth and height of the water, m.
    pub size: [f32; 3],
    /// Solid bodies; they may overlap and reach out of the water.
    pub solids: Vec<Solid>,
    /// What moves it.
    pub movers: Movers,
}

/// Drag coefficient of glass and bed: the logarithmic law of the wall gives 0.005 at half a cell of
/// 2.5 cm (from memory); fitted with [`crate::turbulence`] to settled fields of a general flow
/// package.
const WALL_DRAG: f32 = 0.0075;
/// Kinematic viscosity of water at 20 °C, m²/s: from memory, rounded.
const WATER: f32 = 1.0e-6;

/// What lies nearer to the middle than this lies in it, m: rounding. By definition.
const OFF_THE_MIDDLE: f32 = 1e-4;

impl Solid {
    /// A box between two corners, m.
    pub fn between(from: [f32; 3], to: [f32; 3]) -> Self {
        let size = [to[0] - from[0], to[1] - from[1]];
        let foot = [(from[0] + to[0]) / 2.0, (from[1] + to[1]) / 2.0, from[2]];
        Self {
            foot,
            height: to[2] - from[2],
            outline: Outline::Rectangle { size, turn: 0.0 },
        }
    }

    /// Whether a place is inside, no side being thinner than `least`, m: so that a pane does not
    /// fall between the middles of two cells.
    pub fn holds(&self, [x, y, z]: [f32; 3], least: f32) -> bool {
        let (aside, back) = (x - self.foot[0], y - self.foot[1]);
        let within =
            |from_middle: f32, side: f32| (-0.5..0.5).contains(&(from_middle / side.max(least)));
        let over = within(z - self.foot[2] - self.height / 2.0, self.height);
        over && match self.outline {
            Outline::Circle(radius) => aside.hypot(back) <= radius.max(least / 2.0),
            Outline::Rectangle { size, turn } => {
                let (sin, cos) = turn.sin_cos();
                within(aside * cos + back * sin, size[0])
                    && within(back * cos - aside * sin, size[1])
            }
        }
    }
}

impl Scene {
    /// The grid of about this spacing: at least four cells along every side, the spacing such that
    /// the length is met exactly.
    pub fn grid(&self, about: f32) -> Grid {
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a length over a spacing is small and positive"
        )]
        let along = |length: f32, h: f32| ((length / h).round() as usize).max(4);
        let length = along(self.size[0], about);
        let h = self.size[0] / length as f32;
        Grid {
            cells: [length, along(self.size[1], h), along(self.size[2], h)],
            h,
        }
    }

    /// Its water at rest on a grid of about this spacing: glass and bed hold it back, the surface
    /// lets it slide. Eddies are so many times as strong as they are thought to be.
    pub fn at_rest(&self, about: f32, eddies: f32) -> Flow {
        let grid = self.grid(about);
        let rough = Wall::Rough(WALL_DRAG);
        let walls: Walls = [[rough; 2], [rough; 2], [rough, Wall::Slip]];
        let solid = |cell: [usize; 3]| {
            self.solids
                .iter()
                .any(|solid| solid.holds(grid.middle(cell), grid.h))
        };
        let mut flow = Flow::at_rest(grid, walls, WATER, solid);
        flow.open(&self.movers, eddies);
        flow
    }

    /// The side to which it leans by itself: 1 to the back, −1 to the front. What moves the water
    /// decides, then what stands in it; where nothing does, the back.
    pub(crate) fn leans(&self) -> f32 {
        let middle = self.size[1] / 2.0;
        let movers = &self.movers;
        let nozzles = movers.nozzles.iter().map(|it| (it.thrust(), it.at[1]));
        let pushes = movers.pushes.iter().map(|it| (it.thrust, it.at[1]));
        let mut headings = movers
            .nozzles
            .iter()
            .map(|it| (it.thrust(), middle + direction(it.towards)[1]));
        let mut drains = movers.drains.iter().map(|it| (it.flow, it.at[1]));
        let mut solids = self.solids.iter().map(|it| (1.0, it.foot[1]));
        // The weighted mean off the middle, however weak what is weighed.
        let off = |things: &mut dyn Iterator<Item = (f32, f32)>| {
            let (weights, sum) = things.fold((0.0_f32, 0.0_f32), |(weights, sum), (weight, y)| {
                (weights + weight, sum + weight * (y - middle))
            });
            sum / weights.max(f32::MIN_POSITIVE)
        };
        let sides = [
            off(&mut nozzles.chain(pushes)),
            off(&mut headings),
            off(&mut drains),
            off(&mut solids),
        ];
        let decides = sides.into_iter().find(|side| side.abs() > OFF_THE_MIDDLE);
        decides.map_or(1.0, f32::signum)
    }

    /// Some two-thirds root of its volume over the root of the thrust, s: about how long the water
    /// takes to go round once. Infinite where nothing moves it.
    pub fn round_seconds(&self) -> f32 {
        let volume: f32 = self.size.iter().product();
        volume.powf(2.0 / 3.0) / self.movers.thrust(self.size[2]).sqrt()
    }

    /// Volume of the water less that of the bodies, m³.
    pub fn volume(&self) -> f32 {
        let grid = self.grid(self.size.iter().product::<f32>().cbrt() / 30.0);
        let wet = grid
            .all()
            .filter(|cell| {
                !self
                    .solids
                    .iter()
                    .any(|solid| solid.holds(grid.middle(*cell), 0.0))
            })
            .count();
        self.size.iter().product::<f32>() * wet as f32
            / (grid.cells[0] * grid.cells[1] * grid.cells[2]) as f32
    }
}

#[cfg(test)]
mod tests {
    use super::{Outline, Scene, Solid};
    use crate::openings::{Movers, Nozzle};

    /// However weak the stream: aside or turned a little it decides, and mirrored the other way.
    #[test]
    fn what_moves_the_water_decides_to_which_side_it_leans() {
        let leans = |aside: f32, turned: f32, flow: f32| {
            let nozzle = Nozzle {
                at: [0.03, 0.25 + aside, 0.4],
                towards: [1.0, turned, 0.0],
                flow,
                speed: 0.5,
            };
            let scene = Scene {
                size: [1.0, 0.5, 0.5],
                movers: Movers {
                    nozzles: vec![nozzle],
                    ..Movers::default()
                },
                ..Scene::default()
            };
            scene.leans()
        };
        for flow in [1e-6, 1e-4, 1e-2] {
            for (aside, turned) in [(0.005, 0.0), (0.0, 0.05), (0.2, -0.5)] {
                assert!(leans(aside, turned, flow) > 0.0, "{aside} {turned} {flow}");
                assert!(
                    leans(-aside, -turned, flow) < 0.0,
                    "{aside} {turned} {flow}"
                );
            }
            assert!(leans(0.0, 0.0, flow) > 0.0, "symmetric: to the back");
        }
    }

    #[test]
    fn bodies_hold_what_is_in_them_and_the_grid_meets_the_length() {
        let rock = Solid::between([0.4, 0.1, 0.0], [0.6, 0.3, 0.2]);
        assert!(rock.holds([0.5, 0.2, 0.1], 0.0) && !rock.holds([0.5, 0.2, 0.25], 0.0));
        let post = Solid {
            foot: [0.2, 0.2, 0.0],
            height: 0.3,
            outline: Outline::Circle(0.05),
        };
        assert!(
            post.holds([0.23, 0.2, 0.29], 0.0)
                && !post.holds([0.24, 0.24, 0.1], 0.0)
                && !post.holds([0.2, 0.2, 0.31], 0.0)
        );
        // A pane turned by a quarter lies along y, and is found by a grid however thin it is.
        let pane = Solid {
            foot: [0.5, 0.25, 0.0],
            height: 0.3,
            outline: Outline::Rectangle {
                size: [0.4, 0.004],
                turn: std::f32::consts::FRAC_PI_2,
            },
        };
        assert!(
            pane.holds([0.5, 0.4, 0.1], 0.0)
                && !pane.holds([0.51, 0.4, 0.1], 0.0)
                && pane.holds([0.51, 0.4, 0.1], 0.025)
        );
        let scene = Scene {
            size: [1.01, 0.5, 0.46],
            solids: vec![rock],
            ..Scene::default()
        };
        let grid = scene.grid(0.025);
        assert!(
            (grid.h * grid.cells[0] as f32 - 1.01).abs() < 1e-5 && grid.cells == [40, 20, 18],
            "{grid:?}"
        );
        assert!(
            (scene.volume() / (1.01 * 0.5 * 0.46 - 0.2 * 0.2 * 0.2) - 1.0).abs() < 0.01,
            "{}",
            scene.volume()
        );
    }
}
