//! Whole tanks, as keepers know them. Common practice, no source; compared in pairs and under every
//! assumption of a survey, since no number of these was ever measured in a tank.

use std::ops::ControlFlow;

use reed_flow::measure::{Deposit, Muck};
use reed_flow::{Drain, Field, Movers, Nozzle, Push, Scene, Settings, Settled, Solid};

/// 600 L/h through a bore of 14.6 mm.
const FLOW: f32 = 1.67e-4;

/// An outlet there.
pub(crate) fn outlet(at: [f32; 3], towards: [f32; 3]) -> Nozzle {
    Nozzle {
        at,
        towards,
        flow: FLOW,
        speed: 1.0,
    }
}

fn intakes<const N: usize>(at: [[f32; 3]; N]) -> Vec<Drain> {
    at.into_iter()
        .enumerate()
        .map(|(intake, at)| Drain {
            at,
            flow: FLOW,
            intake,
        })
        .collect()
}

/// A tank of 1.20 × 0.50 × 0.50 m.
pub(crate) fn tank<const N: usize>(nozzles: Vec<Nozzle>, drains: [[f32; 3]; N]) -> Scene {
    Scene {
        size: [1.2, 0.5, 0.5],
        movers: Movers {
            nozzles,
            drains: intakes(drains),
            ..Movers::default()
        },
        ..Scene::default()
    }
}

/// Its mean flow.
pub(crate) fn settled(scene: &Scene, settings: &Settings) -> Settled {
    scene
        .settle(settings, |_| ControlFlow::Continue(()))
        .expect("nobody breaks it off")
}

/// The mean flows with eddies as they are thought to be, half and twice as strong, and on the
/// coarse grid.
pub(crate) fn flows(scene: &Scene) -> Vec<Field> {
    let best = Settings::of(scene);
    let all = [
        best,
        Settings {
            eddies: 0.5,
            ..best
        },
        Settings {
            eddies: 2.0,
            ..best
        },
        best.coarsely(),
    ];
    std::thread::scope(|scope| {
        let running: Vec<_> = all
            .chunks(2)
            .map(|half| {
                scope.spawn(|| {
                    half.iter()
                        .map(|one| settled(scene, one).mean)
                        .collect::<Vec<_>>()
                })
            })
            .collect();
        running
            .into_iter()
            .flat_map(|half| half.join().expect("it settles"))
            .collect()
    })
}

/// Where muck of every sort goes in every flow.
pub(crate) fn deposits(scene: &Scene, flows: &[Field]) -> Vec<Deposit> {
    let sorts = Muck::SINKS
        .into_iter()
        .flat_map(|sinks| Muck::LIFTED_AT.map(|lifted_at| Muck { sinks, lifted_at }));
    let pairs = flows
        .iter()
        .flat_map(|flow| sorts.clone().map(move |muck| (flow, muck)));
    pairs
        .map(|(flow, muck)| Deposit::of(flow, muck, &scene.movers, 300))
        .collect()
}

/// Share of all muck that is caught.
pub(crate) fn caught(deposit: &Deposit) -> f32 {
    deposit.caught.iter().sum()
}

/// Along the surface of the left end.
pub(crate) const SURFACE_OF_LEFT_END: [f32; 3] = [0.03, 0.25, 0.47];
/// Low at the left end.
pub(crate) const LOW_AT_LEFT_END: [f32; 3] = [0.05, 0.25, 0.06];
/// Low at the right end.
pub(crate) const LOW_AT_RIGHT_END: [f32; 3] = [1.15, 0.25, 0.06];
/// To the right.
pub(crate) const RIGHT: [f32; 3] = [1.0, 0.0, 0.0];

/// What comes of two scenes under the same assumptions.
pub(crate) struct Paired {
    /// Of the first scene.
    pub(crate) one: Vec<Deposit>,
    /// Of the second.
    pub(crate) other: Vec<Deposit>,
}

impl Paired {
    /// Settles both.
    pub(crate) fn of(one: &Scene, other: &Scene) -> Self {
        Self {
            one: deposits(one, &flows(one)),
            other: deposits(other, &flows(other)),
        }
    }

    /// The two under each assumption.
    pub(crate) fn each(&self) -> impl Iterator<Item = (&Deposit, &Deposit)> {
        self.one.iter().zip(&self.other)
    }
}

/// What is held in every flow: eddies as thought, half, twice, coarse grid; six sorts of muck in
/// each.
pub(crate) const ASSUMPTIONS: usize = 24;

/// Two outlets along the surface of the left end.
pub(crate) fn two_outlets_at_the_left_end() -> Vec<Nozzle> {
    vec![
        outlet([0.03, 0.15, 0.47], RIGHT),
        outlet([0.03, 0.35, 0.47], RIGHT),
    ]
}

/// Two intakes low at the left end.
pub(crate) const BOTH_LEFT: [[f32; 3]; 2] = [[0.05, 0.15, 0.06], [0.05, 0.35, 0.06]];
/// One intake low at either end.
pub(crate) const BOTH_ENDS: [[f32; 3]; 2] = [LOW_AT_LEFT_END, LOW_AT_RIGHT_END];

/// Outlets at both ends that face each other.
pub(crate) fn facing() -> Scene {
    tank(
        vec![
            outlet(SURFACE_OF_LEFT_END, RIGHT),
            outlet([1.17, 0.25, 0.47], [-1.0, 0.0, 0.0]),
        ],
        BOTH_ENDS,
    )
}

/// Outlets near the middle that blow one way, intakes at both ends; with or without a wave maker
/// that pushes the same way.
pub(crate) fn blown_from_the_middle(wave: bool) -> Scene {
    let mut scene = tank(
        vec![
            outlet([0.55, 0.05, 0.45], RIGHT),
            outlet([0.65, 0.05, 0.45], RIGHT),
        ],
        BOTH_ENDS,
    );
    if wave {
        scene.movers.pushes.push(Push {
            at: [0.05, 0.25, 0.42],
            towards: RIGHT,
            thrust: 4e-4,
            reach: 0.05,
        });
    }
    scene
}

/// A rock in the middle, the outlet at the left end so far from the front, the intake low at that
/// end.
pub(crate) fn with_rock(outlet_at: f32) -> Scene {
    let mut scene = tank(
        vec![outlet([0.03, outlet_at, 0.45], RIGHT)],
        [LOW_AT_LEFT_END],
    );
    scene
        .solids
        .push(Solid::between([0.5, 0.15, 0.0], [0.7, 0.35, 0.2]));
    scene
}
