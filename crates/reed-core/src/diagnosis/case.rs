//! A case: the tank it is about and all that is known of it at one moment.

use jiff::civil::DateTime;

use super::observed::Observed;
use crate::tank::Tank;
use crate::units::Temperature;

/// What a diagnosis is made of.
#[derive(Clone, Debug, PartialEq)]
pub struct Case {
    /// The tank as it is described. It must have passed [`Tank::refusals`].
    pub tank: Tank,
    /// What was seen and read in it.
    pub observed: Observed,
}

impl Case {
    /// A case of which nothing is known yet but what the tank file says.
    pub fn new(tank: Tank, now: DateTime) -> Self {
        let observed = Observed::nothing(&tank, now);
        Self { tank, observed }
    }

    /// Temperature of the water: as read last, else as the tank file has it.
    pub fn water_temperature(&self) -> Temperature {
        self.observed
            .latest(crate::tank::Analyte::TEMPERATURE)
            .map_or_else(
                || self.tank.water_temperature(),
                |reading| Temperature::celsius(reading.value),
            )
    }
}
