//! Quantities with their unit in the type.
//!
//! A quantity is a private `f64` in the unit keepers read it in (litres, centimetres, °C): 30 L
//! stays exactly 30. A unit is one row in its quantity's file, and everything else (conversion,
//! parsing of typed text, the tests) walks the rows. To add a unit, add a row; to add a quantity,
//! add a file and its line here.

mod typed;

pub use typed::{Refusal, accepted_amount, plain, read_amount};

/// One way to write a quantity.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Unit {
    /// Symbol as printed.
    pub symbol: &'static str,
    /// Other spellings accepted in typed text, lower case.
    pub also: &'static [&'static str],
    /// Base units in one of this unit.
    pub factor: f64,
    /// Base value at this unit's zero (only temperatures have one).
    pub offset: f64,
}

impl Unit {
    /// Turns a value in this unit into base units.
    pub fn to_base(self, value: f64) -> f64 {
        value * self.factor + self.offset
    }

    /// Turns base units into this unit.
    pub fn from_base(self, base: f64) -> f64 {
        (base - self.offset) / self.factor
    }
}

/// What all quantities have in common; used by text parsing and by tests that walk every unit.
pub trait Quantity: Copy + PartialOrd {
    /// Every unit, the base unit first.
    const UNITS: &'static [Unit];
    /// Makes the quantity from its base unit.
    fn from_base(base: f64) -> Self;
    /// The value in the base unit.
    fn base(self) -> f64;
}

/// Declares a quantity: its type, the constructor and getter of its base unit, and its rows of
/// units.
macro_rules! quantity {
    ($(#[$doc:meta])* $name:ident: $from:ident / $get:ident;
     $($symbol:literal $(| $also:literal)* = $factor:expr $(, zero at $offset:expr)?;)+) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, Default, PartialEq, PartialOrd, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        #[serde(transparent)]
        pub struct $name(f64);

        impl $name {
            #[doc = concat!("From the base unit; see `", stringify!($name), "::UNITS` for the others.")]
            pub const fn $from(value: f64) -> Self { Self(value) }
            #[doc = "The value in the base unit."]
            pub const fn $get(self) -> f64 { self.0 }
        }

        impl $crate::units::Quantity for $name {
            const UNITS: &'static [$crate::units::Unit] = &[
                $($crate::units::Unit { symbol: $symbol, also: &[$($also),*], factor: $factor, offset: 0.0 $(+ $offset)? },)+
            ];
            fn from_base(base: f64) -> Self { Self(base) }
            fn base(self) -> f64 { self.0 }
        }
    };
}

mod altitude;
mod angle;
mod concentration;
mod days;
mod flow_rate;
mod hours;
mod keeper;
mod length;
mod mass;
pub mod masses;
mod moment;
mod percent;
mod power;
mod pressure;
mod salinity;
mod small_length;
mod temperature;
mod volume;

pub use altitude::Altitude;
pub use angle::Angle;
pub use concentration::Concentration;
pub use days::{days_of, span_of_days};
pub use flow_rate::FlowRate;
pub use hours::{ClockHour, Hours};
pub use keeper::{HardnessUnit, LengthUnit, NitrogenForm, TemperatureUnit, Units, VolumeUnit};
pub use length::Length;
pub use mass::Mass;
pub use moment::{Lies, names_a_day, read_day, read_moment};
pub use percent::Percent;
pub use power::Power;
pub use pressure::Pressure;
pub use salinity::Salinity;
pub use small_length::SmallLength;
pub use temperature::Temperature;
pub use volume::Volume;

#[cfg(test)]
mod tests {
    use super::{
        Altitude, Concentration, FlowRate, Length, Mass, Pressure, Quantity, Salinity, SmallLength,
        Temperature, Volume,
    };
    use proptest::prelude::{any, prop_assert, proptest};

    fn round_trips<Q: Quantity>(base: f64) -> Result<(), proptest::test_runner::TestCaseError> {
        for unit in Q::UNITS {
            let back = unit.to_base(unit.from_base(base));
            prop_assert!(
                (back - base).abs() <= 1e-12 * base.abs().max(1e3),
                "{} {base} came back as {back}",
                unit.symbol
            );
        }
        Ok(())
    }

    proptest! {
        #[test]
        fn every_unit_of_every_quantity_converts_there_and_back(value in any::<i32>()) {
            let base = f64::from(value) / 1000.0;
            round_trips::<Altitude>(base)?;
            round_trips::<Concentration>(base)?;
            round_trips::<FlowRate>(base)?;
            round_trips::<Length>(base)?;
            round_trips::<Mass>(base)?;
            round_trips::<Pressure>(base)?;
            round_trips::<Salinity>(base)?;
            round_trips::<SmallLength>(base)?;
            round_trips::<Temperature>(base)?;
            round_trips::<Volume>(base)?;
        }
    }

    /// Definitions: BIPM SI Brochure for metric; NIST SP 811 for the inch, foot, pound, both
    /// gallons and °F.
    #[test]
    #[expect(clippy::float_cmp, reason = "the definitions are exact")]
    fn defined_units_have_their_defined_value() {
        let factor = |units: &[super::Unit], symbol: &str| {
            units
                .iter()
                .find(|u| u.symbol == symbol)
                .expect("listed")
                .factor
        };
        assert_eq!(factor(Volume::UNITS, "US gal"), 3.785_411_784);
        assert_eq!(factor(Volume::UNITS, "imp gal"), 4.546_09);
        assert_eq!(factor(Length::UNITS, "in"), 2.54);
        assert_eq!(factor(SmallLength::UNITS, "in"), 25.4);
        assert_eq!(factor(Altitude::UNITS, "ft"), 0.3048);
        assert_eq!(factor(Mass::UNITS, "oz"), 28.349_523_125);
        // Handbooks of the trade: 1 dKH = 17.848 mg/L CaCO₃, 1 meq/L = 2.804 dKH; NO₂ = 3.284 N,
        // NH₄ = 1.288 N.
        let analyte = |units, symbol| 1.0 / factor(units, symbol);
        assert!((analyte(crate::tank::Analyte::KH.units, "mg/L CaCO₃") - 17.848).abs() < 1e-9);
        assert!((factor(crate::tank::Analyte::KH.units, "meq/L") - 2.804).abs() < 5e-4);
        assert!((analyte(crate::tank::Analyte::NITRITE.units, "mg/L NO₂") - 3.284).abs() < 1e-9);
        assert!((analyte(crate::tank::Analyte::AMMONIA.units, "mg/L NH₄") - 1.288).abs() < 1e-9);
        assert!(
            (Temperature::UNITS[1].to_base(77.0) - 25.0).abs() < 1e-12,
            "77 °F is 25 °C"
        );
    }
}
