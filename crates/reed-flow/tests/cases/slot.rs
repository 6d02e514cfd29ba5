//! Water that comes out of a slot over the whole width: a jet along a wall, and a room ventilated
//! from under its ceiling, which is a tank with its outlet along the surface, six times as large.

use reed_flow::{Drain, Flow, Grid, Movers, Nozzle, Wall};

use super::SLIP;

/// Along a wall the fastest speed falls as 3.5 U₀ √(slot / x): Rajaratnam 1976, *Turbulent Jets*,
/// from memory.
pub(crate) const WALL_JET_SPEED: f32 = 3.5;
/// And the place of half that speed leaves the wall by 0.07 to 0.09 of the way: Launder & Rodi 1983,
/// from memory (0.073 for the best of the experiments).
pub(crate) const WALL_JET_SPREADS: [f32; 2] = [0.07, 0.09];
/// The ventilated room of IEA Annex 20 (Nielsen 1990), three times as long as high, its slot 0.056
/// of the height, at Reynolds number 5,000: speed along the floor over that of the slot, one and two
/// heights from the slot, read from the published profiles, from memory.
pub(crate) const ROOM_FLOOR: [f32; 2] = [-0.2, -0.4];
/// The same close to the ceiling.
pub(crate) const ROOM_CEILING: [f32; 2] = [0.85, 0.65];

/// Drag of the walls as the program has it.
const ROUGH: Wall = Wall::Rough(0.0075);

struct Slot {
    size: [f32; 3],
    height: f32,
    speed: f32,
    /// Water is taken out along the foot of the far wall, so high over the floor.
    drain: f32,
    /// Seconds until the mean is begun, and until it ends.
    times: [f32; 2],
}

const WALL_JET: Slot = Slot {
    size: [3.0, 0.4, 1.2],
    height: 0.012,
    speed: 0.5,
    drain: 0.04,
    times: [50.0, 90.0],
};

const ROOM: Slot = Slot {
    size: [1.5, 0.2, 0.5],
    height: 0.028,
    speed: 0.179,
    drain: 0.04,
    times: [150.0, 400.0],
};

/// Along the wall from the slot.
pub(crate) struct WallJet {
    /// Fastest speed at each distance, over what is published.
    pub(crate) speed: Vec<f32>,
    /// How much further from the wall half of it is found for each metre on.
    pub(crate) spreads: f32,
}

/// A slot of 12 mm along a wall, made of so many pieces.
pub(crate) fn wall_jet(pieces: usize) -> WallJet {
    let slot = WALL_JET;
    let at: [f32; 5] = [0.4, 0.6, 0.8, 1.0, 1.2];
    let profiles = slot.profiles(pieces, 0.025, 1.0, &at);
    let fastest = |profile: &[f32]| profile.iter().copied().fold(0.0, f32::max);
    let half = |profile: &[f32]| {
        let half = fastest(profile) / 2.0;
        let above = profile
            .iter()
            .rposition(|speed| *speed < half)
            .map_or(0, |below| below + 1);
        let below = above.saturating_sub(1);
        let part = (half - profile[below]) / (profile[above] - profile[below]);
        slot.size[2] - (below as f32 + 0.5 + part) * 0.025
    };
    let speed = profiles.iter().zip(at).map(|(profile, at)| {
        fastest(profile) / slot.speed * (at / slot.height).sqrt() / WALL_JET_SPEED
    });
    let (first, last) = (half(&profiles[0]), half(&profiles[4]));
    WallJet {
        speed: speed.collect(),
        spreads: (last - first) / (at[4] - at[0]),
    }
}

/// Speed over that of the slot from the floor to the ceiling, one and two heights from the slot.
pub(crate) fn room(pieces: usize, h: f32, eddies: f32) -> [Vec<f32>; 2] {
    let profiles = ROOM.profiles(pieces, h, eddies, &[0.5, 1.0]);
    let [one, two] = profiles.try_into().expect("two places");
    [one, two].map(|profile: Vec<f32>| profile.iter().map(|speed| speed / ROOM.speed).collect())
}

impl Slot {
    /// Mean speed away from the slot from the floor up, averaged across, at these distances.
    fn profiles(&self, pieces: usize, h: f32, eddies: f32, at: &[f32]) -> Vec<Vec<f32>> {
        let [length, width, height] = self.size;
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a length over a spacing is small and positive"
        )]
        let cells = |length: f32| (length / h).round() as usize;
        let grid = Grid {
            cells: self.size.map(cells),
            h,
        };
        let mut flow = Flow::at_rest(grid, [[ROUGH; 2], SLIP[1], [ROUGH; 2]], 1e-6, |_| false);
        let up = height - self.height / 2.0;
        let ([from, to], total) = (
            [[0.0, 0.0, up], [0.0, width, up]],
            self.speed * self.height * width,
        );
        let nozzle = Nozzle {
            at: from,
            towards: [1.0, 0.0, 0.0],
            flow: total,
            speed: self.speed,
        };
        let [left, right] = [[length, 0.0, self.drain], [length, width, self.drain]];
        let drain = Drain {
            at: left,
            flow: total,
            intake: 0,
        };
        let movers = Movers {
            nozzles: nozzle.row(from, to, pieces).collect(),
            drains: drain.row(left, right, cells(width)).collect(),
            ..Movers::default()
        };
        flow.open(&movers, eddies);
        let (mut done, mut summed, mut sum) = (0.0, 0.0, grid.zeros());
        while done < self.times[1] {
            let dt = flow.longest_step();
            flow.step(dt);
            done += dt;
            if done > self.times[0] {
                summed += dt;
                let now = sum.iter_mut().zip(flow.speed(0));
                now.for_each(|(sum, speed)| *sum += dt * speed);
            }
        }
        let across = |i: usize, k: usize| {
            let row: f32 = (0..grid.cells[1]).map(|j| sum[grid.at(i, j, k)]).sum();
            row / summed / grid.cells[1] as f32
        };
        let up = |at: &f32| (0..grid.cells[2]).map(|k| across(cells(*at), k)).collect();
        at.iter().map(up).collect()
    }
}
