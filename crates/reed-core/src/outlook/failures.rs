//! What would happen to the oxygen if something failed: the same twin, run on the tank with the
//! failure in it.

use crate::figure::Figure;
use crate::tank::thing::Drive;
use crate::tank::{Surface, Tank};
use crate::twin::{Stirring, Twin};
use crate::units::{Power, Temperature};

/// Something that fails.
#[derive(Clone, Copy, Debug)]
pub struct Failure {
    /// As a keeper would say it.
    pub name: &'static str,
    /// The tank with it; `None` where nothing there can fail so.
    with: fn(&Tank) -> Option<Tank>,
    /// It warms the water.
    heats: bool,
}

/// Each of them.
pub const ALL: [Failure; 5] = [
    Failure {
        name: "The power fails: nothing moves",
        heats: false,
        with: |tank| Some(without(&[Drive::Pump, Drive::AirPump], tank).stilled()),
    },
    Failure {
        name: "Filters and pumps stop, air goes on",
        heats: false,
        with: |tank| {
            tank.air_sources()
                .next()
                .map(|_| without(&[Drive::Pump], tank).stilled())
        },
    },
    Failure {
        name: "The air pump stops",
        heats: false,
        with: |tank| {
            tank.air_sources()
                .next()
                .map(|_| without(&[Drive::AirPump], tank))
        },
    },
    Failure {
        name: "The heater sticks on",
        heats: true,
        with: |tank| {
            tank.things
                .iter()
                .any(|thing| thing.what.form().heating().is_some())
                .then(|| tank.clone())
        },
    },
    Failure {
        name: "The peroxide runs out",
        heats: false,
        with: |tank| {
            (tank.peroxide_catalysts > 0).then(|| Tank {
                peroxide_catalysts: 0,
                ..tank.clone()
            })
        },
    },
];

/// The tank with what is driven so standing still.
fn without(drives: &[Drive], tank: &Tank) -> Tank {
    let mut tank = tank.clone();
    drives.iter().for_each(|drive| tank.stop(*drive));
    tank
}

impl Tank {
    /// Nothing moves its surface but bubbles.
    fn stilled(self) -> Self {
        Self {
            surface: self.surface.min(Surface::Still),
            ..self
        }
    }
}

/// How oxygen falls with a failure that sets in at the lowest hour of the day.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Fall {
    /// The lowest that is reached, mg/L, and after how many hours.
    pub lowest: (f64, f64),
    /// Hours until 4 mg/L, and 2; `None` where it does not come to that within three days.
    pub hours_to: [Option<f64>; 2],
    /// Temperature in the end, °C.
    pub celsius: f64,
}

/// Levels of distress and death, mg/L. From memory.
pub const LEVELS_MG_L: [f64; 2] = [4.0, 2.0];
/// Watched for so many hours, in steps of so many.
const WATCHED_H: f64 = 72.0;
const STEP_H: f64 = 0.25;

impl Failure {
    /// What becomes of the oxygen; `None` where nothing there can fail so.
    pub fn fall(&self, tank: &Tank, stirring: Stirring) -> Option<Fall> {
        let mut failed = (self.with)(tank)?;
        let (mut hour, mut level) = Twin::stirred(tank, stirring).day.lowest();
        let heats = self.heats.then(|| Heating::of(tank));
        let mut course = Twin::course_of(&failed, stirring);
        let (mut lowest, mut hours_to) = (
            (level, 0.0),
            LEVELS_MG_L.map(|limit| (level <= limit).then_some(0.0)),
        );
        let mut since = 0.0;
        while since < WATCHED_H {
            if let Some(heating) = &heats {
                failed.temperature_now = Some(Temperature::celsius(
                    heating.celsius_after(since + STEP_H / 2.0),
                ));
                course = Twin::course_of(&failed, stirring);
            }
            level = course.step(level, hour, STEP_H);
            (since, hour) = (since + STEP_H, hour + STEP_H);
            // Exchange that is left may bring it back up; what was lowest stays.
            if level < lowest.0 - 1e-6 {
                lowest = (level, since);
            }
            for (reached, limit) in hours_to.iter_mut().zip(LEVELS_MG_L) {
                *reached = reached.or((level <= limit).then_some(since));
            }
        }
        Some(Fall {
            lowest,
            hours_to,
            celsius: failed.water_temperature().as_celsius(),
        })
    }
}

/// A heater that sticks on: `C·dT/dt = P − U·A·(T − room)`, solved.
struct Heating {
    from: f64,
    to: f64,
    per_h: f64,
}

/// Heat that a tank loses, W per m² of panes and surface and degree.
const LOSS_W_M2_K: Figure = Figure::from_memory(8.0);
/// Room where none is given, °C. From memory.
const USUAL_ROOM_CELSIUS: f64 = 20.0;
/// Heat that a litre of water takes for a degree, W·h.
const WH_PER_L_K: f64 = 4186.0 / 3600.0;
/// No warmer is looked at, °C: few animals live so long.
const HOTTEST_CELSIUS: f64 = 38.0;

impl Heating {
    fn of(tank: &Tank) -> Self {
        let watts: f64 = tank
            .things
            .iter()
            .filter_map(|thing| thing.what.form().heating())
            .map(Power::as_watts)
            .sum();
        let (length, width, level) = (
            tank.glass.length.as_metres(),
            tank.glass.width.as_metres(),
            tank.water_depth.as_metres(),
        );
        let loss_w_k = LOSS_W_M2_K.value * (2.0 * length * width + 2.0 * (length + width) * level);
        let room = tank
            .room
            .map_or(USUAL_ROOM_CELSIUS, Temperature::as_celsius);
        let from = tank.water_temperature().as_celsius();
        Self {
            from,
            to: (room + watts / loss_w_k).max(from),
            per_h: loss_w_k / (WH_PER_L_K * tank.net_volume().as_litres()),
        }
    }

    fn celsius_after(&self, hours: f64) -> f64 {
        (self.to + (self.from - self.to) * (-self.per_h * hours).exp())
            .min(HOTTEST_CELSIUS.max(self.from))
    }
}

#[cfg(test)]
mod tests {
    use super::{ALL, Fall, Heating};
    use crate::document::start;
    use crate::tank::thing::{Heater, ThingKind};
    use crate::tank::{Tank, Thing};
    use crate::twin::{Stirring, Twin};
    use crate::units::{Length, Mass, Power};
    use crate::water::oxygen::Reaches;

    /// Whatever fails, no tank has more oxygen for it; some have much less, and a tank without air
    /// is not told of an air pump.
    #[test]
    fn what_fails_costs_oxygen() {
        let (mut told, mut worst) = (0, 0.0_f64);
        for start in start::ALL {
            let tank = start.tank();
            let lowest = Twin::of(&tank).day.lowest().1;
            for failure in ALL {
                let Some(Fall {
                    lowest: (then, _),
                    hours_to,
                    ..
                }) = failure.fall(&tank, Stirring::AS_IT_LOOKS)
                else {
                    continue;
                };
                assert!(
                    then <= lowest + 1e-9,
                    "{}: {} brings {then} from {lowest}",
                    start.id,
                    failure.name
                );
                assert_eq!(
                    hours_to[0].is_some(),
                    then <= 4.0,
                    "{}: {}",
                    start.id,
                    failure.name
                );
                told += 1;
                worst = worst.max(lowest - then);
            }
        }
        assert!(
            told > 15 && worst > 1.5,
            "{told} told, {worst} mg/L at worst"
        );
        let bare = Tank::plain("bare", Length::cm(60.0), Length::cm(30.0), Length::cm(30.0));
        assert_eq!(
            ALL.iter()
                .filter(|failure| failure.fall(&bare, Stirring::AS_IT_LOOKS).is_some())
                .count(),
            1,
            "only the power can fail"
        );
    }

    /// A power cut, step by step, against the closed form of
    /// [`Outage`](crate::water::oxygen::Outage); a dark tank, so that no plants help.
    #[test]
    fn a_power_cut_takes_as_long_as_its_closed_form_says() {
        let mut tank = start::by_id("planted-canister").expect("listed").tank();
        (tank.plants, tank.feed) = (Default::default(), Mass::grams(12.0));
        let Reaches::After(hours) = Twin::of(&tank).outage.reaches(4.0) else {
            panic!("it comes to that")
        };
        let fall = ALL[0]
            .fall(&tank, Stirring::AS_IT_LOOKS)
            .expect("the power can fail");
        assert!(
            (fall.hours_to[0].expect("it comes to that") - hours).abs() <= 0.3,
            "{fall:?} and {hours}"
        );
    }

    /// By hand: 100 W into 100 L raise it by less than a degree an hour; a small tank with as much
    /// heating is hot sooner.
    #[test]
    fn a_stuck_heater_warms_small_tanks_first() {
        let heated = |length: f64| {
            let mut tank = Tank::plain(
                "heated",
                Length::cm(length),
                Length::cm(40.0),
                Length::cm(40.0),
            );
            let heater = Heater {
                power: Power::watts(100.0),
                ..Heater::default()
            };
            tank.things.push(Thing::new(
                1,
                "Heater",
                (5.0, 5.0, 5.0),
                ThingKind::Heater(heater),
            ));
            tank
        };
        let after =
            |length: f64, hours: f64| Heating::of(&heated(length)).celsius_after(hours) - 24.0;
        assert!(
            (0.4..0.86).contains(&after(62.5, 1.0)),
            "{}",
            after(62.5, 1.0)
        );
        assert!(after(30.0, 6.0) > 1.5 * after(120.0, 6.0) && after(62.5, 1000.0) < 14.1);
        let fall = ALL[3]
            .fall(&heated(30.0), Stirring::AS_IT_LOOKS)
            .expect("it has a heater");
        assert!(fall.celsius > 28.0 && fall.lowest.1 > 1.0, "{fall:?}");
    }
}
