//! Slots against published jets along walls and the ventilated room.

use crate::cases::slot::{ROOM_CEILING, ROOM_FLOOR, WALL_JET_SPREADS, room, wall_jet};

/// Fitted to none of it: the viscosity of a plane jet follows from that of the round jets that it is
/// made of, whatever their number.
#[test]
fn a_slot_along_a_wall_slows_and_spreads_as_published_however_it_is_cut() {
    let jets = [4, 32].map(wall_jet);
    for jet in &jets {
        let [least, most] = WALL_JET_SPREADS;
        assert!((least..most).contains(&jet.spreads), "{}", jet.spreads);
        for share in &jet.speed {
            assert!((share - 1.0).abs() < 0.12, "{:?}", jet.speed);
        }
    }
    for (few, many) in jets[0].speed.iter().zip(&jets[1].speed) {
        assert!((few / many - 1.0).abs() < 0.08, "{few} for {many}");
    }
}

/// What is left of the eddies aside of a row was set by this room, which therefore guards it and does
/// not judge it. Along the floor the water comes back about as fast as it did in the room, under the ceiling it
/// leaves so: twice and half the eddies of a survey hold what was measured between them.
#[test]
fn a_ventilated_room_turns_as_published() {
    let [half, likely, twice] = [0.5, 1.0, 2.0].map(|eddies| room(8, 0.025, eddies));
    for place in 0..2 {
        let ends = |of: &[Vec<f32>; 2]| {
            let profile = &of[place];
            (profile[0], profile[profile.len() - 1])
        };
        let (floor, ceiling) = ends(&likely);
        let [(slow, _), (fast, _)] = [ends(&half), ends(&twice)];
        assert!(
            (fast.min(floor)..=slow.max(floor)).contains(&ROOM_FLOOR[place]),
            "{slow} to {fast} along the floor for {}",
            ROOM_FLOOR[place]
        );
        assert!((floor - ROOM_FLOOR[place]).abs() < 0.16, "{floor}");
        assert!((ceiling - ROOM_CEILING[place]).abs() < 0.1, "{ceiling}");
    }
}
