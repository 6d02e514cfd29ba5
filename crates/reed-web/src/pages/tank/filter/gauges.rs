//! A filter in numbers, each with its formula and what went into it.

use reed_core::filter::State;
use reed_core::tank::{Filter, REAL_SHARE_OF_RATED};
use reed_core::twin::numbers::Capacity;

use super::Seen;
use crate::view::{Opened, percent};

/// What is reckoned with where nothing was measured, with its source.
fn share_of_label() -> String {
    format!(
        "{} of the label ({})",
        percent(REAL_SHARE_OF_RATED.value),
        REAL_SHARE_OF_RATED.source.words()
    )
}

/// The gauges, each with its formula and what went into it.
pub(super) fn gauges(seen: &Seen, filter: &Filter, state: &State) -> Vec<Opened> {
    let mut gauges = Vec::new();
    let taken: Vec<String> = state
        .plumbing
        .taken
        .iter()
        .map(|taken| format!("{} {}", taken.what, taken.value))
        .collect();
    let taken = if taken.is_empty() {
        String::new()
    } else {
        format!(" Taken, as nobody said: {}.", taken.join("; "))
    };
    let litres = seen.tank.net_volume().as_litres();
    let how = if filter.measured.is_some() {
        "by bucket".to_owned()
    } else if filter.clean.is_some() {
        "as measured clean: nobody has measured it since it was opened".to_owned()
    } else {
        format!("{}, until you measure it", share_of_label())
    };
    gauges.push(Opened::new(
        "Flow now",
        format!(
            "{}, {:.1} × an hour",
            seen.flow(state.flow),
            state.flow / litres
        ),
        "V̇ · 1 h / V",
        format!("{how}; {litres:.0} L of water. By it flow, oxygen and nitrogen are reckoned."),
        "the bucket test, or common practice",
    ));
    let clean = if state.clean_is_measured {
        "measured just after an opening".to_owned()
    } else {
        format!("computed from pump, hoses and media.{taken}")
    };
    gauges.push(Opened::new(
        "Flow clean",
        seen.flow(state.clean),
        "pump’s head = hoses + beds: Darcy–Weisbach with Colebrook, Ergun, Darcy–Forchheimer",
        clean,
        "Colebrook 1939, Ergun 1952, Forchheimer 1901; widths and permeabilities from memory",
    ));
    if let Some(clogging) = &state.clogging {
        let value = clogging.share.map_or_else(
            || "not known".to_owned(),
            |share| {
                format!(
                    "{}, {} to {}",
                    percent(share.middle),
                    percent(share.low),
                    percent(share.high)
                )
            },
        );
        let medium = state
            .first_medium(filter)
            .map_or("", reed_core::tank::Medium::words);
        gauges.push(Opened::new(
            "Fine ways filled",
            value,
            "days fed since the opening / days that fill it; ways narrower by s take (1 − s)⁻³ as much",
            format!(
                "four in five should lie in that range. {medium} fills first; {:.2} g of dirt come in a day; it should be opened at {}, which is {:.0} days from clean. At what it holds now {} of the clean flow is left: a flow that has not dropped proves no clean filter.",
                state.load.g_per_day, percent(clogging.open_at), clogging.lasts_days.middle, percent(clogging.flow_left)
            ),
            "Kozeny 1927; what media catch and hold from memory; your openings overrule it",
        ));
    }
    if let Some(margin) = state.margin_kpa {
        gauges.push(Opened::new(
            "Margin before gas comes out",
            format!("{margin:.1} ± 5 kPa"),
            "ρ g · depth of the pump − losses before it + (100 % − total gas) · air pressure",
            format!(
                "the pump {} below the surface; {}",
                seen.length(100.0 * state.plumbing.pump_depth),
                state
                    .pressed
                    .iter()
                    .map(|place| format!("{} {:.1} kPa", place.place.to_lowercase(), place.kpa))
                    .collect::<Vec<_>>()
                    .join("; ")
            ),
            "hydrostatics, Henry 1803; ± from memory. A positive margin acquits nobody",
        ));
    }
    let capacity = Capacity::of(&seen.tank);
    let own: f64 = filter
        .media()
        .map(reed_core::tank::Portion::surface_m2)
        .sum();
    let need = capacity.need_m2();
    let value = if need > 0.0 {
        format!("{:.1} × the feed", own / need)
    } else {
        format!("{own:.1} m²")
    };
    gauges.push(Opened::new(
        "Its bacteria carry",
        value,
        "Σ litres · m² per litre",
        format!(
            "{own:.1} m² in it; the whole tank has {:.1} m² and needs {need:.1} m²",
            capacity.have_m2()
        ),
        "surfaces from memory",
    ));
    gauges
}

pub(super) fn bucket_says(seen: &Seen, filter: &Filter, state: &State) -> Vec<String> {
    let mut says = Vec::new();
    if let (Some(measured), Some(left)) = (filter.measured, filter.flow_left()) {
        says.push(format!(
            "{} at the last test, {} of the clean {}.",
            seen.flow(measured.as_litres_per_hour()),
            percent(left),
            seen.flow(state.clean)
        ));
    } else if let Some(measured) = filter.measured {
        says.push(format!("{} at the last test. Measure once within three days of an opening: what it loses later is judged by that.", seen.flow(measured.as_litres_per_hour())));
    } else {
        says.push(format!(
            "Not measured yet: flow, oxygen and nitrogen reckon with {}.",
            share_of_label()
        ));
    }
    if let Some(litres) = state.clean.is_normal().then_some(state.clean) {
        says.push(format!(
            "Clean, ten litres should take about {:.0} seconds.",
            10.0 / litres * 3600.0
        ));
    }
    says
}
