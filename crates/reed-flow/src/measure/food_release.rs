//! Where a pinch of something let go at the surface has got to.

use crate::field::Field;
use crate::measure::drifting::{Drifter, Met};
use crate::measure::muck::{LIFTED_BY, Muck};

/// A pinch is about so wide when it is let go, m.
const PINCH: f32 = 0.03;

/// Places, m, of so many pieces, so many seconds after they were let go at the surface above
/// `from`, m. They sink, come to rest and are lifted as [`Muck`] is.
pub fn drifted(
    field: &Field,
    from: [f32; 2],
    seconds: f32,
    muck: Muck,
    pieces: usize,
) -> Vec<[f32; 3]> {
    let size = field.size();
    let piece = |seed: u64| {
        let mut rng = fastrand::Rng::with_seed(seed ^ 0x0F00D);
        let spread = |rng: &mut fastrand::Rng| PINCH * (rng.f32() - 0.5);
        let [x, y] = from.map(|along| along + spread(&mut rng));
        let start = [
            x.clamp(0.0, size[0]),
            y.clamp(0.0, size[1]),
            size[2] * 0.999,
        ];
        let mut drifter = Drifter::new(field, seed, start, -muck.sinks);
        let mut gone = 0.0;
        while gone < seconds {
            let (met, dt) = drifter.step();
            gone += dt;
            if met == Met::Ground {
                if !drifter.chance((field.speed_over(drifter.at) / muck.lifted_at).powi(2)) {
                    break;
                }
                drifter.lift(LIFTED_BY);
            }
        }
        drifter.at
    };
    (0..pieces as u64).map(piece).collect()
}

#[cfg(test)]
mod tests {
    use super::drifted;
    use crate::field::Field;
    use crate::grid::Grid;
    use crate::measure::Muck;

    /// In a steady stream a pinch is where speed and time put it; in still water it lies below
    /// where it was let go.
    #[test]
    fn a_pinch_goes_with_the_stream_and_sinks() {
        let grid = Grid {
            cells: [20, 8, 8],
            h: 0.05,
        };
        let stream = |speed: f32| {
            let mut speeds = [grid.zeros(), grid.zeros(), grid.zeros()];
            speeds[0].fill(speed);
            Field::new(
                &grid,
                &speeds,
                &vec![1e-6; grid.len()],
                &vec![false; grid.len()],
            )
        };
        let muck = Muck {
            sinks: 0.004,
            lifted_at: 0.03,
        };
        let mean = |places: &[[f32; 3]]| -> [f32; 3] {
            std::array::from_fn(|axis| {
                places.iter().map(|place| place[axis]).sum::<f32>() / places.len() as f32
            })
        };
        let [x, y, z] = mean(&drifted(&stream(0.01), [0.2, 0.2], 30.0, muck, 200));
        assert!(
            (x - 0.5).abs() < 0.02 && (y - 0.2).abs() < 0.01 && (z - (0.4 - 0.12)).abs() < 0.01,
            "{x} {y} {z}"
        );
        let [x, _, z] = mean(&drifted(&stream(0.0), [0.2, 0.2], 200.0, muck, 200));
        assert!((x - 0.2).abs() < 0.02 && z < 0.005, "{x} {z}");
    }
}
