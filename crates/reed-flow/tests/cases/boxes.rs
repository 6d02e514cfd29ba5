//! Five boxes of which another package computed the settled flow (`tests/reference/boxes.csv`), and
//! a symmetric one.

use std::ops::ControlFlow;

use reed_flow::{Drain, Movers, Nozzle, Scene, Settings, Solid, Survey};

const TABLE: &str = include_str!("../reference/boxes.csv");

/// A box of the table.
pub(crate) struct Reference {
    pub(crate) name: &'static str,
    /// Mean speed and that over the bed, m/s; share of the water below 1 cm/s.
    pub(crate) figures: [f32; 3],
}

/// What the drag of the walls, the eddies aside of the jets and the widths of the bands were set by;
/// the others judge.
pub(crate) const SET_BY: [&str; 3] = ["T1", "T3", "T5"];

pub(crate) fn table() -> Vec<Reference> {
    let rows = TABLE.lines().filter(|line| line.starts_with('T'));
    rows.map(|row| {
        let mut cells = row.split(',');
        let name = cells.next().expect("a name");
        let figures = cells.map(|cell| cell.parse().expect("a number"));
        let figures: Vec<f32> = figures.collect();
        Reference {
            name,
            figures: figures.try_into().expect("three figures"),
        }
    })
    .collect()
}

fn nozzle(at: [f32; 3], towards: [f32; 3], bore: f32, litres_per_hour: f32) -> Nozzle {
    let flow = litres_per_hour / 3.6e6;
    Nozzle {
        at,
        towards,
        flow,
        speed: flow / (std::f32::consts::PI * bore * bore / 4.0),
    }
}

fn drain(at: [f32; 3], litres_per_hour: f32, intake: usize) -> Drain {
    Drain {
        at,
        flow: litres_per_hour / 3.6e6,
        intake,
    }
}

/// The box of this name.
pub(crate) fn scene(name: &str) -> Scene {
    let turned = |degrees: f32| degrees.to_radians().sin_cos();
    let (size, nozzles, drains, solids) = match name {
        // Off the middle, along the surface; a strainer 8 cm high low on the same wall.
        "T1" => (
            [1.0, 0.4, 0.48],
            vec![nozzle([0.0, 0.3, 0.46], [1.0, 0.0, 0.0], 0.016, 480.0)],
            drain([0.0, 0.2, 0.08], 480.0, 0)
                .row([0.0, 0.2, 0.04], [0.0, 0.2, 0.12], 3)
                .collect(),
            Vec::new(),
        ),
        // 20° down.
        "T2" => {
            let (sin, cos) = turned(20.0);
            (
                [0.6, 0.3, 0.34],
                vec![nozzle([0.6, 0.12, 0.31], [-cos, 0.0, -sin], 0.012, 300.0)],
                vec![drain([0.6, 0.2, 0.06], 300.0, 0)],
                Vec::new(),
            )
        }
        // From a back corner, 35° to the front.
        "T3" => {
            let (sin, cos) = turned(35.0);
            (
                [0.8, 0.35, 0.36],
                vec![nozzle([0.0, 0.32, 0.33], [cos, -sin, 0.0], 0.012, 350.0)],
                vec![drain([0.8, 0.315, 0.06], 350.0, 0)],
                Vec::new(),
            )
        }
        // A block in the way.
        "T4" => (
            [1.5, 0.5, 0.5],
            vec![nozzle([0.0, 0.18, 0.47], [1.0, 0.0, 0.0], 0.02, 1200.0)],
            vec![drain([0.0, 0.25, 0.08], 1200.0, 0)],
            vec![Solid::between([0.6, 0.15, 0.0], [0.9, 0.35, 0.25])],
        ),
        // Two that face each other past the middle.
        "T5" => (
            [1.2, 0.5, 0.5],
            vec![
                nozzle([0.0, 0.17, 0.47], [1.0, 0.0, 0.0], 0.012, 400.0),
                nozzle([1.2, 0.33, 0.47], [-1.0, 0.0, 0.0], 0.012, 400.0),
            ],
            vec![
                drain([0.0, 0.25, 0.08], 400.0, 0),
                drain([1.2, 0.25, 0.08], 400.0, 1),
            ],
            Vec::new(),
        ),
        other => panic!("no box {other}"),
    };
    Scene {
        size,
        solids,
        movers: Movers {
            nozzles,
            drains,
            ..Movers::default()
        },
    }
}

/// An outlet in the middle of the end wall, moved aside by so many metres; an intake below it.
pub(crate) fn symmetric(aside: f32) -> Scene {
    Scene {
        size: [1.2, 0.5, 0.5],
        movers: Movers {
            nozzles: vec![Nozzle {
                at: [0.03, 0.25 + aside, 0.47],
                towards: [1.0, 0.0, 0.0],
                flow: 1.67e-4,
                speed: 1.0,
            }],
            drains: vec![Drain {
                at: [0.05, 0.25, 0.1],
                flow: 1.67e-4,
                intake: 0,
            }],
            ..Movers::default()
        },
        ..Scene::default()
    }
}

/// Surveyed as the program does.
pub(crate) fn surveyed(scene: &Scene, settings: Settings) -> Survey {
    scene
        .survey(settings, 2, &|_| ControlFlow::Continue(()))
        .expect("nobody breaks it off")
}
