//! Handbook: every kind of number the program prints, with its formula and source.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::routing::get;
use reed_core::diagnosis::fault::Strength;
use reed_core::diagnosis::{check, fault};
use reed_core::forecast;
use reed_core::remedy::change;
use reed_core::tank::{Bubbles, Purpose, Surface, kit};
use reed_core::water::oxygen::{CEILING, exchange};

use crate::state::App;
use crate::view::Frame;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/handbook", get(show))
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/handbook.html")]
struct HandbookPage {
    frame: Frame,
    velocities: Vec<(&'static str, f64, &'static str)>,
    /// Share of a bubble's oxygen taken up per metre, percent: coarse, fine.
    uptakes: (f64, f64),
    /// Factors by which exchange and use may be off.
    spreads: (String, String),
    residual: f64,
    ceiling: f64,
    chances: Vec<(&'static str, f64)>,
    chances_source: &'static str,
    good: f64,
    act: f64,
    act_young: f64,
    distress: f64,
    limits_source: &'static str,
    faults: Vec<&'static fault::Fault>,
    kits: &'static [&'static kit::Kit],
    checks: usize,
    changes: usize,
}

/// One standard deviation of a logarithm, as a factor.
fn factor(log_spread: f64) -> String {
    format!("{:.2}", log_spread.exp())
}

async fn show() -> HandbookPage {
    let velocity = |surface: Surface| {
        let figure = exchange::transfer_velocity_m_h(surface);
        (surface.words(), figure.value, figure.source.words())
    };
    HandbookPage {
        frame: Frame::new("Handbook"),
        chances_source: Strength::Usually.figure().source.words(),
        velocities: Surface::ALL.iter().copied().map(velocity).collect(),
        uptakes: (100.0 * exchange::uptake_per_metre(Bubbles::Coarse).value, 100.0 * exchange::uptake_per_metre(Bubbles::Fine).value),
        spreads: (factor(forecast::EXCHANGE_SPREAD.value), factor(forecast::DEMAND_SPREAD.value)),
        residual: forecast::MODEL_RESIDUAL_MG_L.value,
        ceiling: 100.0 * CEILING.value,
        chances: vec![
            ("nearly always", Strength::NearlyAlways.chance()),
            ("usually", Strength::Usually.chance()),
            ("often", Strength::Often.chance()),
        ],
        good: forecast::GOOD_SHARE.value * 100.0,
        act: Purpose::Display.limits().oxygen_act.value * 100.0,
        act_young: Purpose::Breeding.limits().oxygen_act.value * 100.0,
        distress: forecast::DISTRESS_MG_L.value,
        limits_source: forecast::GOOD_SHARE.source.words(),
        faults: fault::all().collect(),
        kits: kit::ALL,
        checks: check::all().count(),
        changes: change::all().count(),
    }
}
