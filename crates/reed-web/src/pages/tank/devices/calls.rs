//! From where on what devices read calls for somebody, and the hours of quiet.

use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::civil::Time;
use reed_core::alarm::{Bounds, Quiet};
use reed_core::tank::{Analyte, analyte};
use reed_core::units::Units;
use reed_store::watches::{self, Watched};
use reed_store::{Connection, StoreError, TankId, settings, tanks};
use serde::Deserialize;

use super::{Typed, refused};
use crate::alarms::KnownBounds;
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;

/// From where on something calls, as it is typed.
pub(super) struct BoundsLine {
    pub(super) id: &'static str,
    pub(super) label: &'static str,
    pub(super) unit: &'static str,
    pub(super) low: String,
    pub(super) high: String,
    /// In words.
    pub(super) told: String,
    /// The keeper set them.
    pub(super) is_own: bool,
    pub(super) refused: String,
}

impl BoundsLine {
    /// A line for each thing that devices of the tank read.
    pub(super) fn all(
        db: &Connection,
        id: TankId,
        known: &KnownBounds,
        units: &Units,
        typed: &Typed,
        watched: &[Watched],
    ) -> Result<Vec<Self>, StoreError> {
        let own = watches::own_bounds(db, id)?;
        let bounds = known.of(db, id)?;
        let is_read = |analyte: &&&'static Analyte| {
            let mut all = watched.iter();
            all.any(|one| one.analyte == **analyte)
        };
        let line = |analyte: &&'static Analyte| {
            let is_own = own.iter().any(|(of, _)| of == analyte);
            Self::of(analyte, bounds(analyte), is_own, units, typed)
        };
        Ok(Analyte::ALL.iter().filter(is_read).map(line).collect())
    }

    fn of(
        analyte: &'static Analyte,
        stands: Bounds,
        is_own: bool,
        units: &Units,
        typed: &Typed,
    ) -> Self {
        let unit = units.of(analyte.units);
        let number = |bound: f64| format!("{:.*}", analyte.decimals, unit.from_base(bound));
        let is_typed = typed.analyte == analyte.id;
        let shown = |text: &str, bound: Option<f64>| {
            if is_typed {
                text.to_owned()
            } else {
                bound.map_or_else(String::new, number)
            }
        };
        let low = stands
            .low
            .map(|low| format!("below {}", analyte.print(low, units)));
        let high = stands
            .high
            .map(|high| format!("above {}", analyte.print(high, units)));
        let told = match (low, high) {
            (None, None) => "never".to_owned(),
            (Some(one), None) | (None, Some(one)) => one,
            (Some(low), Some(high)) => format!("{low} and {high}"),
        };
        Self {
            id: analyte.id,
            label: analyte.label,
            unit: unit.symbol,
            low: shown(&typed.low, stands.low),
            high: shown(&typed.high, stands.high),
            told,
            is_own,
            refused: if is_typed {
                typed.bounds_refused.clone()
            } else {
                String::new()
            },
        }
    }
}

/// Bounds as they are typed; an empty field is none.
#[derive(Deserialize)]
pub(super) struct TypedBounds {
    #[serde(default)]
    analyte: String,
    #[serde(default)]
    low: String,
    #[serde(default)]
    high: String,
    /// The usual ones are taken again.
    usual: Option<String>,
}

impl TypedBounds {
    /// What was typed; none for the usual ones.
    fn read(&self, analyte: &Analyte, units: &Units) -> Result<Option<Bounds>, String> {
        if self.usual.is_some() {
            return Ok(None);
        }
        let read = |text: &str, side: &str| match text.trim() {
            "" => Ok(None),
            text => match analyte.read(text, units) {
                Ok(value) => Ok(Some(value)),
                Err(why) => Err(format!("{side}: {why}")),
            },
        };
        let bounds = Bounds {
            low: read(&self.low, "Below")?,
            high: read(&self.high, "Above")?,
        };
        match (bounds.low, bounds.high) {
            (Some(low), Some(high)) if low >= high => Err(format!(
                "Below {} and above {}: it would always call. Give a lower bound that is less than the upper one.",
                analyte.print(low, units),
                analyte.print(high, units)
            )),
            _ => Ok(Some(bounds)),
        }
    }
}

pub(super) async fn set_bounds(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<TypedBounds>,
) -> Result<Response, PageError> {
    let analyte = analyte(&input.analyte).ok_or_else(|| {
        PageError::Refused(format!("What is read: “{}” is not known.", input.analyte))
    })?;
    let units = app.units().await?;
    match input.read(analyte, &units) {
        Ok(bounds) => {
            app.write(move |db| {
                tanks::latest(db, id)?;
                watches::set_bounds(db, id, analyte, bounds)
            })
            .await?;
            Ok(Redirect::to(&format!("/tanks/{id}/devices#bounds")).into_response())
        }
        Err(why) => {
            let typed = Typed {
                analyte: input.analyte,
                low: input.low,
                high: input.high,
                bounds_refused: why,
                ..Typed::default()
            };
            refused(&app, id, typed).await
        }
    }
}

/// Hours of quiet as they are typed.
#[derive(Deserialize)]
pub(super) struct TypedQuiet {
    #[serde(default)]
    from: String,
    #[serde(default)]
    until: String,
}

impl TypedQuiet {
    /// What was typed; none where both are empty.
    fn read(&self) -> Result<Option<Quiet>, String> {
        let (from, until) = (self.from.trim(), self.until.trim());
        if from.is_empty() && until.is_empty() {
            return Ok(None);
        }
        let time = |text: &str, which: &str| {
            Time::strptime("%H:%M", text).map_err(|_| {
                format!(
                    "{which}: “{text}” is no time of the day. Give one such as 22:00, or leave both empty."
                )
            })
        };
        let quiet = Quiet {
            from: time(from, "Quiet from")?,
            until: time(until, "Quiet until")?,
        };
        if quiet.from == quiet.until {
            let why =
                "Quiet until: it is the same as from. Give another time, or leave both empty.";
            return Err(why.to_owned());
        }
        Ok(Some(quiet))
    }
}

pub(super) async fn set_quiet(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<TypedQuiet>,
) -> Result<Response, PageError> {
    match input.read() {
        Ok(quiet) => {
            app.write(move |db| settings::choose_quiet(db, quiet))
                .await?;
            Ok(Redirect::to(&format!("/tanks/{id}/devices#quiet")).into_response())
        }
        Err(why) => {
            let typed = Typed {
                from: input.from,
                until: input.until,
                quiet_refused: why,
                ..Typed::default()
            };
            refused(&app, id, typed).await
        }
    }
}
