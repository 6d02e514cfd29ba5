//! A tank in numbers, each with what it comes from.

use reed_core::tank::{REAL_SHARE_OF_RATED, Tank};
use reed_core::twin::numbers::Numbers;
use reed_core::units::{FlowRate, Quantity, Units, Volume};
use reed_core::water::oxygen::formulas;

/// One number.
pub(crate) struct NumberLine {
    pub(crate) label: &'static str,
    pub(crate) value: String,
    pub(crate) from: String,
    /// It rests on something that nobody said.
    pub(crate) assumed: bool,
}

/// The numbers of a tank that is drawn.
pub(crate) fn number_lines(tank: &Tank, units: &Units) -> Vec<NumberLine> {
    let (volumes, numbers) = (tank.volumes(), Numbers::of(tank));
    let volume = |litres: f64| units.print(litres, Volume::UNITS, usize::from(litres < 100.0));
    let flow = |litres: f64| units.print(litres, FlowRate::UNITS, 0);
    let line = |label, value, from: String, rests_on: &[&str]| NumberLine {
        label,
        value,
        from,
        assumed: tank.assumed.any(rests_on),
    };
    let sumps = if volumes.sumps > 0.0 {
        format!(", plus {} in sumps", volume(volumes.sumps))
    } else {
        String::new()
    };
    let drawn = format!(
        "{} in the box, less {} bed and {} things{sumps}",
        volume(volumes.gross),
        volume(volumes.bed),
        volume(volumes.things)
    );
    let water = match tank.measured_volume {
        Some(measured) => line(
            "Water",
            volume(measured.as_litres()),
            format!("measured; as drawn {}: {drawn}", volume(volumes.net())),
            &[],
        ),
        None => line("Water", volume(volumes.net()), drawn, &["bed"]),
    };
    let limits = tank.purpose.limits();
    let mut lines = vec![water];
    if numbers.rated_l_per_h > 0.0 {
        let share = 100.0 * REAL_SHARE_OF_RATED.value;
        let measured = tank
            .filters
            .iter()
            .filter(|filter| filter.measured.is_some())
            .count();
        let from = format!(
            "{} by label; {measured} of {} measured, else {share:.0} % of the label ({})",
            flow(numbers.rated_l_per_h),
            tank.filters.len(),
            REAL_SHARE_OF_RATED.source.words()
        );
        lines.push(line(
            "Through the filters",
            format!(
                "{}, {:.1} × an hour",
                flow(numbers.flow_l_per_h),
                numbers.turnover_per_h
            ),
            from,
            &[],
        ));
    }
    if numbers.stock_g > 0.0 {
        let from = "mass from length and build unless weighed".to_owned();
        lines.push(line(
            "Animals",
            format!(
                "{:.0} g, {:.2} g to the litre",
                numbers.stock_g, numbers.stock_g_per_l
            ),
            from,
            &["stock"],
        ));
    }
    if numbers.nitrogen_g_per_day > 0.0 {
        let from = format!("{} (Timmons & Ebeling)", formulas::nitrogen_from_feed());
        lines.push(line(
            "Ammonia from feed",
            format!(
                "{} a day",
                units.nitrogen_grams(numbers.nitrogen_g_per_day, 2)
            ),
            from,
            &["feed_g_per_day", "feed_protein_percent"],
        ));
    }
    if numbers.media_l > 0.0 {
        let from = "surface that bacteria can use, from memory".to_owned();
        lines.push(line(
            "Media",
            format!("{}, {:.1} m²", volume(numbers.media_l), numbers.media_m2),
            from,
            &["filters"],
        ));
    }
    let nitrate = units.nitrate(limits.nitrate_ion_mg_l.value);
    lines.push(line(
        "Limits here",
        format!(
            "oxygen from {:.0} % of saturation, nitrate to {nitrate}",
            100.0 * limits.oxygen_act.value
        ),
        format!(
            "{}: {}",
            tank.purpose.words(),
            limits.nitrate_ion_mg_l.source.words()
        ),
        &[],
    ));
    lines
}
