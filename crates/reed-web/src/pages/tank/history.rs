//! An earlier state of a tank beside the present one, and the way back to it.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::response::Redirect;
use reed_core::field::{Described, differences};
use reed_core::tank::Tank;
use reed_store::{RevisionId, TankId, settings, tanks};

use crate::error::PageError;
use crate::pages::ids::Ids;
use crate::state::App;
use crate::view::{Frame, Tab, Use, sheet, when};

#[derive(Template, WebTemplate)]
#[template(path = "pages/tank_revision.html")]
pub(super) struct RevisionPage {
    frame: Frame,
    tank: TankId,
    revision: RevisionId,
    name: String,
    at: String,
    why: String,
    is_latest: bool,
    /// What it changed in the one before it; `None` for the first.
    made: Option<Vec<String>>,
    /// What restoring it would change in the tank as it stands.
    since: Vec<String>,
    then: String,
    now: String,
}

pub(super) async fn show(
    State(app): State<App>,
    Ids(tank, revision): Ids<TankId, RevisionId>,
) -> Result<RevisionPage, PageError> {
    let clock = app.clock.clone();
    let (tank, revision) = (tank, revision);
    app.read(move |db| {
        let units = settings::units(db)?;
        let then = tanks::revision(db, tank, revision)?;
        let before = tanks::before(db, tank, revision)?;
        let latest = tanks::latest(db, tank)?;
        let words = |from: &Tank, to: &Tank| {
            differences(&from.to_value(), &to.to_value(), Tank::FIELDS, "", &units)
        };
        let draw = |tank: &Tank| sheet(tank, &units, &tank.conflicts(&units), Use::Reading);
        Ok(RevisionPage {
            frame: Frame::new(
                "tank-revision",
                format!(
                    "{} as of {}",
                    latest.tank.name,
                    when(clock.wall_at(then.made_at), clock.now().wall)
                ),
            )
            .of_tank(tank, &latest.tank.name, Tab::Tank),
            tank,
            revision,
            name: latest.tank.name.clone(),
            at: when(clock.wall_at(then.made_at), clock.now().wall),
            why: then.why.clone(),
            is_latest: then.id == latest.id,
            made: before.map(|before| words(&before.tank, &then.tank)),
            since: words(&latest.tank, &then.tank),
            then: draw(&then.tank),
            now: draw(&latest.tank),
        })
    })
    .await
}

/// Saves an earlier state as the newest revision; nothing in between is lost.
pub(super) async fn restore(
    State(app): State<App>,
    Ids(tank, revision): Ids<TankId, RevisionId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let (tank, revision) = (tank, revision);
    let clock = app.clock.clone();
    app.write(move |db| {
        let then = tanks::revision(db, tank, revision)?;
        let stands = match tanks::latest(db, tank) {
            Ok(latest) => latest.tank == then.tank,
            // What cannot be read is what it is restored from.
            Err(error) if error.is_of_one_row() => false,
            Err(error) => return Err(error),
        };
        if !stands {
            let why = format!(
                "Restored as of {}",
                when(clock.wall_at(then.made_at), now.wall)
            );
            tanks::revise(db, tank, &then.tank, &why, now.utc)?;
        }
        Ok(())
    })
    .await?;
    Ok(Redirect::to(&format!("/tanks/{tank}")))
}
