//! A tank in numbers, each with what it comes from.

use reed_core::filter::Plumbing;
use reed_core::tank::{Filter, REAL_SHARE_OF_RATED, Tank};
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
    let lines = Lines {
        tank,
        units,
        numbers: Numbers::of(tank),
    };
    [
        Some(lines.water()),
        lines.flow(),
        lines.clean_flow(),
        lines.animals(),
        lines.ammonia(),
        lines.media(),
        Some(lines.limits()),
    ]
    .into_iter()
    .flatten()
    .collect()
}

/// What is said of a tank, a line at a time.
struct Lines<'a> {
    tank: &'a Tank,
    units: &'a Units,
    numbers: Numbers,
}

impl Lines<'_> {
    fn line(
        &self,
        label: &'static str,
        value: String,
        from: String,
        rests_on: &[&str],
    ) -> NumberLine {
        NumberLine {
            label,
            value,
            from,
            assumed: self.tank.assumed.any(rests_on),
        }
    }

    fn volume(&self, litres: f64) -> String {
        self.units
            .print(litres, Volume::UNITS, usize::from(litres < 100.0))
    }

    fn water(&self) -> NumberLine {
        let volumes = self.tank.volumes();
        let sumps = if volumes.sumps > 0.0 {
            format!(", plus {} in sumps", self.volume(volumes.sumps))
        } else {
            String::new()
        };
        let drawn = format!(
            "{} in the box, less {} bed and {} things{sumps}",
            self.volume(volumes.gross),
            self.volume(volumes.bed),
            self.volume(volumes.things)
        );
        match self.tank.measured_volume {
            Some(measured) => {
                let from = format!("measured; as drawn {}: {drawn}", self.volume(volumes.net()));
                self.line("Water", self.volume(measured.as_litres()), from, &[])
            }
            None => self.line("Water", self.volume(volumes.net()), drawn, &["bed"]),
        }
    }

    fn flow(&self) -> Option<NumberLine> {
        let numbers = &self.numbers;
        let flow = |litres: f64| self.units.print(litres, FlowRate::UNITS, 0);
        let filters = &self.tank.filters;
        let measured = filters
            .iter()
            .filter(|filter| filter.measured.is_some())
            .count();
        (numbers.rated_l_per_h > 0.0).then(|| {
            let from = format!(
                "{} by label; {measured} of {} measured, else {:.0} % of the label ({})",
                flow(numbers.rated_l_per_h),
                filters.len(),
                100.0 * REAL_SHARE_OF_RATED.value,
                REAL_SHARE_OF_RATED.source.words()
            );
            let value = format!(
                "{}, {:.1} × an hour",
                flow(numbers.flow_l_per_h),
                numbers.turnover_per_h
            );
            self.line("Through the filters", value, from, &[])
        })
    }

    /// What flows through the canisters clean, by pump, hoses and media.
    fn clean_flow(&self) -> Option<NumberLine> {
        let tank = self.tank;
        let of_filter = |filter: &Filter| {
            let plumbing = Plumbing::of(tank, filter);
            plumbing.suction?;
            let flow = self.units.print(plumbing.clean()?.flow, FlowRate::UNITS, 0);
            let taken = if plumbing.taken.is_empty() {
                ""
            } else {
                " about"
            };
            Some(format!("{}:{taken} {flow}", filter.name))
        };
        let each: Vec<String> = tank.filters.iter().filter_map(of_filter).collect();
        (!each.is_empty()).then(|| {
            let from = "pump, hoses (Darcy–Weisbach) and media; “about” where something was taken as usual. Less is deposit, a bend, air or the pump".to_owned();
            self.line("Canisters when clean", each.join("; "), from, &["filters"])
        })
    }

    fn animals(&self) -> Option<NumberLine> {
        let numbers = &self.numbers;
        (numbers.stock_g > 0.0).then(|| {
            let from = "mass from length and build unless weighed".to_owned();
            let value = format!(
                "{:.0} g, {:.2} g to the litre",
                numbers.stock_g, numbers.stock_g_per_l
            );
            self.line("Animals", value, from, &["stock"])
        })
    }

    fn ammonia(&self) -> Option<NumberLine> {
        let daily = self.numbers.nitrogen_g_per_day;
        (daily > 0.0).then(|| {
            let from = format!("{} (Timmons & Ebeling)", formulas::nitrogen_from_feed());
            let value = format!("{} a day", self.units.nitrogen_grams(daily, 2));
            let rests_on = ["feed_g_per_day", "feed_protein_percent"];
            self.line("Ammonia from feed", value, from, &rests_on)
        })
    }

    fn media(&self) -> Option<NumberLine> {
        let numbers = &self.numbers;
        (numbers.media_l > 0.0).then(|| {
            let from = "surface that bacteria can use, from memory".to_owned();
            let value = format!(
                "{}, {:.1} m²",
                self.volume(numbers.media_l),
                numbers.media_m2
            );
            self.line("Media", value, from, &["filters"])
        })
    }

    fn limits(&self) -> NumberLine {
        let purpose = self.tank.purpose;
        let limits = self.tank.limits();
        let nitrate = self.units.nitrate(limits.nitrate_ion_mg_l.value);
        let value = format!(
            "oxygen from {:.0} % of saturation, nitrate to {nitrate}",
            100.0 * limits.oxygen_act.value
        );
        let source = limits.nitrate_ion_mg_l.source.words();
        self.line(
            "Limits here",
            value,
            format!("{}: {source}", purpose.words()),
            &[],
        )
    }
}
