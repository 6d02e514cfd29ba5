//! Sums that nobody does by hand: surface for bacteria, and what changing water does to nitrate.

use reed_core::numbers::{Capacity, SINTERED_KG_PER_L, medium_to_add};
use reed_core::tank::{Analyte, Medium, Tank};
use reed_core::units::{Units, plain};
use reed_core::water::nitrogen::changes::{fraction_to_hold, interval_to_hold, peak_between_changes};
use reed_core::water::nitrogen::{HALF_AT_OXYGEN_MG_L, HALF_AT_TAN_MG_L, KIT_ZERO_MG_L, MOST_G_M2_DAY, NITRATE_PER_NITROGEN};

use crate::view::Opened;

/// Surface there and surface needed.
pub(super) struct CapacityView {
    /// Name, what it has, and its width as a percentage of the largest.
    pub(super) areas: Vec<(String, String, f64)>,
    pub(super) numbers: Vec<Opened>,
    pub(super) words: String,
    pub(super) short: bool,
}

impl CapacityView {
    pub(super) fn of(tank: &Tank) -> Self {
        let capacity = Capacity::of(tank);
        let (have, need) = (capacity.have_m2(), capacity.need_m2());
        let largest = capacity.areas.iter().map(|area| area.m2).fold(1e-9, f64::max);
        let words = match capacity.ratio() {
            None => "Nothing is fed: bacteria need nothing.".to_owned(),
            Some(ratio) if ratio < 1.0 => format!(
                "{:.1} m² are missing: add {}, or feed less. Ammonia then shows again and again.",
                need - have,
                as_medium(need - have, medium_to_add(tank))
            ),
            Some(ratio) => format!(
                "The surfaces carry {ratio:.1} times what is fed now. That is no leave to stock: oxygen, nitrate and room have limits of their own."
            ),
        };
        let difference = (have - need).abs();
        let media = [Medium::Sintered, Medium::CeramicRings, Medium::FoamMedium, Medium::Carrier, Medium::Lava];
        let numbers = vec![
            Opened {
                label: if have < need { "Missing".to_owned() } else { "To spare".to_owned() },
                value: format!("{difference:.1} m², {}", as_medium(difference, medium_to_add(tank))),
                formula: "(there − needed) / effective m² per litre",
                inputs: format!(
                    "The same is {}. A litre of sintered media weighs {} kg.",
                    media.map(|medium| as_medium(difference, medium)).join("; "),
                    SINTERED_KG_PER_L.value
                ),
                source: "from memory, not checked against a copy",
            },
            Opened {
                label: "There".to_owned(),
                value: format!("{have:.1} m²"),
                formula: "Σ litres of medium · effective m² per litre + panes + rocks + upper bed",
                inputs: "Each is listed below. Effective surface, not the inner one of advertisements; rocks as cubes of their volume."
                    .to_owned(),
                source: "from memory, not checked against a copy",
            },
            Opened {
                label: "Needed".to_owned(),
                value: format!("{need:.1} m²"),
                formula: "feed · protein · 0.092 / (rmax · TAN/(K + TAN) · O₂/(Ko + O₂) · 1.08^(T − 25))",
                inputs: format!(
                    "{:.2} g N a day over {:.3} g N per m² and day: rmax {} g, K {} mg/L, Ko {} mg/L, TAN at a kit’s zero, {KIT_ZERO_MG_L} mg/L N, the lowest oxygen of the day, {:.0} °C.",
                    capacity.load_g_day,
                    capacity.rate_g_m2_day,
                    MOST_G_M2_DAY.value,
                    HALF_AT_TAN_MG_L.value,
                    HALF_AT_OXYGEN_MG_L.value,
                    tank.water_temperature().as_celsius()
                ),
                source: "Timmons & Ebeling for the load; the rate from memory",
            },
        ];
        let line = |area: &reed_core::ahead::Area| (area.name.clone(), format!("{:.2} m²", area.m2), (100.0 * area.m2 / largest).round());
        Self { areas: capacity.areas.iter().map(line).collect(), numbers, words, short: capacity.ratio().is_some_and(|ratio| ratio < 1.0) }
    }
}

/// Surface as litres of a medium and, where its density is known, by weight.
fn as_medium(m2: f64, medium: Medium) -> String {
    let litres = m2 / medium.surface_m2_per_l().value;
    let mass = if medium == Medium::Sintered { format!(" ({:.1} kg)", litres * SINTERED_KG_PER_L.value) } else { String::new() };
    format!("{litres:.1} L of {}{mass}", medium.words())
}

/// Nitrate to stay under: the form's field, why it was refused, and the sums.
pub(super) struct ChangesView {
    pub(super) target: String,
    pub(super) unit: &'static str,
    pub(super) refused: String,
    pub(super) numbers: Vec<Opened>,
}

impl ChangesView {
    /// For a target as typed; empty, it is the limit of the tank's purpose.
    pub(super) fn of(target: &str, tank: &Tank, tap_nitrate: f64, units: &Units) -> Self {
        let limit = tank.purpose.limits().nitrate_ion_mg_l;
        let usual = limit.value / NITRATE_PER_NITROGEN;
        let unit = units.of(Analyte::NITRATE.units);
        let read = if target.is_empty() { Ok(usual) } else { Analyte::NITRATE.read(target, units) };
        let own = !target.is_empty() && read.is_ok();
        Self {
            target: if target.is_empty() { plain((unit.from_base(usual) * 10.0).round() / 10.0) } else { target.to_owned() },
            unit: unit.symbol,
            refused: read.as_ref().err().map(ToString::to_string).unwrap_or_default(),
            numbers: changes(tank, tap_nitrate, (read.unwrap_or(usual), if own { "your own" } else { limit.source.words() }), units),
        }
    }
}

/// What changing water does to nitrate, in closed forms, with a limit, mg N/L, and whose it is.
fn changes(tank: &Tank, tap: f64, (limit, whose): (f64, &str), units: &Units) -> Vec<Opened> {
    let (share, days) = (tank.practice.change_share.as_percent() / 100.0, f64::from(tank.practice.change_every_days));
    let litres = tank.net_volume().as_litres();
    let load = reed_core::numbers::Numbers::of(tank).nitrogen_g_per_day;
    let daily = load * 1000.0 / litres;
    let print = |nitrogen: f64| Analyte::NITRATE.print(nitrogen, units);
    let percent = |fraction: f64| format!("{} %", plain((fraction * 100.0).ceil().max(1.0)));
    let never = || "no change of this tap water does".to_owned();
    let series = "geometric series of changes, exact in a tank without plants; what plants take makes it better";
    vec![
        Opened::new(
            "Gained",
            format!("{} a day", print(daily)),
            "feed · protein · 0.092 / volume",
            format!(
                "{:.1} g of feed with {:.0} % protein in {litres:.0} L; all of it nitrate in the end.",
                tank.feed.as_grams(),
                tank.feed_protein.as_percent()
            ),
            "Timmons & Ebeling, Recirculating Aquaculture",
        ),
        Opened::new(
            format!("{} every {days:.0} days, as now: before a change", percent(share)),
            print(peak_between_changes(tap, daily * days, share)),
            "tap + gain between changes / share changed",
            format!("The tap has {}; {} gained between changes.", print(tap), print(daily * days)),
            series,
        ),
        Opened::new(
            format!("Every {days:.0} days, to stay under {}", print(limit)),
            fraction_to_hold(limit, tap, daily * days).map_or_else(never, percent),
            "gain between changes / (limit − tap)",
            format!("Limit: {}, {whose}.", print(limit)),
            series,
        ),
        Opened::new(
            format!("Or {} each, to stay under it", percent(share)),
            interval_to_hold(limit, tap, daily, share)
                .map_or_else(never, |interval| format!("every {:.0} days", interval.floor().clamp(1.0, 365.0))),
            "share · (limit − tap) / gain a day",
            format!("{} gained a day.", print(daily)),
            series,
        ),
    ]
}
