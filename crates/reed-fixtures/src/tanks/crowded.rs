//! A long tank with many things in it, for measuring.

use reed_core::tank::thing::{AirStone, Intake, Outlet, Powerhead, Rock, ThingKind};
use reed_core::tank::{Bed, Tank};
use reed_core::units::{Angle, Length};

/// So many things in rows, of five kinds in turn, none in another's place.
pub fn crowded(things: u32) -> Tank {
    let mut tank = Tank::plain(
        "Crowded",
        Length::cm(300.0),
        Length::cm(100.0),
        Length::cm(60.0),
    );
    tank.bed = Bed {
        depth: Length::cm(4.0),
        ..Bed::default()
    };
    for index in 0..things {
        let (column, row) = (f64::from(index % 25), f64::from(index / 25));
        let place = |z: f64| (8.0 + 11.8 * column, 6.0 + 12.0 * row, z);
        let name = format!("Thing {}", index + 1);
        let turn = Angle::degrees(f64::from(index) * 7.0 % 360.0);
        let small = |cm| Length::cm(cm);
        match index % 5 {
            0 => tank.add_thing(
                &name,
                place(30.0),
                ThingKind::Outlet(Outlet {
                    heading: turn,
                    ..Outlet::default()
                }),
            ),
            1 => tank.add_thing(&name, place(20.0), ThingKind::Intake(Intake::default())),
            2 => tank.add_thing(&name, place(5.0), ThingKind::AirStone(AirStone::default())),
            3 => tank.add_thing(
                &name,
                place(25.0),
                ThingKind::Powerhead(Powerhead {
                    heading: turn,
                    ..Powerhead::default()
                }),
            ),
            _ => {
                let rock = Rock {
                    length: small(7.0),
                    width: small(6.0),
                    height: small(10.0),
                    turn,
                    ..Rock::default()
                };
                tank.add_thing(&name, place(3.0), ThingKind::Rock(rock));
            }
        }
    }
    tank
}
