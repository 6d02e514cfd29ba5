//! Two 30 L cubes, as keepers have them side by side (common practice, no source): one with an
//! air-driven sponge filter reads 8–9 mg/L of oxygen, one with a hang-on-back filter to which fish
//! were added reads about 6.

use reed_core::tank::thing::{FilterRef, HangOnBack, SpongeFilter, ThingKind};
use reed_core::tank::{Activity, Filter, FilterKind, StockGroup, Surface, Tank};
use reed_core::units::{FlowRate, Length, Mass, Temperature, Volume};

fn cube(name: &str) -> Tank {
    let mut tank = Tank::plain(name, Length::cm(30.0), Length::cm(30.0), Length::cm(31.0));
    tank.measured_volume = Some(Volume::litres(26.0));
    tank.temperature = Temperature::celsius(23.0);
    tank.surface = Surface::Rippled;
    tank
}

/// Lightly stocked, air-driven sponge filter.
pub fn sponge_filtered() -> Tank {
    let mut tank = cube("Sponge cube");
    tank.add_thing(
        "Sponge filter",
        (22.0, 22.0, 4.0),
        ThingKind::SpongeFilter(SpongeFilter::default()),
    );
    tank.stock.push(StockGroup::weighing(
        "fish",
        6,
        Mass::grams(0.5),
        Activity::Usual,
    ));
    tank.feed = Mass::grams(0.08);
    tank
}

/// Hang-on-back filter, fish and shrimp added weeks before.
pub fn crowded_hang_on_back() -> Tank {
    let mut tank = with_hang_on(cube("Hang-on-back cube"), 180.0, 2.0);
    tank.stock.push(StockGroup::weighing(
        "fish",
        14,
        Mass::grams(0.9),
        Activity::Usual,
    ));
    tank.feed = Mass::grams(0.35);
    tank
}

/// The tank with a hang-on-back filter of this measured flow, in L/h, whose lip is so many
/// centimetres above the water.
pub fn with_hang_on(mut tank: Tank, litres_per_hour: f64, fall_cm: f64) -> Tank {
    let measured = Some(FlowRate::litres_per_hour(litres_per_hour));
    let number = tank.add_filter(Filter {
        name: "Hang-on".to_owned(),
        kind: FilterKind::HangOnBack,
        measured,
        ..Filter::default()
    });
    let lip = HangOnBack {
        filter: Some(FilterRef(number.0)),
        ..HangOnBack::default()
    };
    let place = (
        tank.glass.length.as_cm() / 3.0,
        tank.glass.width.as_cm(),
        tank.water_depth.as_cm() + fall_cm,
    );
    tank.add_thing("Hang-on", place, ThingKind::HangOnBack(lip));
    tank
}
