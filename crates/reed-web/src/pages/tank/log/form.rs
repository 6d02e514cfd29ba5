//! An entry of the log as it is typed, and the form for it.

use std::collections::HashMap;

use jiff::civil::DateTime;
use reed_core::log::{
    Cleaned, Details, Entry, Happening, How, LONGEST_NOTE, Layer, On, OnWhat, WORST_GRADE,
    WaterInside, When,
};
use reed_core::tank::{Analyte, Serial, Tank};
use reed_core::units::{Lies, Refusal, Units, plain, read_amount};
use reed_store::PhotoId;
use serde::Deserialize;

use crate::clock::Moment;
use crate::forms::{Carried, Refusals, WHEN_ACCEPTED};

/// An entry as typed.
#[derive(Clone, Default, Deserialize)]
#[serde(default)]
pub(in crate::pages::tank) struct EntryInput {
    /// Id of the kind.
    pub(in crate::pages::tank) what: String,
    pub(in crate::pages::tank) amount: String,
    /// When, in words or as a date; nothing is now.
    pub(in crate::pages::tank) at: String,
    /// `filter-2`, `group-Name`; anything else is the tank.
    pub(super) on: String,
    pub(in crate::pages::tank) note: String,
    pub(super) by: String,
    /// Temperature of a refill.
    pub(super) refill: String,
    /// `yes`, `no`, or nothing.
    pub(super) conditioned: String,
    /// Id of a colour of the water inside.
    pub(super) inside: String,
    /// Of lost animals: their length, and what was seen on them.
    pub(super) size: String,
    pub(super) signs: String,
    pub(super) cost: String,
    /// What it makes true of the tank goes into the tank file too.
    pub(super) in_tank: String,
    /// From which page it is sent, to which it goes back.
    pub(in crate::pages::tank) back: String,
    /// `grade-` with a layer, `tray-` and `photo-` with a number; and what else a form carries.
    #[serde(flatten)]
    pub(super) more: HashMap<String, String>,
}

/// Planned no further ahead than this, and happened no longer ago, days.
const FURTHEST_AHEAD_DAYS: i64 = 366;
const LONGEST_AGO_DAYS: i64 = 366 * 40;

/// When it happened or is planned.
pub(in crate::pages::tank) fn moment(
    text: &str,
    now: &Moment,
    carried: &Carried,
) -> Result<When, Refusal> {
    let when = carried
        .when(text, now, Lies::Either)
        .ok_or_else(|| Refusal::new("at", "When", text, WHEN_ACCEPTED))?;
    let hours = |at: DateTime| at.duration_since(now.wall).as_hours();
    if hours(when.from) > 24 * FURTHEST_AHEAD_DAYS || hours(when.to) < -24 * LONGEST_AGO_DAYS {
        return Err(Refusal::new(
            "at",
            "When",
            text,
            "Give a day and an hour, no more than a year ahead and forty years ago.",
        ));
    }
    Ok(when)
}

/// The kind that is meant, and the amount as typed; `None` where none was typed and none is needed.
pub(in crate::pages::tank) fn kind_and_amount(
    id: &str,
    amount: &str,
    units: &Units,
) -> Result<(&'static Happening, Option<f64>), Refusal> {
    let unknown = || Refusal::new("what", "What", id, "Choose one from the list.");
    let kind = Happening::by_id(id).ok_or_else(unknown)?;
    let Some(measure) = kind.amount else {
        return Ok((kind, None));
    };
    let own = measure.unit_for(units);
    // What does something to the water does so by its amount.
    if amount.trim().is_empty() && (kind.does.is_none() || measure.usual.is_some()) {
        return Ok((kind, None));
    }
    let value = match own {
        Some(own) => read_amount(amount, Analyte::AMMONIA.units, own),
        None => amount
            .trim()
            .trim_end_matches('%')
            .trim()
            .replace(',', ".")
            .parse::<f64>()
            .ok(),
    };
    let value = value.filter(|value| (measure.low..=measure.high).contains(value));
    let [least, most] = [measure.low, measure.high].map(|limit| {
        plain((own.map_or(limit, |own| own.from_base(limit)) * 100.0).round() / 100.0)
    });
    let accepted = format!(
        "Give a number from {least} to {most} {}.",
        own.map_or(measure.unit, |own| own.symbol)
    );
    let value = value.ok_or_else(|| Refusal::new("amount", kind.label, amount, accepted))?;
    Ok((kind, Some(value)))
}

impl EntryInput {
    /// A change of a fifth, now; sent from the Water page.
    pub(in crate::pages::tank) fn of_water() -> Self {
        Self {
            what: "change".to_owned(),
            amount: "20".to_owned(),
            back: "water".to_owned(),
            ..Self::default()
        }
    }

    /// What the form carries unseen.
    pub(in crate::pages::tank) fn carried(&self) -> Carried {
        let of = |name: &str| self.more.get(name).cloned().unwrap_or_default();
        Carried {
            units: of("units"),
            zone: of("zone"),
        }
    }

    /// An entry that is kept, to be corrected.
    pub(super) fn of_entry(entry: &Entry, units: &Units) -> Self {
        let measure = entry.kind().and_then(|kind| kind.amount);
        let amount = measure.zip(entry.amount).map(|(measure, amount)| {
            let own = measure.unit_for(units);
            plain(own.map_or(amount, |own| own.from_base(amount)))
        });
        let details = &entry.details;
        let mut more = HashMap::new();
        for (layer, grade) in &details.grades {
            more.insert(format!("grade-{}", layer.id()), grade.to_string());
        }
        for cleaned in &details.cleaned {
            more.insert(
                format!("tray-{}", cleaned.tray),
                cleaned.how.id().to_owned(),
            );
        }
        Self {
            what: entry.happening.clone(),
            amount: amount.unwrap_or_default(),
            at: said(&entry.when),
            on: match &entry.on {
                On::Tank => String::new(),
                On::Filter(number) => format!("filter-{number}"),
                On::Group(name) => format!("group-{name}"),
            },
            note: entry.note.clone(),
            by: details.by.clone(),
            refill: details.refill_c.map_or_else(String::new, |celsius| {
                plain(units.of(Analyte::TEMPERATURE.units).from_base(celsius))
            }),
            conditioned: match details.conditioned {
                Some(true) => "yes".to_owned(),
                Some(false) => "no".to_owned(),
                None => String::new(),
            },
            inside: details
                .inside
                .map_or_else(String::new, |inside| inside.id().to_owned()),
            size: details.size_cm.map_or_else(String::new, plain),
            signs: details.signs.join(", "),
            cost: details.cost.map_or_else(String::new, plain),
            in_tank: String::new(),
            back: String::new(),
            more,
        }
    }

    /// The photos that were taken in for it.
    pub(super) fn photos(&self) -> Vec<PhotoId> {
        let numbers = self
            .more
            .keys()
            .filter_map(|name| name.strip_prefix("photo-"));
        let mut photos: Vec<PhotoId> = numbers
            .filter_map(|number| number.parse().ok().map(PhotoId))
            .collect();
        photos.sort_unstable();
        photos
    }

    /// Whether what it makes true of the tank goes into the tank file.
    pub(super) fn is_for_the_tank(&self) -> bool {
        !self.in_tank.is_empty()
    }

    /// Makes sense of what was typed; every field that makes none is named.
    pub(super) fn parse(
        &self,
        now: &Moment,
        chosen: &Units,
        tank: &Tank,
    ) -> Result<Entry, Refusals> {
        let carried = self.carried();
        let units = carried.units(*chosen);
        let mut refused = Vec::new();
        let mut keep = |refusal: Refusal| refused.push(refusal);
        let kind = kind_and_amount(&self.what, &self.amount, &units)
            .map_err(&mut keep)
            .ok();
        let when = moment(&self.at, now, &carried).map_err(&mut keep).ok();
        let on = self.target(tank).map_err(&mut keep).ok();
        let details = self.details(&units, &mut keep);
        let note = self.note.trim().to_owned();
        if note.chars().count() > LONGEST_NOTE {
            keep(Refusal::new(
                "note",
                "Note",
                "what was typed",
                format!("Give at most {LONGEST_NOTE} letters."),
            ));
        }
        if let (Some((kind, _)), Some(when)) = (kind, when)
            && Entry::of(kind, when).is_yet_to_come(now.wall)
        {
            keep(Refusal::new(
                "at",
                "When",
                &self.at,
                "That is in the future, and nobody plans it: give the day on which it happened.",
            ));
        }
        match (kind, when, on) {
            (Some((kind, amount)), Some(when), Some(on)) if refused.is_empty() => Ok(Entry {
                amount,
                on: if kind.on == OnWhat::Tank {
                    On::Tank
                } else {
                    on
                },
                note,
                details,
                ..Entry::of(kind, when)
            }),
            _ => Err(Refusals::of(refused)),
        }
    }

    fn target(&self, tank: &Tank) -> Result<On, Refusal> {
        let refuse = |accepted: &str| Refusal::new("on", "On what", &self.on, accepted);
        if let Some(number) = self.on.strip_prefix("filter-") {
            let number = number.parse().ok().map(Serial);
            let known =
                number.filter(|number| tank.filters.iter().any(|filter| filter.number == *number));
            return known
                .map(On::Filter)
                .ok_or_else(|| refuse("This tank has no such filter. Choose one from the list."));
        }
        if let Some(name) = self.on.strip_prefix("group-") {
            return if tank.stock.iter().any(|group| group.name == name) {
                Ok(On::Group(name.to_owned()))
            } else {
                Err(refuse(
                    "This tank has no such group. Choose one from the list.",
                ))
            };
        }
        Ok(On::Tank)
    }

    fn details(&self, units: &Units, keep: &mut impl FnMut(Refusal)) -> Details {
        let mut number = |name: &'static str, label: &'static str, text: &str, high: f64| {
            let text = text.trim();
            if text.is_empty() {
                return None;
            }
            let value = text.replace(',', ".").parse::<f64>().ok();
            let value = value.filter(|value| (0.0..=high).contains(value));
            if value.is_none() {
                keep(Refusal::new(
                    name,
                    label,
                    text,
                    format!("Give a number from 0 to {}.", plain(high)),
                ));
            }
            value
        };
        let celsius = units.of(Analyte::TEMPERATURE.units);
        let refill = number("refill", "Temperature of the refill", &self.refill, 120.0);
        let size_cm = number("size", "Length", &self.size, 500.0);
        let cost = number("cost", "Cost", &self.cost, 1e6);
        let graded = |layer: &Layer| {
            let grade = self
                .more
                .get(&format!("grade-{}", layer.id()))?
                .parse()
                .ok()?;
            (grade <= WORST_GRADE).then_some((*layer, grade))
        };
        let mut cleaned: Vec<Cleaned> = self
            .more
            .iter()
            .filter_map(|(name, how)| {
                let tray = name.strip_prefix("tray-")?.parse().ok()?;
                let how = How::by_id(how)?;
                Some(Cleaned { tray, how })
            })
            .collect();
        cleaned.sort_by_key(|cleaned| cleaned.tray);
        Details {
            by: short(&self.by),
            grades: Layer::ALL.iter().filter_map(graded).collect(),
            inside: WaterInside::by_id(&self.inside),
            cleaned,
            refill_c: refill.map(|typed| celsius.to_base(typed)),
            conditioned: match self.conditioned.as_str() {
                "yes" => Some(true),
                "no" => Some(false),
                _ => None,
            },
            signs: self
                .signs
                .split(',')
                .map(short)
                .filter(|sign| !sign.is_empty())
                .collect(),
            size_cm,
            cost,
            // What is said of tasks is said on Routine, and not corrected but withdrawn; what was
            // measured or heard stays as it was.
            ..Details::default()
        }
    }
}

/// A few words, trimmed to what a line holds.
fn short(words: &str) -> String {
    const MOST: usize = 80;
    words.trim().chars().take(MOST).collect()
}

/// When, so that the form reads the same from it.
fn said(when: &When) -> String {
    if when.is_a_day() {
        when.from.date().to_string()
    } else {
        when.likely().strftime("%Y-%m-%d %H:%M").to_string()
    }
}
