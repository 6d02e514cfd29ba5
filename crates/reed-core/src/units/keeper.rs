//! The units a keeper reads and types; everything is stored in base units, whatever was chosen.

use super::Unit;
use super::masses::{AMMONIUM_PER_NITROGEN, NITRATE_PER_NITROGEN};

/// Declares one choice with its type. The table of fields stands above the units, so what a form
/// asks for them is said there.
macro_rules! unit_choice {
    ($(#[$doc:meta])* $type:ident: $($(#[$vdoc:meta])* $variant:ident = $id:literal, $words:literal;)+) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        pub enum $type {
            $(#[doc = $words] $(#[$vdoc])* #[serde(rename = $id)] $variant,)+
        }

        closed_set! { $type: $($variant = $id, $words;)+ }
    };
}

unit_choice! {
    /// Volumes, and flows with them.
    VolumeUnit:
    #[default]
    Litres = "litres", "litres";
    UsGallons = "us-gallons", "US gallons";
    ImperialGallons = "imperial-gallons", "imperial gallons";
}

unit_choice! {
    /// Lengths.
    LengthUnit:
    #[default]
    Centimetres = "centimetres", "centimetres";
    Inches = "inches", "inches";
}

unit_choice! {
    /// Temperatures.
    TemperatureUnit:
    #[default]
    Celsius = "celsius", "°C";
    Fahrenheit = "fahrenheit", "°F";
}

unit_choice! {
    /// What ammonia, nitrite and nitrate are given as.
    NitrogenForm:
    /// As most kits for homes report.
    #[default]
    Ion = "ion", "as the ion (NH₄, NO₂, NO₃)";
    /// As laboratories and some kits report ("-N").
    Nitrogen = "nitrogen", "as its nitrogen (NH₄-N, NO₂-N, NO₃-N)";
}

unit_choice! {
    /// Carbonate hardness.
    HardnessUnit:
    #[default]
    Degrees = "degrees", "dKH";
    CalciumCarbonate = "calcium-carbonate", "mg/L CaCO₃";
    Milliequivalents = "milliequivalents", "meq/L";
}

/// The keeper's choice of units; what most keepers read where nothing was chosen.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Units {
    /// Tanks, sumps, media; flows per hour follow.
    #[serde(default)]
    pub volume: VolumeUnit,
    /// Everything that is measured with a ruler.
    #[serde(default)]
    pub length: LengthUnit,
    /// Water and room.
    #[serde(default)]
    pub temperature: TemperatureUnit,
    /// Kits differ in what they report: look at the card of yours.
    #[serde(default)]
    pub nitrogen: NitrogenForm,
    /// Alkalinity.
    #[serde(default)]
    pub hardness: HardnessUnit,
}

impl Units {
    /// Everything in the unit it is stored in.
    pub const BASE: Self = Self {
        volume: VolumeUnit::Litres,
        length: LengthUnit::Centimetres,
        temperature: TemperatureUnit::Celsius,
        nitrogen: NitrogenForm::Nitrogen,
        hardness: HardnessUnit::Degrees,
    };

    /// The unit to print and to assume for typed numbers, among those of a quantity: the first that
    /// was chosen, or the base.
    pub fn of(&self, units: &'static [Unit]) -> &'static Unit {
        let chosen = self.symbols();
        units
            .iter()
            .find(|unit| chosen.contains(&unit.symbol))
            .unwrap_or(&units[0])
    }

    /// A value in base units as printed, with its unit and so many decimals of the base unit's
    /// size.
    pub fn print(&self, base: f64, units: &'static [Unit], decimals: usize) -> String {
        let unit = self.of(units);
        format!("{:.decimals$} {}", unit.from_base(base), unit.symbol)
            .trim_end()
            .to_owned()
    }

    /// A level of nitrate, given as the ion, as the keeper reads it.
    pub fn nitrate(&self, ion_mg_l: f64) -> String {
        match self.nitrogen {
            NitrogenForm::Ion => format!("{ion_mg_l:.0} mg/L NO₃"),
            NitrogenForm::Nitrogen => format!("{:.0} mg/L N", ion_mg_l / NITRATE_PER_NITROGEN),
        }
    }

    /// Nitrogen that is set free or held, in grams, with the unit as the keeper reads ammonia:
    /// "0.04 g NH₄".
    pub fn nitrogen_grams(&self, grams: f64, decimals: usize) -> String {
        match self.nitrogen {
            NitrogenForm::Ion => format!("{:.decimals$} g NH₄", grams * AMMONIUM_PER_NITROGEN),
            NitrogenForm::Nitrogen => format!("{grams:.decimals$} g N"),
        }
    }

    /// The choices as one word for a form to carry, so that what is typed into it is read in the
    /// units it was shown in: the ids, with dots between them.
    pub fn code(&self) -> String {
        [
            self.volume.id(),
            self.length.id(),
            self.temperature.id(),
            self.nitrogen.id(),
            self.hardness.id(),
        ]
        .join(".")
    }

    /// The choices that a form carried; `None` for anything else.
    pub fn from_code(code: &str) -> Option<Self> {
        let mut ids = code.split('.');
        let units = Self {
            volume: VolumeUnit::by_id(ids.next()?)?,
            length: LengthUnit::by_id(ids.next()?)?,
            temperature: TemperatureUnit::by_id(ids.next()?)?,
            nitrogen: NitrogenForm::by_id(ids.next()?)?,
            hardness: HardnessUnit::by_id(ids.next()?)?,
        };
        ids.next().is_none().then_some(units)
    }

    /// Symbols of every unit that differs from the base of its quantity.
    fn symbols(&self) -> [&'static str; 10] {
        let (volume, flow) = match self.volume {
            VolumeUnit::Litres => ("", ""),
            VolumeUnit::UsGallons => ("US gal", "US gal/h"),
            VolumeUnit::ImperialGallons => ("imp gal", "imp gal/h"),
        };
        let (length, height) = if self.length == LengthUnit::Inches {
            ("in", "ft")
        } else {
            ("", "")
        };
        let temperature = if self.temperature == TemperatureUnit::Fahrenheit {
            "°F"
        } else {
            ""
        };
        let [ammonium, unionised, nitrite, nitrate] = if self.nitrogen == NitrogenForm::Ion {
            ["mg/L NH₄", "mg/L NH₃", "mg/L NO₂", "mg/L NO₃"]
        } else {
            [""; 4]
        };
        let hardness = match self.hardness {
            HardnessUnit::Degrees => "",
            HardnessUnit::CalciumCarbonate => "mg/L CaCO₃",
            HardnessUnit::Milliequivalents => "meq/L",
        };
        [
            volume,
            flow,
            length,
            height,
            temperature,
            ammonium,
            unionised,
            nitrite,
            nitrate,
            hardness,
        ]
    }
}

#[cfg(test)]
mod tests {
    use super::{HardnessUnit, LengthUnit, NitrogenForm, TemperatureUnit, Units, VolumeUnit};
    use crate::tank::Analyte;
    use crate::units::{FlowRate, Length, Quantity, Temperature, Volume};

    #[test]
    fn every_choice_changes_what_is_printed() {
        let metric = Units::BASE;
        let imperial = Units {
            volume: VolumeUnit::UsGallons,
            length: LengthUnit::Inches,
            temperature: TemperatureUnit::Fahrenheit,
            nitrogen: NitrogenForm::Ion,
            hardness: HardnessUnit::Milliequivalents,
        };
        for (base, units, in_base, chosen) in [
            (200.0, Volume::UNITS, "200.0 L", "52.8 US gal"),
            (1000.0, FlowRate::UNITS, "1000.0 L/h", "264.2 US gal/h"),
            (100.0, Length::UNITS, "100.0 cm", "39.4 in"),
            (25.0, Temperature::UNITS, "25.0 °C", "77.0 °F"),
            (1.0, Analyte::NITRITE.units, "1.0 mg/L N", "3.3 mg/L NO₂"),
            (1.0, Analyte::AMMONIA.units, "1.0 mg/L N", "1.3 mg/L NH₄"),
            (2.804, Analyte::KH.units, "2.8 dKH", "1.0 meq/L"),
        ] {
            assert_eq!(
                (metric.print(base, units, 1), imperial.print(base, units, 1)),
                (in_base.to_owned(), chosen.to_owned())
            );
        }
        assert_eq!(
            (
                metric.nitrogen_grams(1.0, 2),
                imperial.nitrogen_grams(1.0, 2)
            ),
            ("1.00 g N".to_owned(), "1.29 g NH₄".to_owned())
        );
        let hard = Units {
            hardness: HardnessUnit::CalciumCarbonate,
            ..metric
        };
        assert_eq!(hard.print(10.0, Analyte::KH.units, 0), "178 mg/L CaCO₃");
    }

    #[test]
    fn a_form_carries_its_units_and_nothing_else_is_taken_for_them() {
        for nitrogen in NitrogenForm::ALL {
            for length in LengthUnit::ALL {
                let units = Units {
                    nitrogen: *nitrogen,
                    length: *length,
                    volume: VolumeUnit::ImperialGallons,
                    ..Units::BASE
                };
                assert_eq!(Units::from_code(&units.code()), Some(units));
            }
        }
        for code in [
            "",
            "litres",
            "litres.inches.celsius.ion",
            "litres.inches.celsius.ion.degrees.more",
            "a.b.c.d.e",
        ] {
            assert_eq!(Units::from_code(code), None, "{code}");
        }
    }
}
