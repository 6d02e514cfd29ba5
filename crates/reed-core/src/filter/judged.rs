//! What a wrong order of media costs, computed for this filter.

use super::{Load, Plumbing};
use crate::tank::{Filter, Medium, Stage, Tank, Wrong};
use crate::water::nitrogen::capture::{captured_by_grains, captured_per_pass, share_of_bacteria};

/// What it costs, in words with its numbers; none where nothing is computed.
pub fn consequence(tank: &Tank, filter: &Filter, wrong: Wrong) -> Option<String> {
    match wrong {
        Wrong::ChemicalFirst(medium) => bacteria_get(filter, medium),
        Wrong::FineFirst => {
            let days = |filter: &Filter| {
                let plumbing = Plumbing::of(tank, filter);
                let load = Load::of(
                    tank,
                    filter,
                    &plumbing,
                    super::load::caught_by_flow(tank, filter),
                );
                load.first_full().map(|(_, days)| days)
            };
            let (now, then) = (days(filter)?, days(&filter.in_order())?);
            (then > 1.1 * now).then(|| {
                format!(
                    "In the right order it should last {:.1} times as long between openings.",
                    then / now
                )
            })
        }
        Wrong::Packed(share) => Some(format!(
            "{:.0} % over what it holds.",
            100.0 * (share - 1.0)
        )),
        Wrong::CartridgeOnly => {
            let surface = |filter: &Filter| {
                filter
                    .media()
                    .map(crate::tank::Portion::surface_m2)
                    .sum::<f64>()
            };
            let all: f64 = tank.filters.iter().map(surface).sum();
            (all > 0.0).then(|| {
                format!(
                    "With it goes {:.0} % of all surface in filters.",
                    100.0 * surface(filter) / all
                )
            })
        }
        Wrong::NoFine | Wrong::InAir | Wrong::Bypassed => None,
    }
}

/// The share of the ammonia that bacteria get, with this medium before and behind them.
fn bacteria_get(filter: &Filter, medium: Medium) -> Option<String> {
    let takes = medium.takes()?;
    let flow = filter.flow().as_litres_per_hour();
    let surface: f64 = filter
        .media()
        .filter(|portion| portion.medium.stage() == Stage::Biological)
        .map(crate::tank::Portion::surface_m2)
        .sum();
    let litres: f64 = filter
        .media()
        .filter(|portion| portion.medium == medium)
        .map(|portion| portion.litres.as_litres())
        .sum();
    let bacteria = captured_per_pass(surface, flow);
    let grains = captured_by_grains(litres, flow, takes.contact_s.value);
    let [first, last] =
        [true, false].map(|is_first| 100.0 * share_of_bacteria(bacteria, grains, is_first));
    (takes.species == crate::tank::Species::Ammonia).then(|| {
        format!("While it is fresh the bacteria get {first:.0} % of the ammonia that is caught; with it last they get {last:.0} %.")
    })
}
