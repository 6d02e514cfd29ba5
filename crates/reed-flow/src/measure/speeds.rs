//! How fast the water is: at the surface, over the bed, everywhere.

use crate::field::Field;
use crate::measure::muck::BINS;

/// Water slower than this is slow, m/s. Common practice has no number; a centimetre in a second is
/// what an eye calls standing.
pub const SLOW: f32 = 0.01;
/// Between [`SLOW`] and this, m/s, fish rest at ease and water is still renewed. A judgement: a
/// tenth of what small fish keep up for hours, from memory.
pub const GENTLE: f32 = 0.04;
/// The lowest water that counts as over the bed, m.
const OVER_BED: f32 = 0.05;

/// Speed just below the surface, mean over it, m/s.
pub fn surface_speed(field: &Field) -> f32 {
    let top = field.grid().cells[2] - 1;
    mean(field, |cell| cell[2] == top, |[u, v, _]| u.hypot(v))
}

/// How briskly the surface is renewed, 1/s: the root of the mean squared divergence along it, by
/// which gas exchange goes (McCready, Vassiliadou & Hanratty 1986, from memory).
pub fn surface_renewal(field: &Field) -> f32 {
    let (grid, size) = (field.grid(), field.size());
    let h = grid.h;
    let (mut sum, mut count) = (0.0, 0.0_f32);
    for j in 0..grid.cells[1] {
        for i in 0..grid.cells[0] {
            let [x, y, _] = grid.middle([i, j, 0]);
            let at = |x: f32, y: f32| field.at([x, y, size[2]]).speed;
            let divergence = (at(x + h / 2.0, y)[0] - at(x - h / 2.0, y)[0]
                + at(x, y + h / 2.0)[1]
                - at(x, y - h / 2.0)[1])
                / h;
            sum += divergence * divergence;
            count += 1.0;
        }
    }
    (sum / count).sqrt()
}

/// Mean speed of all water, m/s.
pub fn mean_speed(field: &Field) -> f32 {
    mean(field, |_| true, norm)
}

/// Speed of the lowest water, mean over the bed, m/s.
pub fn bed_speed(field: &Field) -> f32 {
    mean(field, |cell| cell[2] == 0, norm)
}

/// Share of the water between two shares of the length that is slower than [`SLOW`].
pub fn slow_share(field: &Field, from: f32, to: f32) -> f32 {
    let length = field.size()[0];
    let here = |cell: [usize; 3]| (from..to).contains(&(field.grid().middle(cell)[0] / length));
    mean(
        field,
        here,
        |speed| if norm(speed) < SLOW { 1.0 } else { 0.0 },
    )
}

/// Share of the water that is neither slower than [`SLOW`] nor faster than [`GENTLE`].
pub fn gentle_share(field: &Field) -> f32 {
    mean(
        field,
        |_| true,
        |speed| {
            if (SLOW..GENTLE).contains(&norm(speed)) {
                1.0
            } else {
                0.0
            }
        },
    )
}

/// The current over a part of the bed.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct BedCurrent {
    /// Mean along x and y, m/s: the way it goes.
    pub mean: [f32; 2],
    /// Mean of its magnitude, m/s.
    pub speed: f32,
}

/// The current over the bed, by parts as in [`Deposit::rests`](crate::measure::Deposit::rests).
pub fn bed_current(field: &Field) -> [[BedCurrent; BINS[0]]; BINS[1]] {
    let (grid, size) = (field.grid(), field.size());
    let mut parts = [[BedCurrent::default(); BINS[0]]; BINS[1]];
    let mut counts = [[0.0_f32; BINS[0]]; BINS[1]];
    for cell in grid.all().filter(|cell| !field.is_solid(*cell)) {
        let place = grid.middle(cell);
        if place[2] > OVER_BED.max(grid.h) {
            break;
        }
        let [u, v, _] = field.at(place).speed;
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a bin of a few"
        )]
        let bin = |axis: usize| {
            ((place[axis] / size[axis] * BINS[axis] as f32) as usize).min(BINS[axis] - 1)
        };
        let part = &mut parts[bin(1)][bin(0)];
        part.mean[0] += u;
        part.mean[1] += v;
        part.speed += u.hypot(v);
        counts[bin(1)][bin(0)] += 1.0;
    }
    for (part, count) in parts.iter_mut().flatten().zip(counts.iter().flatten()) {
        let count = count.max(1.0);
        *part = BedCurrent {
            mean: part.mean.map(|sum| sum / count),
            speed: part.speed / count,
        };
    }
    parts
}

/// How the loop turns seen from the front, −1 to 1: positive with the hands of a clock, to the
/// right along the surface and back over the bed. The angular momentum about the middle over the
/// sum of its magnitudes.
pub fn loop_turns(field: &Field) -> f32 {
    let (grid, size) = (field.grid(), field.size());
    let (mut sum, mut most) = (0.0, 0.0);
    for cell in grid.all() {
        let place = grid.middle(cell);
        let (x, z) = (place[0] - size[0] / 2.0, place[2] - size[2] / 2.0);
        let [u, _, w] = field.at(place).speed;
        sum += z * u - x * w;
        most += (z * u).abs() + (x * w).abs();
    }
    sum / most.max(f32::MIN_POSITIVE)
}

fn norm(speed: [f32; 3]) -> f32 {
    speed.iter().map(|part| part * part).sum::<f32>().sqrt()
}

/// Mean over the water of the cells asked for.
fn mean(field: &Field, here: impl Fn([usize; 3]) -> bool, value: impl Fn([f32; 3]) -> f32) -> f32 {
    let (mut sum, mut count) = (0.0, 0.0_f32);
    for cell in field
        .grid()
        .all()
        .filter(|cell| !field.is_solid(*cell) && here(*cell))
    {
        sum += value(field.at(field.grid().middle(cell)).speed);
        count += 1.0;
    }
    sum / count.max(1.0)
}
