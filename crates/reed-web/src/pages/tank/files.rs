//! A tank as an open file, and its drawing as a picture.

use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use reed_core::diagnosis::Case;
use reed_core::document::Document;
use reed_store::{TankId, entries, settings, tanks};

use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Use, sheet};

/// The tank as an open file.
pub(super) async fn tank_file(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<impl IntoResponse, PageError> {
    let (tank, log) = app
        .read(move |db| {
            Ok((
                tanks::latest(db, id)?.tank,
                entries::standing(db, id, None)?,
            ))
        })
        .await?;
    let document = Document {
        as_of: None,
        log,
        ..Document::of(&Case::new(tank, app.clock.now().wall))
    };
    Ok(attachment(
        "application/json",
        &document.tank.name,
        "reed.json",
        document.write(),
    ))
}

/// The drawing as a picture that stands alone.
pub(super) async fn drawing(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<impl IntoResponse, PageError> {
    const STYLE: &str = include_str!("../../../assets/css/parts/drawing.css");
    let (tank, units) = app
        .read(move |db| Ok((tanks::latest(db, id)?.tank, settings::units(db)?)))
        .await?;
    let svg = sheet(&tank, &units, &[], Use::Reading);
    let open = svg.find('>').map_or(0, |end| end + 1);
    let svg = format!("{}<style>{STYLE}</style>{}\n", &svg[..open], &svg[open..]);
    Ok(attachment("image/svg+xml", &tank.name, "svg", svg))
}

/// A file to be kept, by the name of its tank.
pub(super) fn attachment(
    kind: &'static str,
    name: &str,
    ending: &str,
    text: String,
) -> impl IntoResponse + use<> {
    let plain: String = name
        .to_lowercase()
        .chars()
        .map(|letter| {
            if letter.is_ascii_alphanumeric() {
                letter
            } else {
                '-'
            }
        })
        .collect();
    let plain = plain.trim_matches('-');
    let file = if plain.is_empty() { "tank" } else { plain };
    let disposition = format!("attachment; filename=\"{file}.{ending}\"");
    (
        [
            (header::CONTENT_TYPE, kind.to_owned()),
            (header::CONTENT_DISPOSITION, disposition),
        ],
        text,
    )
}
