//! Handbook: every kind of number the program prints, with its formula and source.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::routing::get;
use reed_core::diagnosis::{check, fault};
use reed_core::forecast;
use reed_core::remedy::change;
use reed_core::tank::{Surface, kit};
use reed_core::water::oxygen::exchange;

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
    good: f64,
    act: f64,
    distress: f64,
    limits_source: &'static str,
    faults: Vec<&'static fault::Fault>,
    kits: &'static [&'static kit::Kit],
    checks: usize,
    changes: usize,
}

async fn show() -> HandbookPage {
    let velocity = |surface: Surface| {
        let figure = exchange::transfer_velocity_m_h(surface);
        (surface.words(), figure.value, figure.source.words())
    };
    HandbookPage {
        frame: Frame::new("Handbook"),
        velocities: Surface::ALL.map(velocity).to_vec(),
        good: forecast::GOOD_SHARE.value * 100.0,
        act: forecast::ACT_SHARE.value * 100.0,
        distress: forecast::DISTRESS_MG_L.value,
        limits_source: forecast::GOOD_SHARE.source.words(),
        faults: fault::all().collect(),
        kits: kit::ALL,
        checks: check::all().count(),
        changes: change::all().count(),
    }
}
