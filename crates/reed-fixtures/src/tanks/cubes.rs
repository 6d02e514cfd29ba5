//! Two 30 L cubes, as keepers have them side by side (common practice, no source): one with an air-driven sponge filter
//! reads 8–9 mg/L of oxygen, one with a hang-on-back filter to which fish were added reads about 6.

use reed_core::tank::{Activity, AirSource, Bubbles, FallingWater, Running, StockGroup, Surface, Tank};
use reed_core::units::{FlowRate, Length, Mass, Temperature, Volume};

fn cube(name: &str) -> Tank {
    let mut tank = Tank::plain(name, Length::cm(30.0), Length::cm(30.0), Length::cm(31.0));
    tank.net_volume = Volume::litres(26.0);
    tank.temperature = Temperature::celsius(23.0);
    tank
}

fn fish(count: u32, grams: f64) -> StockGroup {
    StockGroup { name: "fish".to_owned(), count, mass_each: Mass::grams(grams), activity: Activity::Usual, breathes_air: false }
}

/// Lightly stocked, air-driven sponge filter.
pub fn sponge_filtered() -> Tank {
    let mut tank = cube("Sponge cube");
    tank.surface = Surface::Rippled;
    tank.air.push(AirSource {
        kind: "sponge filter".to_owned(),
        flow: FlowRate::litres_per_hour(80.0),
        depth: Length::cm(25.0),
        bubbles: Bubbles::Coarse,
        running: Running::Always,
    });
    tank.stock.push(fish(6, 0.5));
    tank.feed = Mass::grams(0.08);
    tank
}

/// Hang-on-back filter, fish and shrimp added weeks before.
pub fn crowded_hang_on_back() -> Tank {
    let mut tank = cube("Hang-on-back cube");
    tank.surface = Surface::Rippled;
    tank.falling_water = Some(FallingWater { flow: FlowRate::litres_per_hour(180.0), height: Length::cm(2.0), stopped: false });
    tank.stock.push(fish(14, 0.9));
    tank.feed = Mass::grams(0.35);
    tank
}
