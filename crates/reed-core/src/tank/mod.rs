//! What stands there: the keeper's tank as plain data, checked once at the border.
//!
//! [`Tank`] is what the file holds, what a form fills and what a change turns into another one. Lengths, volumes
//! and the like carry their unit in the type; the serialised names carry it in the name.

/// Gives a closed set of choices its list, its ids (as in documents) and its words (as on pages).
macro_rules! choices {
    ($type:ident: $($variant:ident = $id:literal, $words:literal;)+) => {
        impl $type {
            /// All of them, in their order.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];

            /// Id as in the document.
            pub const fn id(self) -> &'static str {
                match self { $(Self::$variant => $id),+ }
            }

            /// In the keeper's words.
            pub const fn words(self) -> &'static str {
                match self { $(Self::$variant => $words),+ }
            }

            /// The choice with this id.
            pub fn by_id(id: &str) -> Option<Self> {
                Self::ALL.iter().copied().find(|choice| choice.id() == id)
            }
        }
    };
}

mod air;
pub mod kit;
mod plants;
mod reading;
mod stock;
mod surface;

pub use air::{AirSource, Bubbles, Running};
pub use plants::{Planting, Plants};
pub use reading::{Analyte, Reading, analyte, hour_of_day};
pub use stock::{Activity, StockGroup};
pub use surface::{FallingWater, Surface};

use crate::figure::Figure;
use crate::units::{Altitude, Length, Mass, Refusal, Salinity, Span, Temperature, Volume};

/// Net water as a share of length × width × depth when the keeper has not measured it: bed and rocks take the rest.
pub const NET_SHARE_OF_GROSS: Figure = Figure::common_practice(0.88);

/// A tank as it stands.
///
/// The document form has the field names given here; every quantity is in the unit its name ends with.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Tank {
    /// What the keeper calls it.
    pub name: String,
    /// Inside length, left to right.
    #[serde(rename = "length_cm")]
    pub length: Length,
    /// Inside width, front to back.
    #[serde(rename = "width_cm")]
    pub width: Length,
    /// Depth of the water.
    #[serde(rename = "water_depth_cm")]
    pub water_depth: Length,
    /// Water actually in it, without bed, rocks and roots.
    #[serde(rename = "net_volume_l")]
    pub net_volume: Volume,
    /// Water temperature as the keeper means it to be.
    #[serde(rename = "temperature_c")]
    pub temperature: Temperature,
    /// Water temperature now, where it is known to differ.
    #[serde(rename = "temperature_now_c", default, skip_serializing_if = "Option::is_none")]
    pub temperature_now: Option<Temperature>,
    /// Height of the place above sea level.
    #[serde(rename = "altitude_m", default)]
    pub altitude: Altitude,
    /// Salt content.
    #[serde(rename = "salinity_g_per_kg", default)]
    pub salinity: Salinity,
    /// How the surface looks when all is as it should be.
    pub surface: Surface,
    /// A powerhead or wave maker hangs in the water and could be tilted up.
    #[serde(default)]
    pub has_wave_maker: bool,
    /// Water that falls into the tank through air: a hang-on-back lip, an overflow.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub falling_water: Option<FallingWater>,
    /// Air stones, air-driven sponge filters.
    #[serde(default)]
    pub air: Vec<AirSource>,
    /// Plants and light.
    pub plants: Plants,
    /// Animals, as groups of like mass; the kind does not matter to oxygen, the mass does.
    #[serde(default)]
    pub stock: Vec<StockGroup>,
    /// Feed per day, weighed as it is fed.
    #[serde(rename = "feed_g_per_day")]
    pub feed: Mass,
    /// Protein of that feed as fed, percent of its mass.
    #[serde(default = "default_protein")]
    pub feed_protein_percent: f64,
    /// Carbon dioxide is dosed for plants.
    #[serde(default)]
    pub co2_dosed: bool,
    /// Peroxide catalyst devices in the tank.
    #[serde(default)]
    pub peroxide_catalysts: u32,
    /// Organic matter that rots somewhere each day besides the daily feed, as dry mass: a dead animal, a heap of leftovers.
    #[serde(rename = "rotting_g_per_day", default)]
    pub rotting: Mass,
}

fn default_protein() -> f64 {
    40.0
}

/// The span each field of a tank accepts; forms, documents and tests read the same rows.
pub mod spans {
    use super::{Altitude, Length, Mass, Salinity, Span, Temperature, Volume};
    use crate::units::FlowRate;

    /// Inside length.
    pub const LENGTH: Span<Length> = Span::new("length_cm", "Length", 10.0, 1000.0);
    /// Inside width.
    pub const WIDTH: Span<Length> = Span::new("width_cm", "Width", 5.0, 500.0);
    /// Water depth.
    pub const WATER_DEPTH: Span<Length> = Span::new("water_depth_cm", "Water depth", 3.0, 300.0);
    /// Water in the tank.
    pub const NET_VOLUME: Span<Volume> = Span::new("net_volume_l", "Water in the tank", 1.0, 50_000.0);
    /// Water temperature.
    pub const TEMPERATURE: Span<Temperature> = Span::new("temperature_c", "Water temperature", 0.0, 40.0);
    /// Height above sea level; the solubility relations are checked to 3000 m.
    pub const ALTITUDE: Span<Altitude> = Span::new("altitude_m", "Height above sea level", -400.0, 4000.0);
    /// Salt content; Benson & Krause 1984 fitted 0 to 40.
    pub const SALINITY: Span<Salinity> = Span::new("salinity_g_per_kg", "Salt content", 0.0, 40.0);
    /// Feed per day.
    pub const FEED: Span<Mass> = Span::new("feed_g_per_day", "Feed per day", 0.0, 5000.0);
    /// Rotting matter per day.
    pub const ROTTING: Span<Mass> = Span::new("rotting_g_per_day", "Rotting matter per day", 0.0, 1000.0);
    /// Mass of one animal.
    pub const MASS_EACH: Span<Mass> = Span::new("mass_each_g", "Mass of one animal", 0.01, 50_000.0);
    /// Air pumped through one stone or sponge.
    pub const AIR_FLOW: Span<FlowRate> = Span::new("air_l_per_h", "Air flow", 1.0, 5000.0);
    /// Depth at which the air leaves.
    pub const AIR_DEPTH: Span<Length> = Span::new("air_depth_cm", "Depth of the air stone", 2.0, 300.0);
    /// Water that falls.
    pub const FALL_FLOW: Span<FlowRate> = Span::new("fall_l_per_h", "Flow of the falling water", 1.0, 50_000.0);
    /// Height of the fall.
    pub const FALL_HEIGHT: Span<Length> = Span::new("fall_height_cm", "Height of the fall", 0.5, 100.0);
}

impl Tank {
    /// A plain tank of this size with nothing in it: the starting point of forms and scenes.
    pub fn plain(name: &str, length: Length, width: Length, water_depth: Length) -> Self {
        Self {
            name: name.to_owned(),
            length,
            width,
            water_depth,
            net_volume: Self::net_from_size(length, width, water_depth),
            temperature: Temperature::celsius(24.0),
            temperature_now: None,
            altitude: Altitude::default(),
            salinity: Salinity::default(),
            surface: Surface::Rippled,
            has_wave_maker: false,
            falling_water: None,
            air: Vec::new(),
            plants: Plants { planting: Planting::None, lights_on_hour: 9.0, light_hours: 10.0 },
            stock: Vec::new(),
            feed: Mass::default(),
            feed_protein_percent: default_protein(),
            co2_dosed: false,
            peroxide_catalysts: 0,
            rotting: Mass::default(),
        }
    }

    /// Net water to expect from the inside size alone.
    pub fn net_from_size(length: Length, width: Length, water_depth: Length) -> Volume {
        let gross = length.as_cm() * width.as_cm() * water_depth.as_cm() / 1000.0;
        Volume::litres((gross * NET_SHARE_OF_GROSS.value * 10.0).round() / 10.0)
    }

    /// Area of the water surface in m².
    pub fn surface_area_m2(&self) -> f64 {
        self.length.as_metres() * self.width.as_metres()
    }

    /// Water temperature that counts now.
    pub fn water_temperature(&self) -> Temperature {
        self.temperature_now.unwrap_or(self.temperature)
    }

    /// Mass of all animals.
    pub fn stock_mass(&self) -> Mass {
        Mass::grams(self.stock.iter().map(|group| f64::from(group.count) * group.mass_each.as_grams()).sum())
    }

    /// Some animal here breathes air or lives at the surface by nature.
    pub fn has_air_breathers(&self) -> bool {
        self.stock.iter().any(|group| group.breathes_air)
    }

    /// Everything about the tank that cannot be, one sentence each; empty when it is sound.
    pub fn refusals(&self) -> Vec<Refusal> {
        let mut refusals = Vec::new();
        let mut note = |refusal: Option<Refusal>| refusals.extend(refusal);
        note(spans::LENGTH.check(self.length).err());
        note(spans::WIDTH.check(self.width).err());
        note(spans::WATER_DEPTH.check(self.water_depth).err());
        note(spans::NET_VOLUME.check(self.net_volume).err());
        note(spans::TEMPERATURE.check(self.temperature).err());
        note(self.temperature_now.and_then(|now| spans::TEMPERATURE.check(now).err()));
        note(spans::ALTITUDE.check(self.altitude).err());
        note(spans::SALINITY.check(self.salinity).err());
        note(spans::FEED.check(self.feed).err());
        note(spans::ROTTING.check(self.rotting).err());
        note(self.name_refusal());
        note(self.volume_refusal());
        note(within("feed_protein_percent", "Protein in the feed", self.feed_protein_percent, 0.0, 100.0, "%"));
        note(within("lights_on_hour", "Lights go on at", self.plants.lights_on_hour, 0.0, 23.99, "h"));
        note(within("light_hours", "Hours of light", self.plants.light_hours, 0.0, 24.0, "h"));
        note(within("peroxide_catalysts", "Peroxide catalysts", f64::from(self.peroxide_catalysts), 0.0, 20.0, ""));
        if let Some(fall) = &self.falling_water {
            note(spans::FALL_FLOW.check(fall.flow).err());
            note(spans::FALL_HEIGHT.check(fall.height).err());
        }
        for air in &self.air {
            note(spans::AIR_FLOW.check(air.flow).err());
            note(spans::AIR_DEPTH.check(air.depth).err());
            note(self.air_too_deep(air));
        }
        for group in &self.stock {
            note(spans::MASS_EACH.check(group.mass_each).err());
            note(within("count", "Number of animals", f64::from(group.count), 1.0, 100_000.0, ""));
        }
        refusals
    }

    fn name_refusal(&self) -> Option<Refusal> {
        let name = self.name.trim();
        (name.is_empty() || name.chars().count() > 80).then(|| Refusal {
            field: "name",
            label: "Name",
            given: if name.is_empty() { "nothing".to_owned() } else { name.to_owned() },
            accepted: "Give the tank a name of 1 to 80 letters.".to_owned(),
        })
    }

    fn volume_refusal(&self) -> Option<Refusal> {
        let gross = self.length.as_cm() * self.width.as_cm() * self.water_depth.as_cm() / 1000.0;
        let net = self.net_volume.as_litres();
        (net > gross * 1.001).then(|| Refusal {
            field: spans::NET_VOLUME.field,
            label: spans::NET_VOLUME.label,
            given: format!("{net:.0} L"),
            accepted: format!("The length, width and depth given hold {gross:.0} L at most; correct either."),
        })
    }

    fn air_too_deep(&self, air: &AirSource) -> Option<Refusal> {
        (air.depth > self.water_depth).then(|| Refusal {
            field: spans::AIR_DEPTH.field,
            label: spans::AIR_DEPTH.label,
            given: format!("{:.0} cm", air.depth.as_cm()),
            accepted: format!("The water is {:.0} cm deep; the stone cannot hang lower.", self.water_depth.as_cm()),
        })
    }
}

/// A refusal for a bare number outside its range.
fn within(field: &'static str, label: &'static str, value: f64, low: f64, high: f64, unit: &str) -> Option<Refusal> {
    (!value.is_finite() || value < low || value > high).then(|| Refusal {
        field,
        label,
        given: format!("{value} {unit}").trim().to_owned(),
        accepted: format!("Give a number from {low} to {high} {unit}").trim().to_owned() + ".",
    })
}

#[cfg(test)]
mod tests {
    use super::{Activity, AirSource, Bubbles, Planting, Running, Surface, Tank};
    use crate::units::{FlowRate, Length, Temperature, Volume};

    fn tank() -> Tank {
        Tank::plain("Test", Length::cm(100.0), Length::cm(40.0), Length::cm(45.0))
    }

    #[test]
    fn a_plain_tank_is_sound_and_holds_the_usual_share_of_its_gross_volume() {
        assert!(tank().refusals().is_empty());
        assert!((tank().net_volume.as_litres() - 158.4).abs() < 1e-9);
    }

    /// A page sends ids back that a document must take: the two spellings are one.
    #[test]
    fn ids_of_choices_are_those_of_documents() {
        fn same<T: serde::Serialize + Copy>(all: &[T], id: fn(T) -> &'static str) {
            for choice in all {
                assert_eq!(serde_json::to_value(choice).expect("plain"), id(*choice));
            }
        }
        same(Surface::ALL, Surface::id);
        same(Planting::ALL, Planting::id);
        same(Bubbles::ALL, Bubbles::id);
        same(Running::ALL, Running::id);
        same(Activity::ALL, Activity::id);
        assert_eq!(Planting::by_id("dense"), Some(Planting::Dense));
    }

    #[test]
    fn every_impossible_field_is_named_at_once() {
        let mut tank = tank();
        tank.name = "  ".to_owned();
        tank.temperature = Temperature::celsius(900.0);
        tank.net_volume = Volume::litres(400.0);
        tank.plants.light_hours = f64::NAN;
        tank.air.push(AirSource {
            kind: "Air stone".to_owned(),
            flow: FlowRate::litres_per_hour(100.0),
            depth: Length::cm(60.0),
            bubbles: Bubbles::Fine,
            running: Running::Always,
        });
        let fields: Vec<_> = tank.refusals().iter().map(|refusal| refusal.field).collect();
        assert_eq!(fields, ["temperature_c", "name", "net_volume_l", "light_hours", "air_depth_cm"]);
    }
}
