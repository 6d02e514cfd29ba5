//! Streams that work against each other.

use crate::openings::{Movers, direction};

/// Share of the thrust that is spent against another stream: of each pair that points at each
/// other, twice the weaker one.
pub fn facing(movers: &Movers) -> f32 {
    let nozzles = movers
        .nozzles
        .iter()
        .map(|nozzle| (nozzle.at, direction(nozzle.towards), nozzle.thrust()));
    let pushes = movers
        .pushes
        .iter()
        .map(|push| (push.at, direction(push.towards), push.thrust));
    let streams: Vec<_> = nozzles.chain(pushes).collect();
    let total: f32 = streams.iter().map(|(_, _, thrust)| thrust).sum();
    let mut spent = 0.0;
    for (index, (at, towards, thrust)) in streams.iter().enumerate() {
        for (other_at, other_towards, other_thrust) in &streams[index + 1..] {
            let apart = direction(std::array::from_fn(|axis| other_at[axis] - at[axis]));
            if dot(*towards, apart) > ALIGNED && dot(*other_towards, apart) < -ALIGNED {
                spent += 2.0 * thrust.min(*other_thrust);
            }
        }
    }
    (spent / total.max(f32::MIN_POSITIVE)).min(1.0)
}

/// Cosine of the widest angle, 45°, at which a stream still points at something.
const ALIGNED: f32 = std::f32::consts::FRAC_1_SQRT_2;

fn dot(one: [f32; 3], other: [f32; 3]) -> f32 {
    (0..3).map(|axis| one[axis] * other[axis]).sum()
}

#[cfg(test)]
mod tests {
    use super::facing;
    use crate::openings::{Movers, Nozzle, Push};

    #[test]
    fn only_streams_that_point_at_each_other_are_spent() {
        let nozzle = |x: f32, right: f32| Nozzle {
            at: [x, 0.2, 0.4],
            towards: [right, 0.0, 0.0],
            flow: 1e-4,
            speed: 1.0,
        };
        let of = |nozzles: Vec<Nozzle>| {
            facing(&Movers {
                nozzles,
                ..Movers::default()
            })
        };
        assert!((of(vec![nozzle(0.0, 1.0), nozzle(1.0, -1.0)]) - 1.0).abs() < 1e-6);
        assert!(
            of(vec![nozzle(0.0, -1.0), nozzle(1.0, 1.0)]) < 1e-6,
            "back to back"
        );
        assert!(
            of(vec![nozzle(0.0, 1.0), nozzle(0.1, 1.0)]) < 1e-6,
            "side by side"
        );
        let push = Push {
            at: [1.0, 0.2, 0.4],
            towards: [-1.0, 0.0, 0.0],
            thrust: 3e-4,
            reach: 0.0,
        };
        let mixed = Movers {
            nozzles: vec![nozzle(0.0, 1.0)],
            pushes: vec![push],
            ..Movers::default()
        };
        assert!(
            (facing(&mixed) - 0.5).abs() < 1e-6,
            "the wave maker has more than the outlet can meet"
        );
    }
}
