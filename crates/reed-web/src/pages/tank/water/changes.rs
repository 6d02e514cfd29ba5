//! Water changes: what they do to nitrate, and an emergency change sized from readings.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use reed_core::tank::{Analyte, Tank};
use reed_core::units::masses::NITRATE_PER_NITROGEN;
use reed_core::units::{Units, plain};
use reed_core::water::nitrogen::changes::{
    fraction_to_hold, interval_to_hold, peak_between_changes,
};
use reed_core::water::oxygen::formulas;
use reed_store::{TankId, readings, settings, tanks};

use super::emergency_form::{EmergencyForm, EmergencyInput};
use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::forms::Carried;
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::state::App;
use crate::view::{Frame, Opened};

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/changes.html")]
pub(super) struct ChangesPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    changes: ChangesView,
    sizing: EmergencyForm,
    /// [`Units::code`] of the units it is shown in.
    units: String,
}

/// What the page was asked for besides itself.
#[derive(Default, serde::Deserialize)]
#[serde(default)]
pub(super) struct Asked {
    /// Nitrate to stay under.
    target: String,
    #[serde(flatten)]
    sizing: EmergencyInput,
    #[serde(flatten)]
    carried: Carried,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(asked): Query<Asked>,
) -> Result<ChangesPage, PageError> {
    let (id, now) = (id, app.clock.now().wall);
    let watching = Watching::of(&app);
    app.read(move |db| {
        let (tank, units) = (
            tanks::latest(db, id)?.tank,
            asked.carried.units(settings::units(db)?),
        );
        let mut latest = HashMap::new();
        for analyte in EmergencyInput::ANALYTES {
            if let Some(stored) = readings::latest(db, id, analyte.id)? {
                latest.insert(analyte.id, stored.reading);
            }
        }
        let tap_nitrate = readings::latest(db, id, Analyte::TAP_NITRATE.id)?
            .map_or(0.0, |stored| stored.reading.value);
        let (frame, part) = PartFrame::read(db, &watching, Part::Changes, (id, &tank.name))?;
        Ok(ChangesPage {
            frame,
            part,
            id,
            changes: ChangesView::of(&asked.target, &tank, tap_nitrate, &units),
            sizing: EmergencyForm::of(&asked.sizing, &tank, &latest, now, &units),
            units: units.code(),
        })
    })
    .await
}

/// Nitrate to stay under: the form's field, why it was refused, and the sums.
struct ChangesView {
    target: String,
    unit: &'static str,
    refused: String,
    numbers: Vec<Opened>,
}

impl ChangesView {
    /// For a target as typed; empty, it is the limit of the tank's purpose.
    fn of(target: &str, tank: &Tank, tap_nitrate: f64, units: &Units) -> Self {
        let limit = tank.limits().nitrate_ion_mg_l;
        let usual = limit.value / NITRATE_PER_NITROGEN;
        let unit = units.of(Analyte::NITRATE.units);
        let read = if target.is_empty() {
            Ok(usual)
        } else {
            Analyte::NITRATE.read(target, units)
        };
        let own = !target.is_empty() && read.is_ok();
        Self {
            target: if target.is_empty() {
                plain((unit.from_base(usual) * 10.0).round() / 10.0)
            } else {
                target.to_owned()
            },
            unit: unit.symbol,
            refused: read
                .as_ref()
                .err()
                .map(ToString::to_string)
                .unwrap_or_default(),
            numbers: changes(
                tank,
                tap_nitrate,
                (
                    read.unwrap_or(usual),
                    if own {
                        "your own"
                    } else {
                        limit.source.words()
                    },
                ),
                units,
            ),
        }
    }
}

/// What changing water does to nitrate, in closed forms, with a limit, mg N/L, and whose it is.
fn changes(tank: &Tank, tap: f64, (limit, whose): (f64, &str), units: &Units) -> Vec<Opened> {
    let (share, days) = (
        tank.practice.change_share.as_percent() / 100.0,
        f64::from(tank.practice.change_every_days),
    );
    let litres = tank.net_volume().as_litres();
    let load = reed_core::twin::numbers::Numbers::of(tank).nitrogen_g_per_day;
    let daily = load * 1000.0 / litres;
    let print = |nitrogen: f64| Analyte::NITRATE.print(nitrogen, units);
    let percent = |fraction: f64| format!("{} %", plain((fraction * 100.0).ceil().max(1.0)));
    let never = || "no change of this tap water does".to_owned();
    let series = "geometric series of changes, exact in a tank without plants; what plants take makes it better";
    vec![
        Opened::new(
            "Gained",
            format!("{} a day", print(daily)),
            format!("{} / volume", formulas::nitrogen_from_feed()),
            format!(
                "{:.1} g of feed with {:.0} % protein in {litres:.0} L; all of it nitrate in the end.",
                tank.feed.as_grams(),
                tank.feed_protein.as_percent()
            ),
            "Timmons & Ebeling, Recirculating Aquaculture",
        ),
        Opened::new(
            format!(
                "{} every {days:.0} days, as now: before a change",
                percent(share)
            ),
            print(peak_between_changes(tap, daily * days, share)),
            "tap + gain between changes / share changed",
            format!(
                "The tap has {}; {} gained between changes.",
                print(tap),
                print(daily * days)
            ),
            series,
        ),
        Opened::new(
            format!("Every {days:.0} days, to stay under {}", print(limit)),
            fraction_to_hold(limit, tap, daily * days).map_or_else(never, percent),
            "gain between changes / (limit − tap)",
            format!("Limit: {}, {whose}.", print(limit)),
            series,
        ),
        Opened::new(
            format!("Or {} each, to stay under it", percent(share)),
            interval_to_hold(limit, tap, daily, share).map_or_else(never, |interval| {
                format!("every {:.0} days", interval.floor().clamp(1.0, 365.0))
            }),
            "share · (limit − tap) / gain a day",
            format!("{} gained a day.", print(daily)),
            series,
        ),
    ]
}
