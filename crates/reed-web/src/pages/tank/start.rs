//! A new tank: a set-up that looks like it, then what a beginner knows. Everything else keeps the set-up's value, and is told as assumed.

use std::collections::{BTreeSet, HashMap};

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Form, Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use jiff::ToSpan;
use jiff::civil::Date;
use reed_core::field::{Described, Field};
use reed_core::tank::start::{self, Start};
use reed_core::tank::{Assumed, COMMON, Filter, Glass, Planting, StockGroup, Tank};
use reed_core::units::{FlowRate, Length, Mass, Percent, Quantity, Refusal, Unit, Units, accepted_amount, plain, read_amount};
use reed_store::tanks;

use super::editor;
use crate::error::PageError;
use crate::forms::{Carried, Refusals};
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
    let line = |start: &Start| StartLine { id: start.id, title: start.title, drawing: draw(&start.tank(), Mood::AtEase) };
    StartPage { frame: Frame::new("tank-start", "Which tank is most like yours?"), starts: start::ALL.iter().map(line).collect() }
}

/// How long ago a tank was set up, and how many days that is taken as.
const AGES: [(&str, &str, i32); 5] = [
    ("days", "some days ago", 3),
    ("weeks", "two to four weeks ago", 21),
    ("months", "one to three months ago", 60),
    ("half-year", "three months to a year ago", 200),
    ("years", "more than a year ago", 730),
];
/// How often water is changed, days.
const INTERVALS: [(u32, &str); 5] =
    [(3, "every three days"), (7, "every week"), (14, "every two weeks"), (30, "every month"), (120, "hardly ever")];
/// How much is changed, percent.
const SHARES: [u32; 5] = [10, 20, 30, 50, 75];

/// What is never asked here.
const NOT_ASKED: [&str; 7] = ["bed", "temperature_c", "surface", "things", "filters", "feed_g_per_day", "feed_protein_percent"];

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
}

/// A number of the form with its unit.
struct NumberField {
    name: &'static str,
    label: &'static str,
    value: String,
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

/// What was typed, by field.
#[derive(Default)]
struct Typed(HashMap<String, String>);

impl Typed {
    fn at(&self, name: &str) -> &str {
        self.0.get(name).map_or("", |text| text.trim())
    }

    fn carried(&self) -> Carried {
        Carried { units: self.at("units").to_owned(), zone: self.at("zone").to_owned() }
    }
}

fn set_up(id: &str) -> Result<&'static Start, PageError> {
    start::by_id(id).ok_or_else(|| PageError::NotFound(format!("There is no set-up “{id}”.")))
}

pub(super) async fn show(State(app): State<App>, Path(id): Path<String>) -> Result<Response, PageError> {
    let start = set_up(&id)?;
    let (units, count) = app.read(|db| Ok((reed_store::settings::units(db)?, tanks::all(db)?.len()))).await?;
    let typed = Typed(HashMap::from([("name".to_owned(), format!("Tank {}", count + 1))]));
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
            let id = app.write(move |db| tanks::create(db, &tank, "First entry", now.utc)).await?;
            Ok(Redirect::to(&format!("/tanks/{id}")).into_response())
        }
    }
}

fn field_of(fields: &'static [Field], key: &str) -> &'static Field {
    fields.iter().find(|field| field.key == key).expect("a field of this part")
}

/// The sides of the glass: name of the field, key of the part.
const SIDES: [(&str, &str); 3] = [("length", "length_cm"), ("width", "width_cm"), ("height", "height_cm")];

fn filter_field(filter: &Filter) -> String {
    format!("filter-{}", filter.number)
}

/// An amount as typed; empty it is as before.
fn amount(typed: &Typed, name: &str, field: &Field, units: (&'static [Unit], &Units), before: f64) -> Result<f64, Refusal> {
    let text = typed.at(name);
    let usual = units.1.of(units.0);
    if text.is_empty() {
        return Ok(before);
    }
    let (low, high) = field.range;
    let read = read_amount(text, units.0, usual).filter(|value| (low..=high).contains(value));
    read.ok_or_else(|| Refusal::new(name, field.label, text, accepted_amount(low, high, units.0, usual)))
}

/// The set-up with what was told of it.
fn tank_of(start: &Start, typed: &Typed, today: Date, units: &Units) -> Result<Tank, Vec<Refusal>> {
    let before = start.tank();
    let mut refused = Vec::new();
    let glass = [before.glass.length, before.glass.width, before.glass.height];
    let [length, width, height] = [0, 1, 2].map(|side| {
        let (name, key) = SIDES[side];
        amount(typed, name, field_of(Glass::FIELDS, key), (Length::UNITS, units), glass[side].as_cm()).unwrap_or_else(|refusal| {
            refused.push(refusal);
            glass[side].as_cm()
        })
    });
    let mut tank = if SIDES.iter().any(|(name, _)| !typed.at(name).is_empty()) {
        before.resized(Length::cm(length), Length::cm(width), Length::cm(height))
    } else {
        before.clone()
    };
    for filter in &mut tank.filters {
        let name = filter_field(filter);
        match amount(typed, &name, field_of(Filter::FIELDS, "rated_l_per_h"), (FlowRate::UNITS, units), filter.rated.as_litres_per_hour()) {
            Ok(rated) => filter.rated = FlowRate::litres_per_hour(rated),
            Err(refusal) => refused.push(refusal),
        }
    }
    let mut assumed: BTreeSet<&str> = NOT_ASKED.into();
    match animals(&before, typed) {
        Ok(stock) => tank.stock = stock,
        Err(refusals) => refused.extend(refusals),
    }
    if tank.stock.is_empty() {
        assumed.insert("stock");
    }
    // Fed as the set-up is, by the mass of its animals.
    let was = before.stock_mass().as_grams();
    if was > 0.0 {
        let fed = before.feed.as_grams() * tank.stock_mass().as_grams() / was;
        tank.feed = Mass::grams((fed * 100.0).round() / 100.0);
    }
    match Planting::by_id(typed.at("plants")) {
        Some(planting) => tank.plants.planting = planting,
        None => drop(assumed.insert("plants")),
    }
    match AGES.iter().find(|(id, ..)| *id == typed.at("age")) {
        Some((_, _, days)) => tank.set_up = today.checked_sub(days.days()).ok(),
        None => drop(assumed.insert("set_up")),
    }
    match (typed.at("every").parse().ok(), typed.at("share").parse::<u32>().ok()) {
        (Some(days), Some(share)) if INTERVALS.iter().any(|(known, _)| *known == days) && SHARES.contains(&share) => {
            tank.practice.change_every_days = days;
            tank.practice.change_share = Percent::of(f64::from(share));
        }
        _ => drop(assumed.insert("practice")),
    }
    let name = typed.at("name");
    name.clone_into(&mut tank.name);
    tank.assumed = Assumed(assumed.into_iter().map(str::to_owned).collect());
    if refused.is_empty() {
        // What no field here can mend is named with the whole tank.
        refused.extend(tank.refusals(units).into_iter().map(|refusal| match refusal.field.as_str() {
            "/name" => Refusal { field: "name".to_owned(), ..refusal },
            _ => Refusal { field: "height".to_owned(), ..refusal },
        }));
    }
    if refused.is_empty() { Ok(tank) } else { Err(refused) }
}

/// Counts are whole and no more than this.
const MOST_ANIMALS: u32 = 100_000;

/// The animals that were counted: those of the set-up, and others.
fn animals(before: &Tank, typed: &Typed) -> Result<Vec<StockGroup>, Vec<Refusal>> {
    let mut refused = Vec::new();
    let mut stock = Vec::new();
    let mut count = |name: &str, label: &str| match typed.at(name) {
        "" | "0" => 0,
        text => text.parse().ok().filter(|count| *count <= MOST_ANIMALS).unwrap_or_else(|| {
            refused.push(Refusal::new(name, label, text, format!("Give a whole number, up to {MOST_ANIMALS}, or nothing.")));
            0
        }),
    };
    for (index, group) in before.stock.iter().enumerate() {
        let as_there = typed.at("animals") == "set-up" && typed.at(&format!("own-{index}")).is_empty();
        let count = if as_there { group.count } else { count(&format!("own-{index}"), &group.name) };
        stock.push(StockGroup { count, ..group.clone() });
    }
    stock.extend(COMMON.iter().map(|common| common.group(count(&format!("more-{}", common.id), common.words))));
    stock.retain(|group| group.count > 0);
    if refused.is_empty() { Ok(stock) } else { Err(refused) }
}

impl NewPage {
    fn of(start: &'static Start, typed: &Typed, refusals: Refusals, units: &Units) -> Self {
        let tank = start.tank();
        let animal = |name: String, words: String, build| Animal { count: typed.at(&name).to_owned(), picture: silhouette(build), name, words };
        let own = |(index, group): (usize, &StockGroup)| {
            let length = group.length.map_or_else(String::new, |length| format!(", {}", units.print(length.as_cm(), Length::UNITS, 1)));
            animal(format!("own-{index}"), format!("{}{length}", group.name), group.build)
        };
        let choice = |field: &str, value: String, words: String| Choice { chosen: typed.at(field) == value, value, words };
        let filter = |filter: &Filter| {
            let name = filter_field(filter);
            FilterLine { rated: typed.at(&name).to_owned(), name, words: format!("{}: {}", filter.name, filter.kind.words()), picture: picture(&tank, filter) }
        };
        Self {
            frame: Frame::new("tank-new", format!("New tank: {}", start.title)),
            start: start.id,
            title: start.title,
            drawing: draw(&Tank { stock: Vec::new(), ..tank.clone() }, Mood::AtEase),
            name: typed.at("name").to_owned(),
            sizes: SIDES.map(|(name, key)| NumberField { name, label: field_of(Glass::FIELDS, key).label, value: typed.at(name).to_owned() }).into(),
            length_unit: units.of(Length::UNITS).symbol,
            filters: tank.filters.iter().map(filter).collect(),
            flow_unit: units.of(FlowRate::UNITS).symbol,
            set_up_animals: tank.stock.iter().map(|group| format!("{} {}", group.count, group.name)).collect::<Vec<_>>().join(", "),
            takes_set_up: typed.at("animals") == "set-up",
            animals: tank.stock.iter().enumerate().map(own).collect(),
            others_open: COMMON.iter().any(|common| !typed.at(&format!("more-{}", common.id)).is_empty()),
            other_animals: COMMON.iter().map(|common| animal(format!("more-{}", common.id), common.words.to_owned(), common.build)).collect(),
            kept: vec![
                (
                    "plants",
                    "Plants",
                    Planting::ALL.iter().map(|planting| choice("plants", planting.id().to_owned(), planting.words().to_owned())).collect(),
                ),
                ("age", "Set up", AGES.iter().map(|(id, words, _)| choice("age", (*id).to_owned(), (*words).to_owned())).collect()),
                ("every", "Water is changed", INTERVALS.iter().map(|(days, words)| choice("every", days.to_string(), (*words).to_owned())).collect()),
                ("share", "How much of it", SHARES.iter().map(|share| choice("share", share.to_string(), format!("{share} %"))).collect()),
            ],
            assumed: assumed(&tank, units),
            refusals,
            units: units.code(),
        }
    }

    /// What stands in a field for a size while nothing is typed: the set-up's own.
    fn usual(&self, name: &str) -> String {
        let tank = start::by_id(self.start).map(Start::tank).unwrap_or_default();
        let units = Units::from_code(&self.units).unwrap_or_default();
        let length = match name {
            "length" => tank.glass.length,
            "width" => tank.glass.width,
            _ => tank.glass.height,
        };
        plain((units.of(Length::UNITS).from_base(length.as_cm()) * 10.0).round() / 10.0)
    }

    /// The same for the flow of a filter.
    fn usual_flow(&self, name: &str) -> String {
        let tank = start::by_id(self.start).map(Start::tank).unwrap_or_default();
        let units = Units::from_code(&self.units).unwrap_or_default();
        let filter = tank.filters.iter().find(|filter| filter_field(filter) == name);
        filter.map_or_else(String::new, |filter| plain(units.of(FlowRate::UNITS).from_base(filter.rated.as_litres_per_hour()).round()))
    }
}

/// A filter alone in its tank.
fn picture(tank: &Tank, filter: &Filter) -> String {
    let mut alone = Tank { stock: Vec::new(), ..tank.clone() };
    alone.plants.planting = Planting::None;
    alone.things.retain(|thing| thing.what.form().filter().is_some_and(|owner| owner.0 == filter.number.0));
    draw(&alone, Mood::AtEase)
}

/// What is not asked, with the values that stay.
fn assumed(tank: &Tank, units: &Units) -> Vec<(&'static str, String)> {
    let media: Vec<&str> = tank.filters.iter().flat_map(Filter::media).map(|portion| portion.medium.words()).collect();
    vec![
        ("Water temperature", units.print(tank.temperature.as_celsius(), reed_core::units::Temperature::UNITS, 0)),
        ("Bed", format!("{} of {}", units.print(tank.bed.depth.as_cm(), Length::UNITS, 0), tank.bed.substrate.words())),
        ("The surface shows", tank.surface.words().to_owned()),
        ("Media in the filters", if media.is_empty() { "none".to_owned() } else { media.join(", ") }),
        ("Where things stand", "as on the drawing, scaled to your size".to_owned()),
        ("Feed per day", "as much for its animals as in the set-up".to_owned()),
        ("Light", format!("{:.0} hours a day", tank.plants.light.as_hours())),
    ]
}
