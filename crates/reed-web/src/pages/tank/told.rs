//! What a beginner tells of a new tank, made into a tank: the set-up with what was told, and the
//! rest kept as assumed.

use std::collections::{BTreeSet, HashMap};

use jiff::ToSpan;
use jiff::civil::Date;
use reed_core::document::start::Start;
use reed_core::field::{Described, Field};
use reed_core::tank::{Assumed, COMMON, Filter, Glass, Planting, StockGroup, Tank};
use reed_core::units::{
    FlowRate, Length, Mass, Percent, Quantity, Refusal, Unit, Units, accepted_amount, read_amount,
};

use crate::forms::Carried;

/// How long ago a tank was set up, and how many days that is taken as.
pub(super) const AGES: [(&str, &str, i32); 5] = [
    ("days", "some days ago", 3),
    ("weeks", "two to four weeks ago", 21),
    ("months", "one to three months ago", 60),
    ("half-year", "three months to a year ago", 200),
    ("years", "more than a year ago", 730),
];
/// How often water is changed, days.
pub(super) const INTERVALS: [(u32, &str); 5] = [
    (3, "every three days"),
    (7, "every week"),
    (14, "every two weeks"),
    (30, "every month"),
    (120, "hardly ever"),
];
/// How much is changed, percent.
pub(super) const SHARES: [u32; 5] = [10, 20, 30, 50, 75];

/// What is never asked here.
const NOT_ASKED: [&str; 7] = [
    "bed",
    "temperature_c",
    "surface",
    "things",
    "filters",
    "feed_g_per_day",
    "feed_protein_percent",
];

/// What was typed, by field.
#[derive(Default)]
pub(super) struct Typed(pub(super) HashMap<String, String>);

impl Typed {
    pub(super) fn at(&self, name: &str) -> &str {
        self.0.get(name).map_or("", |text| text.trim())
    }

    pub(super) fn carried(&self) -> Carried {
        Carried {
            units: self.at("units").to_owned(),
            zone: self.at("zone").to_owned(),
        }
    }
}

pub(super) fn field_of(fields: &'static [Field], key: &str) -> &'static Field {
    fields
        .iter()
        .find(|field| field.key == key)
        .expect("a field of this part")
}

/// The sides of the glass: name of the field, key of the part.
pub(super) const SIDES: [(&str, &str); 3] = [
    ("length", "length_cm"),
    ("width", "width_cm"),
    ("height", "height_cm"),
];

pub(super) fn filter_field(filter: &Filter) -> String {
    format!("filter-{}", filter.number)
}

/// An amount as typed; empty it is as before.
fn amount(
    typed: &Typed,
    name: &str,
    field: &Field,
    units: (&'static [Unit], &Units),
    before: f64,
) -> Result<f64, Refusal> {
    let text = typed.at(name);
    let usual = units.1.of(units.0);
    if text.is_empty() {
        return Ok(before);
    }
    let (low, high) = field.range;
    let read = read_amount(text, units.0, usual).filter(|value| (low..=high).contains(value));
    read.ok_or_else(|| {
        Refusal::new(
            name,
            field.label,
            text,
            accepted_amount(low, high, units.0, usual),
        )
    })
}

/// The set-up with what was told of it.
pub(super) fn tank_of(
    start: &Start,
    typed: &Typed,
    today: Date,
    units: &Units,
) -> Result<Tank, Vec<Refusal>> {
    let before = start.tank();
    let mut refused = Vec::new();
    let glass = [before.glass.length, before.glass.width, before.glass.height];
    let [length, width, height] = [0, 1, 2].map(|side| {
        let (name, key) = SIDES[side];
        amount(
            typed,
            name,
            field_of(Glass::FIELDS, key),
            (Length::UNITS, units),
            glass[side].as_cm(),
        )
        .unwrap_or_else(|refusal| {
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
        match amount(
            typed,
            &name,
            field_of(Filter::FIELDS, "rated_l_per_h"),
            (FlowRate::UNITS, units),
            filter.rated.as_litres_per_hour(),
        ) {
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
    assumed.extend(kept(&mut tank, typed, today));
    let name = typed.at("name");
    name.clone_into(&mut tank.name);
    tank.assumed = Assumed(assumed.into_iter().map(str::to_owned).collect());
    if refused.is_empty() {
        // What no field here can mend is named with the whole tank.
        refused.extend(tank.refusals(units).into_iter().map(
            |refusal| match refusal.field.as_str() {
                "/name" => Refusal {
                    field: "name".to_owned(),
                    ..refusal
                },
                _ => Refusal {
                    field: "height".to_owned(),
                    ..refusal
                },
            },
        ));
    }
    if refused.is_empty() {
        Ok(tank)
    } else {
        Err(refused)
    }
}

/// How it is kept, as far as it was told; keys of what was not.
fn kept(tank: &mut Tank, typed: &Typed, today: Date) -> Vec<&'static str> {
    let mut assumed = Vec::new();
    match Planting::by_id(typed.at("plants")) {
        Some(planting) => tank.plants.planting = planting,
        None => assumed.push("plants"),
    }
    match AGES.iter().find(|(id, ..)| *id == typed.at("age")) {
        Some((_, _, days)) => tank.set_up = today.checked_sub(days.days()).ok(),
        None => assumed.push("set_up"),
    }
    match (
        typed.at("every").parse().ok(),
        typed.at("share").parse::<u32>().ok(),
    ) {
        (Some(days), Some(share))
            if INTERVALS.iter().any(|(known, _)| *known == days) && SHARES.contains(&share) =>
        {
            tank.practice.change_every_days = days;
            tank.practice.change_share = Percent::of(f64::from(share));
        }
        _ => assumed.push("practice"),
    }
    assumed
}

/// Counts are whole and no more than this.
const MOST_ANIMALS: u32 = 100_000;

/// The animals that were counted: those of the set-up, and others.
fn animals(before: &Tank, typed: &Typed) -> Result<Vec<StockGroup>, Vec<Refusal>> {
    let mut refused = Vec::new();
    let mut stock = Vec::new();
    let mut count = |name: &str, label: &str| match typed.at(name) {
        "" | "0" => 0,
        text => text
            .parse()
            .ok()
            .filter(|count| *count <= MOST_ANIMALS)
            .unwrap_or_else(|| {
                refused.push(Refusal::new(
                    name,
                    label,
                    text,
                    format!("Give a whole number, up to {MOST_ANIMALS}, or nothing."),
                ));
                0
            }),
    };
    for (index, group) in before.stock.iter().enumerate() {
        let as_there =
            typed.at("animals") == "set-up" && typed.at(&format!("own-{index}")).is_empty();
        let count = if as_there {
            group.count
        } else {
            count(&format!("own-{index}"), &group.name)
        };
        stock.push(StockGroup {
            count,
            ..group.clone()
        });
    }
    stock.extend(
        COMMON
            .iter()
            .map(|common| common.group(count(&format!("more-{}", common.id), common.words))),
    );
    stock.retain(|group| group.count > 0);
    if refused.is_empty() {
        Ok(stock)
    } else {
        Err(refused)
    }
}
