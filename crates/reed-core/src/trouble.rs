//! What would happen to the oxygen if something failed: the same twin, run on the tank with the failure in it.

use crate::tank::thing::{SpongeDrive, ThingKind};
use crate::tank::{Running, Surface, Tank};
use crate::twin::{Stirring, Twin};
use crate::units::Temperature;

/// A heater that sticks on brings a tank to about this, °C. From memory; small tanks get there within a day.
const STUCK_CELSIUS: f64 = 32.0;

/// Something that fails.
#[derive(Clone, Copy, Debug)]
pub struct Trouble {
    /// As a keeper would say it.
    pub name: &'static str,
    /// The tank with it; `None` where nothing there can fail so.
    with: fn(&Tank) -> Option<Tank>,
}

/// Each of them.
pub const ALL: [Trouble; 3] = [
    Trouble { name: "Filters and pumps stop, air goes on", with: |tank| Some(changed(tank, &stop_pump)?.stilled()) },
    Trouble { name: "The air pump stops", with: |tank| changed(tank, &stop_air) },
    Trouble {
        name: "The heater sticks on, to 32 °C",
        with: |tank| {
            let heated = tank.things.iter().any(|thing| matches!(thing.what, ThingKind::Heater(_)));
            let cooler = tank.water_temperature().as_celsius() < STUCK_CELSIUS;
            (heated && cooler).then(|| Tank { temperature_now: Some(Temperature::celsius(STUCK_CELSIUS)), ..tank.clone() })
        },
    },
];

/// Stops what a pump drives; says whether it was one.
fn stop_pump(what: &mut ThingKind) -> bool {
    match what {
        ThingKind::HangOnBack(filter) => filter.running = Running::Stopped,
        ThingKind::Powerhead(pump) => pump.running = Running::Stopped,
        ThingKind::Outlet(_) | ThingKind::InternalFilter(_) | ThingKind::Overflow(_) => {}
        _ => return false,
    }
    true
}

/// Stops what air drives; says whether it was.
fn stop_air(what: &mut ThingKind) -> bool {
    match what {
        ThingKind::AirStone(stone) => stone.running = Running::Stopped,
        ThingKind::SpongeFilter(sponge) if sponge.drive == SpongeDrive::Air => sponge.running = Running::Stopped,
        _ => return false,
    }
    true
}

/// The tank with some of its things stopped, if it has any.
fn changed(tank: &Tank, stop: &dyn Fn(&mut ThingKind) -> bool) -> Option<Tank> {
    let mut tank = tank.clone();
    let stopped = tank.things.iter_mut().map(|thing| stop(&mut thing.what)).filter(|stopped| *stopped).count();
    (stopped > 0).then_some(tank)
}

impl Tank {
    /// Nothing moves its surface but bubbles.
    fn stilled(self) -> Self {
        Self { surface: self.surface.min(Surface::Still), ..self }
    }
}

impl Trouble {
    /// The lowest oxygen of the day once it has settled with the failure, mg/L; `None` where nothing there can fail so.
    pub fn lowest_mg_l(&self, tank: &Tank, stirring: Stirring) -> Option<f64> {
        Some(Twin::stirred(&(self.with)(tank)?, stirring).day.lowest().1)
    }
}

#[cfg(test)]
mod tests {
    use super::ALL;
    use crate::tank::{Tank, start};
    use crate::twin::{Stirring, Twin};
    use crate::units::Length;

    /// Whatever fails, no tank has more oxygen for it; some have much less, and a tank without air is not told of an air pump.
    #[test]
    fn what_fails_costs_oxygen() {
        let (mut told, mut worst) = (0, 0.0_f64);
        for start in start::ALL {
            let tank = start.tank();
            let lowest = Twin::of(&tank).day.lowest().1;
            for trouble in ALL {
                let Some(then) = trouble.lowest_mg_l(&tank, Stirring::AS_IT_LOOKS) else { continue };
                assert!(then <= lowest + 1e-9, "{}: {} brings {then} from {lowest}", start.id, trouble.name);
                told += 1;
                worst = worst.max(lowest - then);
            }
        }
        assert!(told > 15 && worst > 1.5, "{told} told, {worst} mg/L at worst");
        let bare = Tank::plain("bare", Length::cm(60.0), Length::cm(30.0), Length::cm(30.0));
        assert!(ALL.iter().all(|trouble| trouble.lowest_mg_l(&bare, Stirring::AS_IT_LOOKS).is_none()), "nothing there can fail");
    }
}
