//! Water that goes on moving while its scene is changed.

use crate::field::Field;
use crate::flow::Flow;
use crate::scene::Scene;
use crate::settle::Settings;

/// A scene with its water on the move. A change keeps the water as it is: it finds its new way from
/// there.
#[derive(Clone, Debug)]
pub struct Live {
    scene: Scene,
    about: f32,
    flow: Flow,
}

impl Live {
    /// Begins at rest on a grid of about this spacing, m.
    pub fn at_rest(scene: Scene, about: f32) -> Self {
        let flow = scene.at_rest(about, 1.0);
        Self { scene, about, flow }
    }

    /// Begins with what a coarse grid makes of it in the time of [`Settings::coarse_seconds`], on
    /// the fine one.
    pub fn begun(scene: Scene, settings: &Settings) -> Self {
        let mut coarse = Self::at_rest(scene.clone(), settings.coarse);
        coarse.advance(settings.coarse_seconds);
        let mut live = Self::at_rest(scene, settings.fine);
        live.flow.begin_as(&coarse.flow);
        live
    }

    /// The scene as it is now.
    pub const fn scene(&self) -> &Scene {
        &self.scene
    }

    /// Puts another scene in place. Movers alone are swapped in about the time of one step; bodies,
    /// or another size, take a new grid, on which the water begins as it is.
    pub fn change(&mut self, scene: Scene) {
        let movers_alone = Scene {
            movers: scene.movers.clone(),
            ..self.scene.clone()
        } == scene;
        if movers_alone {
            self.flow.open(&scene.movers, 1.0);
        } else {
            let mut flow = scene.at_rest(self.about, 1.0);
            flow.begin_as(&self.flow);
            self.flow = flow;
        }
        self.scene = scene;
    }

    /// Moves the water on by so many seconds of tank time.
    pub fn advance(&mut self, seconds: f32) {
        let mut left = seconds;
        while left > 0.0 {
            let dt = self.flow.longest_step().min(left);
            self.flow.step(dt);
            left -= dt;
        }
    }

    /// The water as it moves now.
    pub fn field(&self) -> Field {
        let flow = &self.flow;
        let speeds: [Vec<f32>; 3] = std::array::from_fn(|axis| flow.speed(axis).to_vec());
        Field::new(flow.grid(), &speeds, flow.viscosity(), flow.solid())
    }
}

#[cfg(test)]
mod tests {
    use super::Live;
    use crate::measure;
    use crate::openings::{Drain, Movers, Nozzle};
    use crate::scene::{Scene, Solid};

    /// The outlet is dragged to the other end: the loop turns round. A rock is put in: the water
    /// goes on.
    #[test]
    fn water_finds_its_new_way_when_its_scene_is_changed() {
        let blowing = |x: f32, right: f32| {
            let nozzle = Nozzle {
                at: [x, 0.2, 0.35],
                towards: [right, 0.0, 0.0],
                flow: 1.7e-4,
                speed: 1.0,
            };
            let drain = Drain {
                at: [0.4, 0.05, 0.1],
                flow: 1.7e-4,
                intake: 0,
            };
            Scene {
                size: [0.8, 0.4, 0.4],
                movers: Movers {
                    nozzles: vec![nozzle],
                    drains: vec![drain],
                    ..Movers::default()
                },
                ..Scene::default()
            }
        };
        let mut live = Live::at_rest(blowing(0.03, 1.0), 0.05);
        live.advance(60.0);
        assert!(measure::loop_turns(&live.field()) > 0.4);
        live.change(blowing(0.77, -1.0));
        let just_after = measure::loop_turns(&live.field());
        live.advance(90.0);
        assert!(
            just_after > 0.4 && measure::loop_turns(&live.field()) < -0.4,
            "it turned with the clock until it was changed"
        );
        let before = measure::mean_speed(&live.field());
        let mut with_rock = live.scene().clone();
        with_rock
            .solids
            .push(Solid::between([0.3, 0.1, 0.0], [0.5, 0.3, 0.15]));
        live.change(with_rock);
        let after = measure::mean_speed(&live.field());
        assert!(
            after > 0.6 * before && after < 1.6 * before,
            "{after} m/s after {before}"
        );
        assert!(live.field().is_solid([8, 4, 0]));
    }
}
