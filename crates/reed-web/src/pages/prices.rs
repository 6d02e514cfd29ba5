//! What changes cost here: money and minutes, where a keeper knows better than the cards.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Form, Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use reed_core::remedy::change::{self, Change};
use reed_core::remedy::plan::{MOST_EUROS, MOST_MINUTES, Price};
use reed_store::prices;

use crate::error::PageError;
use crate::state::App;
use crate::view::Frame;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/prices", get(show).post(save))
}

/// What a change costs.
struct PriceLine {
    id: &'static str,
    title: &'static str,
    /// By its card.
    usual: [String; 2],
    /// As typed; empty where the card's holds.
    typed: [String; 2],
    refused: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/prices.html")]
struct PricesPage {
    frame: Frame,
    lines: Vec<PriceLine>,
    saved: bool,
    refused: bool,
}

/// `?saved` follows a choice.
#[derive(serde::Deserialize)]
struct Asked {
    saved: Option<String>,
}

impl PricesPage {
    fn of(typed: &HashMap<String, String>, refusals: &HashMap<&'static str, String>) -> Self {
        let line = |change: &'static Change| {
            let text = |what: &str| {
                let key = format!("{what}.{}", change.id);
                typed.get(&key).cloned().unwrap_or_default()
            };
            PriceLine {
                id: change.id,
                title: change.title,
                usual: [change.euros, change.minutes].map(|usual| format!("{usual:.0}")),
                typed: [text("euros"), text("minutes")],
                refused: refusals.get(change.id).cloned().unwrap_or_default(),
            }
        };
        let mut lines: Vec<PriceLine> = change::all().map(line).collect();
        lines.sort_by_key(|line| line.title);
        Self {
            frame: Frame::new("prices", "What things cost here"),
            lines,
            saved: false,
            refused: !refusals.is_empty(),
        }
    }
}

async fn show(State(app): State<App>, Query(asked): Query<Asked>) -> Result<PricesPage, PageError> {
    let own = app.read(prices::all).await?;
    let mut typed = HashMap::new();
    for change in change::all().filter(|change| own.is_own(change)) {
        let price = own.of(change);
        typed.insert(format!("euros.{}", change.id), price.euros.to_string());
        typed.insert(format!("minutes.{}", change.id), price.minutes.to_string());
    }
    Ok(PricesPage {
        saved: asked.saved.is_some(),
        ..PricesPage::of(&typed, &HashMap::new())
    })
}

/// A number as typed, at most so large; none where nothing was typed.
fn number(typed: Option<&String>, label: &str, most: f64) -> Result<Option<f64>, String> {
    let typed = typed.map(|typed| typed.trim()).unwrap_or_default();
    if typed.is_empty() {
        return Ok(None);
    }
    typed
        .replace(',', ".")
        .parse()
        .ok()
        .filter(|number| (0.0..=most).contains(number))
        .map(Some)
        .ok_or_else(|| format!("{label}: “{typed}” is not a number from 0 to {most:.0}."))
}

async fn save(
    State(app): State<App>,
    Form(typed): Form<HashMap<String, String>>,
) -> Result<Response, PageError> {
    let mut refusals = HashMap::new();
    let mut own: Vec<(&'static str, Option<Price>)> = Vec::new();
    for change in change::all() {
        let read = |what: &str, label: &str, most: f64| {
            number(typed.get(&format!("{what}.{}", change.id)), label, most)
        };
        let price = read("euros", "Euros", MOST_EUROS)
            .and_then(|euros| Ok((euros, read("minutes", "Minutes", MOST_MINUTES)?)));
        match price {
            Ok((None, None)) => own.push((change.id, None)),
            Ok((euros, minutes)) => own.push((
                change.id,
                Some(Price {
                    euros: euros.unwrap_or(change.euros),
                    minutes: minutes.unwrap_or(change.minutes),
                }),
            )),
            Err(why) => {
                refusals.insert(change.id, why);
            }
        }
    }
    if !refusals.is_empty() {
        let page = PricesPage::of(&typed, &refusals);
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    app.write(move |db| {
        for (change, price) in own {
            prices::set(db, change, price)?;
        }
        Ok(())
    })
    .await?;
    Ok(Redirect::to("/prices?saved").into_response())
}
