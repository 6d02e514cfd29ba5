//! The quick line: what was typed, what it is taken for, and entering it.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::log::quick::{Meant, Quick, Said};
use reed_core::log::{Entry, When};
use reed_core::tank::{Reading, Tank};
use reed_core::units::Units;
use reed_store::{StoreError, TankId, Transaction, readings};

use super::{back, enter, line, tank_and_units};
use crate::clock::Moment;
use crate::error::PageError;
use crate::forms::Carried;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, Tab, when_of};

/// Parts of the quick line as they come from its form: in pairs, since a part stands there as often
/// as there are parts.
struct Typed {
    /// The line, its parts one below the other.
    line: String,
    /// When it was typed first, so that “now” and “yesterday” stay what they were.
    typed_at: Option<DateTime>,
    /// Numbers of the parts that go into the tank file too.
    in_tank: Vec<usize>,
    /// To which page it goes back.
    back: String,
    carried: Carried,
}

/// A line that lies longer than this is read as of now.
const LONGEST_H: i64 = 24;

impl Typed {
    fn of(fields: Vec<(String, String)>, now: &Moment) -> Self {
        let mut typed = Self {
            line: String::new(),
            typed_at: None,
            in_tank: Vec::new(),
            back: String::new(),
            carried: Carried::default(),
        };
        for (name, value) in fields {
            match name.as_str() {
                "line" | "part" => {
                    typed.line.push_str(&value);
                    typed.line.push('\n');
                }
                "typed_at" => typed.typed_at = value.parse().ok(),
                "in_tank" => typed.in_tank.extend(value.parse::<usize>().ok()),
                "back" => typed.back = value,
                "units" => typed.carried.units = value,
                "zone" => typed.carried.zone = value,
                _ => {}
            }
        }
        typed.typed_at = typed.typed_at.filter(|at| {
            let hours = now.wall.duration_since(*at).as_hours();
            *at <= now.wall && hours < LONGEST_H
        });
        typed
    }

    /// What it is taken for, by the clock beside the tank.
    fn read(&self, tank: &Tank, now: &Moment, units: &Units) -> Vec<Said> {
        let shift = self.carried.shift(now);
        let at = self.typed_at.unwrap_or(now.wall);
        let quick = Quick {
            tank,
            now: at.checked_sub(shift).unwrap_or(at),
            units,
        };
        let there = |when: When| {
            if when.is_a_day() {
                when
            } else {
                when.moved(shift)
            }
        };
        let moved = |said: Said| Said {
            meant: match said.meant {
                Meant::Reading(reading) => Meant::Reading(Reading {
                    taken_at: reading.taken_at.checked_add(shift).unwrap_or(at),
                    ..reading
                }),
                Meant::Entry(entry) => Meant::Entry(Entry {
                    when: there(entry.when),
                    ..entry
                }),
                Meant::Unclear { entry, why } => Meant::Unclear {
                    entry: Entry {
                        when: there(entry.when),
                        ..entry
                    },
                    why,
                },
            },
            ..said
        };
        quick.read(&self.line).into_iter().map(moved).collect()
    }
}

/// A part, with what it is taken for.
struct Part {
    number: usize,
    text: String,
    /// What it is taken for; nothing where another part stands for the same words.
    words: String,
    when: String,
    /// Why it is only a note, or why it does nothing.
    why: String,
    /// What would become of the tank file, in words.
    makes: Option<&'static str>,
    makes_it: bool,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/log_quick.html")]
struct QuickPage {
    frame: Frame,
    id: TankId,
    parts: Vec<Part>,
    typed_at: String,
    back: String,
    units: String,
}

impl Part {
    fn of(
        number: usize,
        said: Said,
        tank: &Tank,
        now: DateTime,
        units: &Units,
        kept: bool,
    ) -> Self {
        let of_entry = |entry: &Entry, why: String| {
            let on = line::on_words(entry, tank);
            let mut words = entry.words(units);
            for more in [&on, &entry.note] {
                if !more.is_empty() {
                    words = format!("{words}: {more}");
                }
            }
            let why = match entry.idle_in(tank) {
                Some(idle) => idle.to_owned(),
                None => why,
            };
            (words, when_of(&entry.when, now), why)
        };
        let mut makes = None;
        let (words, when, why) = match &said.meant {
            Meant::Reading(reading) => (
                format!("{} {}", reading.analyte.label, reading.print(units)),
                when_of(&When::minute(reading.taken_at), now),
                String::new(),
            ),
            Meant::Entry(entry) => {
                makes = entry
                    .makes(tank)
                    .map(|_| "Change the tank’s description too");
                of_entry(entry, String::new())
            }
            Meant::Unclear { entry, why } => of_entry(entry, why.clone()),
        };
        Self {
            number,
            text: said.text,
            words,
            when,
            why,
            makes,
            makes_it: kept,
        }
    }
}

/// What the line is taken for; nothing is stored.
pub(super) async fn preview(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(fields): Form<Vec<(String, String)>>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let typed = Typed::of(fields, &now);
    if typed.line.trim().is_empty() {
        return Ok(back(id, "log").into_response());
    }
    let (tank, chosen) = tank_and_units(&app, id).await?;
    Ok(page(id, &typed, &tank, &now, chosen).into_response())
}

fn page(id: TankId, typed: &Typed, tank: &Tank, now: &Moment, chosen: Units) -> QuickPage {
    let units = typed.carried.units(chosen);
    let said = typed.read(tank, now, &units);
    QuickPage {
        frame: Frame::new("log", format!("{}: what you typed", tank.name)).of_tank(
            id,
            &tank.name,
            Tab::Log,
        ),
        id,
        parts: said
            .into_iter()
            .enumerate()
            .map(|(number, said)| Part::of(number, said, tank, now.wall, &units, true))
            .collect(),
        typed_at: typed.typed_at.unwrap_or(now.wall).to_string(),
        back: typed.back.clone(),
        units: units.code(),
    }
}

/// Enters what the line is taken for, all of it or nothing.
pub(super) async fn enter_all(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(fields): Form<Vec<(String, String)>>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let typed = Typed::of(fields, &now);
    let (tank, chosen) = tank_and_units(&app, id).await?;
    let units = typed.carried.units(chosen);
    let said = typed.read(&tank, &now, &units);
    let is_idle = |said: &Said| match &said.meant {
        Meant::Entry(entry) => entry.idle_in(&tank).is_some(),
        Meant::Reading(_) | Meant::Unclear { .. } => false,
    };
    if said.iter().any(is_idle) {
        let page = page(id, &typed, &tank, &now, chosen);
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let in_tank = typed.in_tank.clone();
    app.write(move |db| {
        said.iter()
            .enumerate()
            .try_for_each(|(number, said)| store(db, id, said, in_tank.contains(&number), &now))
    })
    .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/log")).into_response())
}

fn store(
    db: &Transaction<'_>,
    id: TankId,
    said: &Said,
    for_the_tank: bool,
    now: &Moment,
) -> Result<(), StoreError> {
    match &said.meant {
        Meant::Reading(reading) => readings::add(db, id, reading, now.utc).map(drop),
        Meant::Entry(entry) | Meant::Unclear { entry, .. } => {
            enter(db, id, entry, &[], for_the_tank, now)
        }
    }
}
