//! A new tank: a set-up that looks like it, then what a beginner knows. Everything else keeps the
//! set-up's value, and is told as assumed.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Form, Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use reed_core::document::start::{self, Start};
use reed_core::field::Described;
use reed_core::tank::{COMMON, Filter, Glass, Planting, StockGroup, Tank};
use reed_core::units::{FlowRate, Length, Quantity, Units, plain};
use reed_store::tanks;

use super::editor;
use super::told::{AGES, INTERVALS, SHARES, SIDES, Typed, field_of, filter_field, tank_of};
use crate::error::PageError;
use crate::forms::Refusals;
use crate::state::App;
use crate::view::{Frame, Mood, draw, silhouette};

/// A set-up to start from.
struct StartLine {
    id: &'static str,
    title: &'static str,
    drawing: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/tank_start.html")]
pub(super) struct StartPage {
    frame: Frame,
    starts: Vec<StartLine>,
}

/// The set-ups to start from.
pub(super) async fn choose() -> StartPage {
    let line = |start: &Start| StartLine {
        id: start.id,
        title: start.title,
        drawing: draw(&start.tank(), Mood::AtEase),
    };
    StartPage {
        frame: Frame::new("tank-start", "Which tank is most like yours?"),
        starts: start::ALL.iter().map(line).collect(),
    }
}

/// A choice of the form.
struct Choice {
    value: String,
    words: String,
    chosen: bool,
}

/// Animals to count.
struct Animal {
    /// Name of the field.
    name: String,
    words: String,
    picture: String,
    count: String,
}

/// A filter of the set-up.
struct FilterLine {
    name: String,
    words: String,
    picture: String,
    rated: String,
    /// What the set-up's label says.
    usual: String,
}

/// A number of the form with its unit.
struct NumberField {
    name: &'static str,
    label: &'static str,
    value: String,
    /// The set-up's own.
    usual: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/tank_new.html")]
struct NewPage {
    frame: Frame,
    start: &'static str,
    title: &'static str,
    drawing: String,
    name: String,
    sizes: Vec<NumberField>,
    length_unit: &'static str,
    filters: Vec<FilterLine>,
    flow_unit: &'static str,
    /// Those of the set-up, in words.
    set_up_animals: String,
    takes_set_up: bool,
    animals: Vec<Animal>,
    other_animals: Vec<Animal>,
    others_open: bool,
    /// How it is kept: name of the field, label, choices.
    kept: Vec<(&'static str, &'static str, Vec<Choice>)>,
    /// What stays as in the set-up: what, and its value.
    assumed: Vec<(&'static str, String)>,
    refusals: Refusals,
    units: String,
}

fn set_up(id: &str) -> Result<&'static Start, PageError> {
    start::by_id(id).ok_or_else(|| PageError::NotFound(format!("There is no set-up “{id}”.")))
}

pub(super) async fn show(
    State(app): State<App>,
    Path(id): Path<String>,
) -> Result<Response, PageError> {
    let start = set_up(&id)?;
    let (units, count) = app
        .read(|db| Ok((reed_store::settings::units(db)?, tanks::all(db)?.len())))
        .await?;
    let typed = Typed(HashMap::from([(
        "name".to_owned(),
        format!("Tank {}", count + 1),
    )]));
    Ok(NewPage::of(start, &typed, Refusals::default(), &units).into_response())
}

/// Saves it, or goes on to its drawing.
pub(super) async fn create(
    State(app): State<App>,
    Path(id): Path<String>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> Result<Response, PageError> {
    let start = set_up(&id)?;
    let typed = Typed(pairs.into_iter().collect());
    let units = typed.carried().units(app.units().await?);
    let now = app.clock.now();
    match tank_of(start, &typed, now.wall.date(), &units) {
        Err(refusals) => {
            let page = NewPage::of(start, &typed, Refusals::of(refusals), &units);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Ok(tank) if typed.at("do") == "draw" => Ok(editor::going_on(start.id, tank, &units)),
        Ok(tank) => {
            let id = app
                .write(move |db| tanks::create(db, &tank, "First entry", now.utc))
                .await?;
            Ok(Redirect::to(&format!("/tanks/{id}")).into_response())
        }
    }
}

impl NewPage {
    fn of(start: &'static Start, typed: &Typed, refusals: Refusals, units: &Units) -> Self {
        let tank = start.tank();
        let animal = |name: String, words: String, build, cm| Animal {
            count: typed.at(&name).to_owned(),
            picture: silhouette(build, cm),
            name,
            words,
        };
        let own = |(index, group): (usize, &StockGroup)| {
            let length = group.length.map_or_else(String::new, |length| {
                format!(", {}", units.print(length.as_cm(), Length::UNITS, 1))
            });
            animal(
                format!("own-{index}"),
                format!("{}{length}", group.name),
                group.build,
                group.length.map_or(5.0, Length::as_cm),
            )
        };
        let filter = |filter: &Filter| {
            let name = filter_field(filter);
            FilterLine {
                usual: plain(
                    units
                        .of(FlowRate::UNITS)
                        .from_base(filter.rated.as_litres_per_hour())
                        .round(),
                ),
                rated: typed.at(&name).to_owned(),
                name,
                words: format!("{}: {}", filter.name, filter.kind.words()),
                picture: picture(&tank, filter),
            }
        };
        Self {
            frame: Frame::new("tank-new", format!("New tank: {}", start.title)),
            start: start.id,
            title: start.title,
            drawing: draw(
                &Tank {
                    stock: Vec::new(),
                    ..tank.clone()
                },
                Mood::AtEase,
            ),
            name: typed.at("name").to_owned(),
            sizes: sizes(&tank, typed, units),
            length_unit: units.of(Length::UNITS).symbol,
            filters: tank.filters.iter().map(filter).collect(),
            flow_unit: units.of(FlowRate::UNITS).symbol,
            set_up_animals: tank
                .stock
                .iter()
                .map(|group| format!("{} {}", group.count, group.name))
                .collect::<Vec<_>>()
                .join(", "),
            takes_set_up: typed.at("animals") == "set-up",
            animals: tank.stock.iter().enumerate().map(own).collect(),
            others_open: COMMON
                .iter()
                .any(|common| !typed.at(&format!("more-{}", common.id)).is_empty()),
            other_animals: COMMON
                .iter()
                .map(|common| {
                    animal(
                        format!("more-{}", common.id),
                        common.words.to_owned(),
                        common.build,
                        common.length_cm,
                    )
                })
                .collect(),
            kept: kept(typed),
            assumed: assumed(&tank, units),
            refusals,
            units: units.code(),
        }
    }
}

/// How it is kept: each with its choices.
fn kept(typed: &Typed) -> Vec<(&'static str, &'static str, Vec<Choice>)> {
    let choice = |field: &str, value: String, words: String| Choice {
        chosen: typed.at(field) == value,
        value,
        words,
    };
    vec![
        (
            "plants",
            "Plants",
            Planting::ALL
                .iter()
                .map(|planting| {
                    choice(
                        "plants",
                        planting.id().to_owned(),
                        planting.words().to_owned(),
                    )
                })
                .collect(),
        ),
        (
            "age",
            "Set up",
            AGES.iter()
                .map(|(id, words, _)| choice("age", (*id).to_owned(), (*words).to_owned()))
                .collect(),
        ),
        (
            "every",
            "Water is changed",
            INTERVALS
                .iter()
                .map(|(days, words)| choice("every", days.to_string(), (*words).to_owned()))
                .collect(),
        ),
        (
            "share",
            "How much of it",
            SHARES
                .iter()
                .map(|share| choice("share", share.to_string(), format!("{share} %")))
                .collect(),
        ),
    ]
}

/// The sides of the box.
fn sizes(tank: &Tank, typed: &Typed, units: &Units) -> Vec<NumberField> {
    SIDES
        .into_iter()
        .zip([tank.glass.length, tank.glass.width, tank.glass.height])
        .map(|((name, key), side)| NumberField {
            name,
            label: field_of(Glass::FIELDS, key).label,
            value: typed.at(name).to_owned(),
            usual: plain((units.of(Length::UNITS).from_base(side.as_cm()) * 10.0).round() / 10.0),
        })
        .collect()
}

/// A filter alone in its tank.
fn picture(tank: &Tank, filter: &Filter) -> String {
    let mut alone = Tank {
        stock: Vec::new(),
        ..tank.clone()
    };
    alone.plants.planting = Planting::None;
    alone.things.retain(|thing| thing.is_of(filter.number));
    draw(&alone, Mood::AtEase)
}

/// What is not asked, with the values that stay.
fn assumed(tank: &Tank, units: &Units) -> Vec<(&'static str, String)> {
    let media: Vec<&str> = tank
        .filters
        .iter()
        .flat_map(Filter::media)
        .map(|portion| portion.medium.words())
        .collect();
    vec![
        (
            "Water temperature",
            units.print(
                tank.temperature.as_celsius(),
                reed_core::units::Temperature::UNITS,
                0,
            ),
        ),
        (
            "Bed",
            format!(
                "{} of {}",
                units.print(tank.bed.depth.as_cm(), Length::UNITS, 0),
                tank.bed.substrate.words()
            ),
        ),
        ("The surface shows", tank.surface.words().to_owned()),
        (
            "Media in the filters",
            if media.is_empty() {
                "none".to_owned()
            } else {
                media.join(", ")
            },
        ),
        (
            "Where things stand",
            "as on the drawing, scaled to your size".to_owned(),
        ),
        (
            "Feed per day",
            "as much for its animals as in the set-up".to_owned(),
        ),
        (
            "Light",
            format!("{:.0} hours a day", tank.plants.light.as_hours()),
        ),
    ]
}
