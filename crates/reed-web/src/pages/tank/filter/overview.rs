//! What is in a filter, what flows through it, how full it is, and what it looked like.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State as AppState};
use reed_core::filter::clogging::{HARD_LIMIT_DAYS, Next, OPEN_AT_FLOW, SetBy, WhatIf, what_if};
use reed_core::filter::judged::consequence;
use reed_core::filter::load::caught_by_flow;
use reed_core::filter::{Clogging, State};
use reed_core::tank::{At, Filter, IntervalSchool};
use reed_core::twin::numbers::Capacity;
use reed_core::units::{Quantity as _, Volume};
use reed_store::{Connection, StoreError, TankId, entries, photos};

use super::bucket::BucketInput;
use super::order::place_words;
use super::{Asked, AskedFilter, Part, PartFrame, Seen};
use crate::error::PageError;
use crate::forms::Refusals;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, Opened, cutaway, percent, when_of};

#[derive(Template, WebTemplate)]
#[template(path = "pages/filter/inside.html")]
pub(super) struct FilterPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    seen: Option<FilterView>,
}

struct FilterView {
    number: u32,
    name: String,
    kind: &'static str,
    path: &'static str,
    drawing: String,
    stops: Vec<StopView>,
    wrong: Vec<WrongView>,
    mends: bool,
    due: Due,
    gauges: Vec<Opened>,
    what_if: Vec<String>,
    record: Vec<RecordLine>,
    bucket: BucketInput,
    refusals: Refusals,
    bucket_says: Vec<String>,
}

/// A stop of the water, with its media.
struct StopView {
    place: usize,
    name: String,
    fill: String,
    drop: String,
    media: Vec<MediumView>,
    /// Where a medium that is put last here goes.
    end: String,
}

struct MediumView {
    words: String,
    is_full_first: bool,
    here: String,
    /// Where it would go one earlier or later; nothing at the ends of the way.
    earlier: Option<String>,
    later: Option<String>,
}

struct WrongView {
    words: String,
    where_: String,
    reason: &'static str,
    costs: Option<String>,
}

/// When it is to be opened next.
struct Due {
    says: String,
    why: String,
    /// What is known of its dirt, where the keeper opens it by another rule.
    by_dirt: Option<String>,
    is_late: bool,
}

/// An opening or a bucket test on record.
struct RecordLine {
    entry: i64,
    when: String,
    words: String,
    lines: Vec<String>,
    note: String,
    photos: Vec<(i64, u32, u32)>,
}

pub(super) async fn show(
    AppState(app): AppState<App>,
    Id(id): Id<TankId>,
    Query(asked): AskedFilter,
) -> Result<FilterPage, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| FilterPage::read(db, id, asked, now, None))
        .await
}

impl FilterPage {
    pub(super) fn read(
        db: &Connection,
        id: TankId,
        asked: Asked,
        now: jiff::civil::DateTime,
        typed: Option<(BucketInput, Refusals)>,
    ) -> Result<Self, StoreError> {
        let seen = Seen::read(db, id, asked, now)?;
        let (frame, part) = seen.framed(Part::Inside);
        let view = match &seen.filter {
            Some((filter, state)) => Some(FilterView::of(db, &seen, filter, state, typed)?),
            None => None,
        };
        Ok(Self {
            frame,
            part,
            id,
            seen: view,
        })
    }
}

impl FilterView {
    fn of(
        db: &Connection,
        seen: &Seen,
        filter: &Filter,
        state: &State,
        typed: Option<(BucketInput, Refusals)>,
    ) -> Result<Self, StoreError> {
        let wrong: Vec<WrongView> = filter
            .misplaced()
            .into_iter()
            .map(|found| WrongView {
                words: found.wrong.words(),
                where_: found
                    .at
                    .and_then(|at| stop_name(filter, at))
                    .unwrap_or_default(),
                reason: found.wrong.reason(),
                costs: consequence(&seen.tank, filter, found.wrong),
            })
            .collect();
        let (bucket, refusals) = typed.unwrap_or_default();
        let bucket = BucketInput {
            litres: if bucket.litres.is_empty() {
                "10".to_owned()
            } else {
                bucket.litres
            },
            ..bucket
        };
        let caught = super::caught(db, seen.id, &seen.tank, filter.number)?;
        Ok(Self {
            number: filter.number.0,
            name: filter.name.clone(),
            kind: filter.kind.words(),
            path: filter.kind.path(),
            drawing: cutaway(filter, state),
            stops: stops(seen, filter, state),
            mends: filter
                .misplaced()
                .iter()
                .any(|found| found.wrong.is_mended_by_order()),
            wrong,
            due: Due::of(seen, state),
            gauges: gauges(seen, filter, state),
            what_if: what_if(
                &seen.tank,
                filter,
                caught.unwrap_or_else(|| caught_by_flow(&seen.tank, filter)),
            )
            .iter()
            .map(|what| if_words(what, state.clogging.as_ref()))
            .collect(),
            record: record(db, seen, filter)?,
            bucket,
            refusals,
            bucket_says: bucket_says(seen, filter, state),
        })
    }
}

fn stop_name(filter: &Filter, at: At) -> Option<String> {
    let path = filter.path();
    path.into_iter()
        .find(|stop| stop.at == at)
        .map(|stop| stop.name)
}

/// The way of the water, stop by stop.
fn stops(seen: &Seen, filter: &Filter, state: &State) -> Vec<StopView> {
    let path = filter.path();
    let choked = state.clogging.as_ref().map(|clogging| clogging.bed);
    let share = state
        .clogging
        .as_ref()
        .and_then(|clogging| clogging.share)
        .map_or(0.0, |share| share.middle);
    let losses = state.plumbing.losses(state.flow, choked, share);
    let laid = || state.plumbing.beds.iter().zip(&losses).enumerate();
    // Every place of a medium along the way, so that one can be moved to the next.
    let places: Vec<(At, usize)> = path
        .iter()
        .flat_map(|stop| (0..stop.media.len()).map(move |medium| (stop.at, medium)))
        .collect();
    let views = path.iter().enumerate().map(|(place, stop)| {
        let media = stop.media.iter().enumerate().map(|(medium, portion)| {
            let own = places.iter().position(|own| *own == (stop.at, medium));
            let grain = portion
                .grain
                .map_or_else(String::new, |grain| format!(", {} mm", grain.as_mm()));
            let litres = seen
                .units
                .print(portion.litres.as_litres(), Volume::UNITS, 1);
            // Within a stop it goes before the one above it; past its end into the next stop.
            let earlier = if medium > 0 {
                Some((stop.at, medium - 1))
            } else {
                place
                    .checked_sub(1)
                    .map(|before| (path[before].at, path[before].media.len()))
            };
            let later = if medium + 1 < stop.media.len() {
                Some((stop.at, medium + 1))
            } else {
                path.get(place + 1).map(|after| (after.at, 0))
            };
            MediumView {
                words: format!("{litres} {}{grain}", portion.medium.words()),
                is_full_first: own.is_some_and(|_| {
                    laid().any(|(index, (laid, _))| {
                        Some(index) == choked && laid.at == stop.at && laid.portion == medium
                    })
                }),
                here: place_words(stop.at, medium),
                earlier: earlier.map(|(at, medium)| place_words(at, medium)),
                later: later.map(|(at, medium)| place_words(at, medium)),
            }
        });
        let drop: f64 = laid()
            .filter(|(_, (laid, _))| laid.at == stop.at)
            .map(|(_, (_, loss))| *loss)
            .sum();
        StopView {
            place: place + 1,
            name: stop.name.clone(),
            fill: stop
                .fill()
                .map_or_else(String::new, |fill| format!("{} full", percent(fill))),
            drop: format!("{:.0} mm", 1000.0 * drop),
            media: media.collect(),
            end: place_words(stop.at, stop.media.len()),
        }
    });
    views.collect()
}

impl Due {
    fn of(seen: &Seen, state: &State) -> Self {
        let Some(next) = &state.next else {
            return Self {
                says: "Enter when you opened it last, and what it looked like: from then on the next opening is reckoned.".to_owned(),
                why: String::new(),
                by_dirt: None,
                is_late: false,
            };
        };
        let today = seen.now.date();
        let day = |day: jiff::civil::Date| day.strftime("%-d %B").to_string();
        let is_past = next.likely <= today;
        // A fixed day that has passed is no alarm while its dirt gives it time.
        let left = state.clogging.as_ref().zip(state.history.since_days);
        let dirt_gives_time =
            left.is_some_and(|(clogging, since)| clogging.lasts_days.middle > since);
        let is_fixed = matches!(next.by, SetBy::Fixed | SetBy::WaterChange);
        let is_late = is_past && !(is_fixed && dirt_gives_time);
        let says = if is_past && !is_late {
            format!(
                "By your interval it has been due since {}.",
                day(next.likely)
            )
        } else if next.to <= today {
            "Open it now: it is due.".to_owned()
        } else if is_past {
            "It may be due: open it this week.".to_owned()
        } else if next.from == next.to {
            format!("Open it about {}.", day(next.likely))
        } else {
            format!(
                "Open it between {} and {}, most likely about {}.",
                day(next.from.max(today)),
                day(next.to),
                day(next.likely)
            )
        };
        Self {
            says,
            why: why(seen, state, next),
            by_dirt: by_dirt(state, next),
            is_late,
        }
    }
}

/// When its dirt alone would ask for it.
fn by_dirt(state: &State, next: &Next) -> Option<String> {
    if !matches!(next.by, SetBy::Fixed | SetBy::WaterChange) {
        return None;
    }
    let (clogging, since) = (state.clogging.as_ref()?, state.history.since_days?);
    let left = clogging.lasts_days.middle - since;
    Some(if left > 0.0 {
        format!(
            "By its dirt it has about {left:.0} days left ({:.0} to {:.0}): opening it sooner disturbs it for nothing.",
            (clogging.lasts_days.low - since).max(0.0),
            (clogging.lasts_days.high - since).max(0.0)
        )
    } else {
        format!("By its dirt it has been due for about {:.0} days.", -left)
    })
}

/// What the day of the next opening rests on.
fn why(seen: &Seen, state: &State, next: &Next) -> String {
    let learned = state
        .clogging
        .as_ref()
        .map_or(0, |clogging| clogging.learned_from + clogging.measured);
    let by = match next.by {
        SetBy::HardLimit => format!("No filter is left longer than {HARD_LIMIT_DAYS:.0} days here, however clean it seems."),
        SetBy::Fixed => "At a fixed interval, as you keep it.".to_owned(),
        SetBy::WaterChange => "Its sponge is squeezed at each water change, as you keep it.".to_owned(),
        SetBy::Dirt if learned == 0 => "Reckoned from feed, media and what the intake catches, right to a factor of two. Each graded opening and each bucket test narrows it down.".to_owned(),
        SetBy::Dirt => format!("Learned from {learned} graded openings and bucket tests, and from what is fed."),
    };
    if seen.tank.practice.interval == IntervalSchool::OnFlow && next.by == SetBy::Dirt {
        return format!(
            "When its flow should have fallen to {:.0} %. {by}",
            100.0 * OPEN_AT_FLOW
        );
    }
    by
}

fn if_words(what: &WhatIf, clogging: Option<&Clogging>) -> String {
    let days = clogging.map_or(0.0, |clogging| clogging.lasts_days.middle) * what.factor;
    format!(
        "{}: {:.1} times as long, about {days:.0} days between openings",
        what.words, what.factor
    )
}

/// The gauges, each with its formula and what went into it.
fn gauges(seen: &Seen, filter: &Filter, state: &State) -> Vec<Opened> {
    let mut gauges = Vec::new();
    let taken: Vec<String> = state
        .plumbing
        .taken
        .iter()
        .map(|taken| format!("{} {}", taken.what, taken.value))
        .collect();
    let taken = if taken.is_empty() {
        String::new()
    } else {
        format!(" Taken, as nobody said: {}.", taken.join("; "))
    };
    let litres = seen.tank.net_volume().as_litres();
    let how = if filter.measured.is_some() {
        "by bucket"
    } else {
        "60 % of the label, until you measure it"
    };
    gauges.push(Opened::new(
        "Flow now",
        format!(
            "{}, {:.1} × an hour",
            seen.flow(state.flow),
            state.flow / litres
        ),
        "V̇ · 1 h / V",
        format!("{how}; {litres:.0} L of water. By it flow, oxygen and nitrogen are reckoned."),
        "the bucket test, or common practice",
    ));
    let clean = if state.clean_is_measured {
        "measured just after an opening".to_owned()
    } else {
        format!("computed from pump, hoses and media.{taken}")
    };
    gauges.push(Opened::new(
        "Flow clean",
        seen.flow(state.clean),
        "pump’s head = hoses + beds: Darcy–Weisbach with Colebrook, Ergun, Darcy–Forchheimer",
        clean,
        "Colebrook 1939, Ergun 1952, Forchheimer 1901; widths and permeabilities from memory",
    ));
    if let Some(clogging) = &state.clogging {
        let value = clogging.share.map_or_else(
            || "not known".to_owned(),
            |share| {
                format!(
                    "{}, {} to {}",
                    percent(share.middle),
                    percent(share.low),
                    percent(share.high)
                )
            },
        );
        let medium = state
            .first_medium(filter)
            .map_or("", reed_core::tank::Medium::words);
        gauges.push(Opened::new(
            "Fine ways filled",
            value,
            "days fed since the opening / days that fill it; ways narrower by s take (1 − s)⁻³ as much",
            format!(
                "four in five should lie in that range. {medium} fills first; {:.2} g of dirt come in a day; it should be opened at {}, which is {:.0} days from clean. At what it holds now {} of the clean flow is left: a flow that has not dropped proves no clean filter.",
                state.load.g_per_day, percent(clogging.open_at), clogging.lasts_days.middle, percent(clogging.flow_left)
            ),
            "Kozeny 1927; what media catch and hold from memory; your openings overrule it",
        ));
    }
    if let Some(margin) = state.margin_kpa {
        gauges.push(Opened::new(
            "Margin before gas comes out",
            format!("{margin:.1} ± 5 kPa"),
            "ρ g · depth of the pump − losses before it + (100 % − total gas) · air pressure",
            format!(
                "the pump {} below the surface; {}",
                seen.length(100.0 * state.plumbing.pump_depth),
                state
                    .pressed
                    .iter()
                    .map(|place| format!("{} {:.1} kPa", place.place.to_lowercase(), place.kpa))
                    .collect::<Vec<_>>()
                    .join("; ")
            ),
            "hydrostatics, Henry 1803; ± from memory. A positive margin acquits nobody",
        ));
    }
    let capacity = Capacity::of(&seen.tank);
    let own: f64 = filter
        .media()
        .map(reed_core::tank::Portion::surface_m2)
        .sum();
    let need = capacity.need_m2();
    let value = if need > 0.0 {
        format!("{:.1} × the feed", own / need)
    } else {
        format!("{own:.1} m²")
    };
    gauges.push(Opened::new(
        "Its bacteria carry",
        value,
        "Σ litres · m² per litre",
        format!(
            "{own:.1} m² in it; the whole tank has {:.1} m² and needs {need:.1} m²",
            capacity.have_m2()
        ),
        "surfaces from memory",
    ));
    gauges
}

fn bucket_says(seen: &Seen, filter: &Filter, state: &State) -> Vec<String> {
    let mut says = Vec::new();
    if let (Some(measured), Some(left)) = (filter.measured, filter.flow_left()) {
        says.push(format!(
            "{} at the last test, {} of the clean {}.",
            seen.flow(measured.as_litres_per_hour()),
            percent(left),
            seen.flow(state.clean)
        ));
    } else if let Some(measured) = filter.measured {
        says.push(format!("{} at the last test. Measure once within three days of an opening: what it loses later is judged by that.", seen.flow(measured.as_litres_per_hour())));
    } else {
        says.push(
            "Not measured yet: flow, oxygen and nitrogen reckon with 60 % of the label.".to_owned(),
        );
    }
    if let Some(litres) = state.clean.is_normal().then_some(state.clean) {
        says.push(format!(
            "Clean, ten litres should take about {:.0} seconds.",
            10.0 / litres * 3600.0
        ));
    }
    says
}

/// Openings and bucket tests, the latest first, with grades and photos.
fn record(db: &Connection, seen: &Seen, filter: &Filter) -> Result<Vec<RecordLine>, StoreError> {
    const SHOWN: usize = 8;
    const KINDS: [&str; 5] = [
        "filter-opened",
        "bucket-test",
        "tap-rinse",
        "new-media",
        "seals-renewed",
    ];
    let only = seen.tank.filters.len() == 1;
    let is_own = |on: &reed_core::log::On| match on {
        reed_core::log::On::Filter(number) => *number == filter.number,
        reed_core::log::On::Tank => only,
        reed_core::log::On::Group(_) => false,
    };
    let mut kept = entries::of_kinds(db, seen.id, &KINDS)?;
    kept.retain(|kept| is_own(&kept.entry.on) && kept.entry.when.from <= seen.now);
    let latest = kept.iter().rev().take(SHOWN);
    latest
        .map(|kept| {
            let photos = photos::of_entry(db, seen.id, kept.id)?;
            Ok(RecordLine {
                entry: kept.id.0,
                when: when_of(&kept.entry.when, seen.now),
                words: kept.entry.words(&seen.units),
                lines: kept.entry.details.lines(&seen.units),
                note: kept.entry.note.clone(),
                photos: photos
                    .into_iter()
                    .filter(|photo| !photo.is_struck())
                    .map(|photo| (photo.id.0, photo.width, photo.height))
                    .collect(),
            })
        })
        .collect()
}

impl WrongView {
    /// Where it is, said after a comma.
    fn place(&self) -> String {
        if self.where_.is_empty() {
            String::new()
        } else {
            format!(" ({})", self.where_)
        }
    }
}
