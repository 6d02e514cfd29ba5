//! Settings: the units the keeper reads and types.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Form, Query, State};
use axum::response::Redirect;
use axum::routing::get;
use reed_core::choice::Choice;
use reed_core::field::{Described, What, from_texts, texts_of, tree};
use reed_core::units::Units;
use reed_store::settings;

use crate::error::PageError;
use crate::state::App;
use crate::view::Frame;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/settings", get(show).post(choose))
}

struct UnitLine {
    pointer: String,
    label: &'static str,
    help: &'static str,
    chosen: String,
    choices: &'static [Choice],
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/settings.html")]
struct SettingsPage {
    frame: Frame,
    units: Vec<UnitLine>,
    saved: bool,
}

/// `?saved` follows a choice.
#[derive(serde::Deserialize)]
struct Asked {
    saved: Option<String>,
}

async fn show(
    State(app): State<App>,
    Query(asked): Query<Asked>,
) -> Result<SettingsPage, PageError> {
    let value = serde_json::to_value(app.units().await?)
        .map_err(|error| PageError::Failed(error.into()))?;
    let texts = texts_of(&value, Units::FIELDS, &Units::BASE);
    let line = |field: &'static reed_core::field::Field| UnitLine {
        pointer: format!("/{}", field.key),
        label: field.label,
        help: field.help.trim(),
        chosen: texts[field.key].as_str().unwrap_or_default().to_owned(),
        choices: if let What::OneOf(choices) = &field.what {
            choices
        } else {
            &[]
        },
    };
    Ok(SettingsPage {
        frame: Frame::new("settings", "Units"),
        units: Units::FIELDS.iter().map(line).collect(),
        saved: asked.saved.is_some(),
    })
}

async fn choose(
    State(app): State<App>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> Result<Redirect, PageError> {
    let texts = tree(
        pairs
            .iter()
            .map(|(key, value)| (key.as_str(), value.as_str())),
        Units::FIELDS,
    );
    let value = from_texts(&texts, Units::FIELDS, &Units::BASE).map_err(|refusals| {
        PageError::Refused(
            refusals
                .first()
                .map_or_else(String::new, ToString::to_string),
        )
    })?;
    let units: Units =
        serde_json::from_value(value).map_err(|error| PageError::Refused(error.to_string()))?;
    app.write(move |db| settings::choose_units(db, units))
        .await?;
    Ok(Redirect::to("/settings?saved"))
}
