//! What fields take of the units: amounts, hours of the day, and the keeper's choice of units.

use super::{Described, Field, FieldValue, What};
use crate::units::{
    Altitude, Angle, ClockHour, Concentration, FlowRate, HardnessUnit, Hours, Length, LengthUnit,
    Mass, NitrogenForm, Percent, Power, Pressure, Quantity, Salinity, SmallLength, Temperature,
    TemperatureUnit, Units, Volume, VolumeUnit,
};

macro_rules! amounts {
    ($($quantity:ty),+ $(,)?) => {
        $(impl FieldValue for $quantity { const WHAT: What = What::Amount(Self::UNITS); })+
    };
}

amounts! {
    Altitude, Angle, Concentration, FlowRate, Hours, Length, Mass, Percent, Power, Pressure, Salinity,
    SmallLength, Temperature, Volume,
}

impl FieldValue for ClockHour {
    const WHAT: What = What::Clock;
}

/// A choice of unit as a field.
const fn choice(key: &'static str, label: &'static str, help: &'static str, what: What) -> Field {
    Field {
        key,
        label,
        help,
        what,
        optional: false,
        range: (f64::NEG_INFINITY, f64::INFINITY),
    }
}

impl Described for Units {
    const FIELDS: &'static [Field] = &[
        choice(
            "volume",
            "Volumes",
            "Tanks, sumps, media; flows per hour follow.",
            What::OneOf(VolumeUnit::CHOICES),
        ),
        choice(
            "length",
            "Lengths",
            "Everything that is measured with a ruler.",
            What::OneOf(LengthUnit::CHOICES),
        ),
        choice(
            "temperature",
            "Temperatures",
            "Water and room.",
            What::OneOf(TemperatureUnit::CHOICES),
        ),
        choice(
            "nitrogen",
            "Ammonia, nitrite, nitrate",
            "Kits differ in what they report: look at the card of yours.",
            What::OneOf(NitrogenForm::CHOICES),
        ),
        choice(
            "hardness",
            "Carbonate hardness",
            "Alkalinity.",
            What::OneOf(HardnessUnit::CHOICES),
        ),
    ];
}
