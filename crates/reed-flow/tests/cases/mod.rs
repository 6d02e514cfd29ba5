//! Cases with known answers, for the tests and for the report on them: each returns what was found
//! beside what is known.

#![allow(dead_code, reason = "the tests and the report on them each use a part")]

pub(crate) mod boxes;
pub(crate) mod cavity;
pub(crate) mod closed;
pub(crate) mod jet;
pub(crate) mod slot;
pub(crate) mod tanks;

use reed_flow::{Flow, Wall};

/// Walls along which water slides.
pub(crate) const SLIP: [[Wall; 2]; 3] = [[Wall::Slip; 2]; 3];

/// Moves the water on by so many seconds; returns how many it were.
pub(crate) fn run(flow: &mut Flow, seconds: f32) -> f32 {
    let mut done = 0.0;
    while done < seconds {
        let dt = flow.longest_step().min(seconds - done);
        flow.step(dt);
        done += dt;
    }
    done
}
