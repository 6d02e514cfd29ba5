//! What stands there: the keeper's tank as plain data, checked once at the border.
//!
//! [`Tank`] is what the file holds, what a form fills and what a change turns into another one.
//! Lengths, volumes and the like carry their unit in the type; the serialised names carry it in the
//! name. Each part is declared with a row per field (see [`crate::field`]): forms, checks, the
//! schema and differences in words all read those rows.

mod air;
mod areas;
mod assumed;
mod bed;
mod conflicts;
mod feeding;
mod filter;
mod glass;
pub mod kit;
mod layout;
mod moves;
mod moving;
mod placing;
mod plants;
mod practice;
mod purpose;
mod reading;
mod resized;
mod spots;
mod stock;
mod surface;
pub mod thing;
mod volume;

pub use air::{AirSource, Bubbles, FallingWater, Running};
pub use areas::{Area, areas};
pub use assumed::Assumed;
pub use bed::{Bed, Substrate};
pub use conflicts::{Conflict, Weight};
pub use feeding::{FeedingSchool, Week};
pub use filter::{
    At, CurvePoint, Filter, FilterDesign, FilterKind, Medium, Misplaced, NoSuchPlace, PerSpecies,
    Portion, REAL_SHARE_OF_RATED, Species, Stage, Stop, Sump, SumpChamber, SumpRole, Takes, Tray,
    TrayPlace, Wrong,
};
pub use glass::{Glass, Rim};
pub use moves::{Immovable, Move, Moves, pointing};
pub use plants::{Planting, Plants};
pub use practice::{
    BedSchool, ChemicalSchool, Conditioner, IntervalSchool, Practice, RinseSchool, SeedingSchool,
};
pub use purpose::{Limits, Purpose};
pub use reading::{Analyte, Reading, UNIONISED, analyte, hour_of_day};
pub use stock::{Activity, Build, COMMON, Common, LengthMass, StockGroup};
pub use surface::Surface;
pub use thing::{Serial, Thing};
pub use volume::Volumes;

use std::collections::BTreeMap;

use jiff::civil::Date;
use serde_json::Value;

use crate::field::{self, Described, FieldValue, What};
use crate::units::{
    Altitude, Length, Mass, Percent, Refusal, Salinity, Temperature, Units, Volume,
};

/// What a file said that this program does not know, by JSON pointer, entries with a number by that
/// number: kept, and written back to its place.
#[derive(Clone, Debug, Default, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(transparent)]
pub struct Unknown(pub BTreeMap<String, Value>);

impl Unknown {
    /// There is nothing.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

impl FieldValue for Unknown {
    const WHAT: What = What::Kept;
    const OPTIONAL: bool = true;
}

described! {
    /// A tank as it stands.
    ///
    /// The document form has the keys given here; every quantity is in the unit its key ends with.
    Tank {
        /// What you call it.
        name: String = "name", "Name", 1..=80;
        /// Sets where limits lie by default, and which advice is left out.
        #[serde(default)]
        purpose: Purpose = "purpose", "Purpose";
        /// The day the tank was set up.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        set_up: Option<Date> = "set_up", "Set up";
        /// The box.
        glass: Glass = "glass", "Glass";
        /// From the floor to the surface.
        water_depth: Length = "water_level_cm", "Water level", 3.0..=300.0;
        /// The bed.
        #[serde(default)]
        bed: Bed = "bed", "Bed";
        /// Of the whole system, if you ever measured it; otherwise it is reckoned from the drawing.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        measured_volume: Option<Volume> = "measured_volume_l", "Water, measured", 1.0..=50000.0;
        /// As you mean it to be.
        temperature: Temperature = "temperature_c", "Water temperature", 0.0..=40.0;
        /// Where it is known to differ.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        temperature_now: Option<Temperature> = "temperature_now_c", "Water temperature now", 0.0..=45.0;
        /// Where the tank stands.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        room: Option<Temperature> = "room_c", "Room temperature", -10.0..=50.0;
        /// Above the sea; thin air holds less oxygen.
        #[serde(default)]
        altitude: Altitude = "altitude_m", "Height of the place", -400.0..=4000.0;
        /// Of the water: 0 is fresh, 35 the sea.
        #[serde(default)]
        salinity: Salinity = "salinity_g_per_kg", "Salt", 0.0..=40.0;
        /// When all is as it should be.
        #[serde(default)]
        surface: Surface = "surface", "The surface shows";
        /// Equipment, rocks and roots.
        #[serde(default)]
        things: Vec<Thing> = "things", "Thing", 0..=500;
        /// Filters and what is in them.
        #[serde(default)]
        filters: Vec<Filter> = "filters", "Filter", 0..=40;
        /// The animals.
        #[serde(default)]
        stock: Vec<StockGroup> = "stock", "Group", 0..=100;
        /// On a day on which they are fed, weighed as it is fed; stand-ins often give more.
        feed: Mass = "feed_g_per_day", "Feed per day", 0.0..=5000.0;
        /// As fed: dry feed 35 to 50 %, worms 10 to 15 %, frozen feed 5 to 10 % (from memory).
        #[serde(default = "protein")]
        feed_protein: Percent = "feed_protein_percent", "Protein in the feed", 0.0..=100.0;
        /// Plants and light.
        plants: Plants = "plants", "Plants and light";
        /// For plants.
        #[serde(default)]
        co2_dosed: bool = "co2_dosed", "Carbon dioxide is dosed";
        /// Devices that set oxygen free from peroxide.
        #[serde(default)]
        peroxide_catalysts: u32 = "peroxide_catalysts", "Peroxide catalysts", 0..=20;
        /// In each of them, as pure peroxide: 100 mL of a 3 % solution hold 3 g.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        peroxide_each: Option<Mass> = "peroxide_each_g", "Peroxide filled in each", 0.1..=200.0;
        /// The day they were last filled.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        peroxide_filled: Option<jiff::civil::Date> = "peroxide_filled", "Filled on";
        /// Dry mass besides the daily feed: a dead animal, a heap of leftovers.
        #[serde(default)]
        rotting: Mass = "rotting_g_per_day", "Rotting each day", 0.0..=1000.0;
        /// How it is kept.
        #[serde(default)]
        practice: Practice = "practice", "How it is kept";
        /// Keys of fields whose values nobody gave: they are the set-up's.
        #[serde(default, skip_serializing_if = "Assumed::is_empty")]
        assumed: Assumed = "assumed", "Assumed";
        /// Kept from a file, unknown to this program.
        #[serde(default, skip_serializing_if = "Unknown::is_empty")]
        unknown: Unknown = "unknown", "Unknown";
    }
}

fn protein() -> Percent {
    Percent::of(40.0)
}

impl Default for Tank {
    fn default() -> Self {
        Self {
            name: String::new(),
            purpose: Purpose::default(),
            set_up: None,
            glass: Glass::default(),
            water_depth: Length::cm(40.0),
            bed: Bed::default(),
            measured_volume: None,
            temperature: Temperature::celsius(24.0),
            temperature_now: None,
            room: None,
            altitude: Altitude::default(),
            salinity: Salinity::default(),
            surface: Surface::Rippled,
            things: Vec::new(),
            filters: Vec::new(),
            stock: Vec::new(),
            feed: Mass::default(),
            feed_protein: protein(),
            plants: Plants::default(),
            co2_dosed: false,
            peroxide_catalysts: 0,
            peroxide_each: None,
            peroxide_filled: None,
            rotting: Mass::default(),
            practice: Practice::default(),
            assumed: Assumed::default(),
            unknown: Unknown::default(),
        }
    }
}

impl Tank {
    /// A plain tank of this size with nothing in it, filled to a hand's breadth below the rim: for
    /// scenes.
    pub fn plain(name: &str, length: Length, width: Length, water_depth: Length) -> Self {
        let glass = Glass {
            length,
            width,
            height: Length::cm((water_depth.as_cm() + 4.0).clamp(5.0, 300.0)),
            ..Glass::default()
        };
        Self {
            name: name.to_owned(),
            glass,
            water_depth,
            ..Self::default()
        }
    }

    /// Area of the water surface in m².
    pub fn surface_area_m2(&self) -> f64 {
        self.glass.length.as_metres() * self.glass.width.as_metres()
    }

    /// Water temperature that counts now.
    pub fn water_temperature(&self) -> Temperature {
        self.temperature_now.unwrap_or(self.temperature)
    }

    /// Mass of all animals.
    pub fn stock_mass(&self) -> Mass {
        Mass::grams(
            self.stock
                .iter()
                .map(|group| f64::from(group.count) * group.mass_each().as_grams())
                .sum(),
        )
    }

    /// Some animal here breathes air or lives at the surface by nature.
    pub fn has_air_breathers(&self) -> bool {
        self.stock.iter().any(|group| group.breathes_air)
    }

    /// Shrimps, crayfish or snails live here.
    pub fn has_invertebrates(&self) -> bool {
        self.stock.iter().any(|group| group.build.is_invertebrate())
    }

    /// Height of the bed's surface above the floor, cm; no higher than the water.
    pub fn bed_level_cm(&self) -> f64 {
        self.bed.depth.as_cm().min(self.water_depth.as_cm())
    }

    /// The thing with this number.
    pub fn thing(&self, number: Serial) -> Option<&Thing> {
        self.things.iter().find(|thing| thing.number == number)
    }

    /// The tank as a document has it.
    ///
    /// # Panics
    /// Never: a tank is plain data.
    pub fn to_value(&self) -> Value {
        serde_json::to_value(self).expect("plain data can be written as JSON")
    }

    /// Everything about the tank that cannot be, one sentence each with its JSON pointer in the
    /// tank; empty when it is sound.
    pub fn refusals(&self, units: &Units) -> Vec<Refusal> {
        let mut refusals = field::check(&self.to_value(), Self::FIELDS, units);
        refusals.extend(self.level_refusal(units));
        refusals.extend(self.volume_refusal(units));
        refusals.extend(self.number_refusals());
        refusals.extend(self.curve_refusals(units));
        refusals
    }

    /// Every date in it that is yet to come, one sentence each with its JSON pointer.
    pub fn days_after(&self, today: jiff::civil::Date) -> Vec<Refusal> {
        field::days_after(&self.to_value(), Self::FIELDS, today)
    }

    fn level_refusal(&self, units: &Units) -> Option<Refusal> {
        let (level, height) = (self.water_depth.as_cm(), self.glass.height.as_cm());
        let print = |cm: f64| units.print(cm, <Length as crate::units::Quantity>::UNITS, 1);
        (level > height).then(|| {
            let accepted = format!(
                "The glass is {} high; give a level up to that, or correct the height.",
                print(height)
            );
            Refusal::new("/water_level_cm", "Water level", &print(level), accepted)
        })
    }

    fn volume_refusal(&self, units: &Units) -> Option<Refusal> {
        let volumes = self.volumes();
        let most = volumes.gross + volumes.sumps;
        let print = |litres: f64| units.print(litres, <Volume as crate::units::Quantity>::UNITS, 0);
        let measured = self.measured_volume?.as_litres();
        (measured > most * 1.001).then(|| {
            let accepted = format!(
                "Length, width, water level and sumps given hold {} at most; correct either.",
                print(most)
            );
            Refusal::new(
                "/measured_volume_l",
                "Water, measured",
                &print(measured),
                accepted,
            )
        })
    }

    /// A pump holds less head the more it moves: points of its curve rise in flow and fall in head.
    fn curve_refusals(&self, units: &Units) -> Vec<Refusal> {
        let mut refusals = Vec::new();
        for (index, filter) in self.filters.iter().enumerate() {
            let at = |point: usize| format!("/filters/{index}/curve/{point}/head_cm");
            let label = "Point of the pump’s curve, head";
            let print = |head: Length| {
                units.print(head.as_cm(), <Length as crate::units::Quantity>::UNITS, 0)
            };
            if let [only] = filter.curve.as_slice() {
                let accepted = "One point makes no curve. Give two or more, or take it out.";
                refusals.push(Refusal::new(at(0), label, &print(only.head), accepted));
            }
            for (point, pair) in filter.curve.windows(2).enumerate() {
                if pair[1].flow <= pair[0].flow || pair[1].head >= pair[0].head {
                    let accepted = "Give points by rising flow and falling head: a pump holds less head the more it moves.";
                    refusals.push(Refusal::new(
                        at(point + 1),
                        label,
                        &print(pair[1].head),
                        accepted,
                    ));
                }
            }
        }
        refusals
    }

    /// Numbers are what things and filters are known by: two of the same would be mistaken for each
    /// other.
    fn number_refusals(&self) -> Vec<Refusal> {
        let mut refusals = Vec::new();
        let mut once = |list: &str, label: &str, numbers: Vec<u32>| {
            for (index, number) in numbers.iter().enumerate() {
                if numbers[..index].contains(number) {
                    let place = format!("/{list}/{index}/number");
                    refusals.push(Refusal::new(
                        place,
                        label,
                        &number.to_string(),
                        "Another one has that number; give each its own.",
                    ));
                }
            }
        };
        once(
            "things",
            "Number",
            self.things.iter().map(|thing| thing.number.0).collect(),
        );
        once(
            "filters",
            "Number",
            self.filters.iter().map(|filter| filter.number.0).collect(),
        );
        refusals
    }
}

#[cfg(test)]
mod tests {
    use super::{Activity, AirSource, Bubbles, Planting, Running, Surface, Tank, Thing};
    use crate::field::{Described, Field, What};
    use crate::tank::thing::{AirStone, ThingKind};
    use crate::units::{FlowRate, Hours, Length, Temperature, Units, Volume};

    fn tank() -> Tank {
        Tank::plain(
            "Test",
            Length::cm(100.0),
            Length::cm(40.0),
            Length::cm(45.0),
        )
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
        same(crate::tank::thing::Wall::ALL, crate::tank::thing::Wall::id);
        same(Activity::ALL, Activity::id);
        assert_eq!(Planting::by_id("dense"), Some(Planting::Dense));
    }

    #[test]
    fn every_impossible_field_is_named_at_once_with_its_place() {
        let mut tank = tank();
        assert!(tank.refusals(&Units::default()).is_empty());
        tank.name = "  ".to_owned();
        tank.temperature = Temperature::celsius(900.0);
        tank.measured_volume = Some(Volume::litres(400.0));
        tank.plants.light = Hours::of(25.0);
        let stone = AirStone {
            air: FlowRate::litres_per_hour(0.0),
            ..AirStone::default()
        };
        tank.things.push(Thing::new(
            1,
            "Stone",
            (10.0, 10.0, 3.0),
            ThingKind::AirStone(stone),
        ));
        tank.things.push(Thing::new(
            1,
            "Other stone",
            (30.0, 10.0, 3.0),
            ThingKind::AirStone(AirStone::default()),
        ));
        let refusals = tank.refusals(&Units::default());
        let fields: Vec<_> = refusals
            .iter()
            .map(|refusal| refusal.field.as_str())
            .collect();
        let wanted = [
            "/name",
            "/temperature_c",
            "/things/0/is/air-stone/air_l_per_h",
            "/plants/light_hours",
            "/measured_volume_l",
            "/things/1/number",
        ];
        assert_eq!(fields, wanted);
        assert!(
            refusals[2]
                .to_string()
                .starts_with("Stone, air: “0 L/h” is not accepted."),
            "{}",
            refusals[2]
        );
    }

    /// The tree that forms read has exactly the keys that documents have: a field cannot be
    /// forgotten in either.
    #[test]
    fn every_key_of_a_document_is_a_field_and_the_other_way_round() {
        fn keys(fields: &[Field], value: &serde_json::Value) {
            let known: Vec<_> = fields.iter().map(|field| field.key).collect();
            for (key, inner) in value.as_object().expect("a part") {
                let field = fields
                    .iter()
                    .find(|field| field.key == key)
                    .unwrap_or_else(|| panic!("{key} is not in {known:?}"));
                match &field.what {
                    What::Part(part) => keys(part.fields, inner),
                    What::List(part) => {
                        keys(part.fields, &(part.blank)());
                        inner
                            .as_array()
                            .expect("a list")
                            .iter()
                            .for_each(|entry| keys(part.fields, entry));
                    }
                    What::Kinds(kinds) => kinds
                        .iter()
                        .for_each(|kind| keys(kind.part.fields, &(kind.part.blank)())),
                    _ => {}
                }
            }
            let missing = fields
                .iter()
                .find(|field| !field.optional && value.get(field.key).is_none());
            assert!(missing.is_none(), "{missing:?}");
        }
        let mut tank = tank();
        tank.filters.push(crate::tank::Filter {
            sump: Some(crate::tank::Sump::default()),
            ..Default::default()
        });
        keys(Tank::FIELDS, &tank.to_value());
    }

    #[test]
    fn air_comes_from_stones_and_driven_sponges_at_their_depth() {
        let mut tank = tank();
        tank.things.push(Thing::new(
            1,
            "Stone",
            (10.0, 10.0, 5.0),
            ThingKind::AirStone(AirStone::default()),
        ));
        let sources: Vec<AirSource> = tank.air_sources().collect();
        assert_eq!(sources.len(), 1);
        assert!((sources[0].depth.as_cm() - 40.0).abs() < 1e-12);
        assert_eq!(
            (sources[0].bubbles, sources[0].running),
            (Bubbles::Coarse, Running::Always)
        );
    }
}
