//! What effects do to the nitrogen of a tank, and when.

use jiff::SignedDuration;
use jiff::civil::DateTime;

use super::reached::Reached;
use super::setting::Setting;
use crate::figure::Figure;
use crate::log::{Effect, Entry};
use crate::tank::{Medium, PerSpecies, Species, Tank};
use crate::units::days_of;

/// Share of its bacteria that a medium loses under the tap.
pub const LOST_UNDER_TAP: Figure = Figure::from_memory(0.6);
/// Share of both colonies that a medicine against bacteria costs.
pub const LOST_TO_MEDICINE: Figure = Figure::from_memory(0.5);
/// Share of both that chlorinated tap water costs.
pub const LOST_TO_CHLORINE: Figure = Figure::from_memory(0.4);
/// Hours that a standing filter does no harm, and in which after that all in it dies.
pub const STANDING_H: [Figure; 2] = [Figure::from_memory(4.0), Figure::from_memory(30.0)];

/// Makes an effect happen. `settled` are the colonies of which a seed is a share; harm hits so many
/// times as hard as thought, as a power of what it leaves.
pub(super) fn happen(
    effect: Effect,
    reached: &mut Reached,
    setting: &Setting,
    settled: [f64; 2],
    harm: f64,
) {
    let hit = |left: f64| [left.max(1e-3).powf(harm); 2];
    let of_media = |lost: f64| hit(1.0 - setting.in_filters * lost.clamp(0.0, 1.0));
    let state = &mut reached.state;
    match effect {
        Effect::Change(share) => state.change_water(share, &setting.tap),
        Effect::Skip | Effect::Binder | Effect::Bottle => {}
        Effect::TapRinse(share) => state.thin(of_media(share * LOST_UNDER_TAP.value)),
        Effect::NewMedia(share) => state.thin(of_media(share)),
        Effect::Medicine => state.thin(hit(1.0 - LOST_TO_MEDICINE.value)),
        Effect::Stop(hours) => state.thin(of_media(
            (hours - STANDING_H[0].value) / STANDING_H[1].value,
        )),
        Effect::Chlorine => state.thin(hit(1.0 - LOST_TO_CHLORINE.value)),
        Effect::Seed(share) => {
            state.colonies = [0, 1].map(|step| state.colonies[step] + share * settled[step]);
        }
        Effect::Dose(mg_l) => state.tan += mg_l,
        Effect::Feed(factor) => reached.feed = factor,
        Effect::FeedDays(days) => reached.feed = days / setting.fed_days,
        Effect::Animals(count) if setting.animals > 0.0 => {
            reached.feed += count / setting.animals;
        }
        Effect::Animals(_) => {}
        Effect::AmmoniaMedium(litres) => {
            reached.put_in(Species::Ammonia, Medium::AmmoniaResin, litres, setting);
        }
        Effect::NitrateMedium(litres) => {
            reached.put_in(Species::Nitrate, Medium::NitrateResin, litres, setting);
        }
        Effect::MediaOut => {
            (reached.media, state.taken) = (PerSpecies::default(), PerSpecies::default());
        }
    }
}

/// Something that happens at a time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Event {
    /// Days from now; negative is past.
    pub day: f64,
    /// What it does.
    pub effect: Effect,
}

/// Two entries of a kind so near to each other may be one thing, told twice. A judgement.
const TOLD_TWICE: SignedDuration = SignedDuration::from_hours(12);

/// Without an amount, and roughly when, another entry of its kind says how much: they are one thing,
/// told twice.
fn is_told_better(entry: &Entry, log: &[Entry]) -> bool {
    let (from, to) = (
        entry.when.from.saturating_sub(TOLD_TWICE),
        entry.when.to.saturating_add(TOLD_TWICE),
    );
    let says_it = |other: &Entry| {
        let at = other.when.likely();
        other.happening == entry.happening && other.amount.is_some() && from <= at && at <= to
    };
    entry.amount.is_none() && log.iter().any(says_it)
}

/// What the log of a tank does to its water, as of now: with what is planned.
pub fn events_of(log: &[Entry], tank: &Tank, now: DateTime) -> Vec<Event> {
    let counts = |entry: &&Entry| !is_told_better(entry, log);
    let of_entry = |entry: &Entry| {
        let day = days_of(entry.when.likely().duration_since(now));
        let effects = entry.effects(tank).into_iter();
        effects.map(move |effect| Event { day, effect })
    };
    log.iter().filter(counts).flat_map(of_entry).collect()
}

/// How long a binder holds what it bound, days: a day or two by their makers.
pub const BOUND_DAYS: Figure = Figure::from_memory(2.0);

/// On a day, readings of a species say nothing: a medium takes it, or a binder holds it.
pub fn is_masked(setting: &Setting, known: &[Event], species: Species, day: f64) -> bool {
    let own = setting.masked[species].is_some_and(|since| day >= since);
    let last = |is: &dyn Fn(Effect) -> bool| {
        known
            .iter()
            .filter(|event| event.day <= day && is(event.effect))
            .map(|event| event.day)
            .fold(f64::NEG_INFINITY, f64::max)
    };
    let out = last(&|effect| effect == Effect::MediaOut);
    let medium = last(&|effect| match effect {
        Effect::AmmoniaMedium(_) => species == Species::Ammonia,
        Effect::NitrateMedium(_) => species == Species::Nitrate,
        _ => false,
    });
    let bound = species == Species::Ammonia
        && day - last(&|effect| effect == Effect::Binder) < BOUND_DAYS.value;
    let own_is_out = out.is_finite() && setting.masked[species].is_some_and(f64::is_finite);
    (own && !own_is_out) || medium > out || bound
}

/// A change that was left out is one within so many days of it. A judgement.
const SAME_DAYS: f64 = 0.6;

/// A planned change takes the place of one by habit within this share of the days between them. A
/// judgement.
const MEANT_SHARE: f64 = 0.35;

/// What is known with what habit adds, in order: changes every so many days from the last known
/// one, into the future and, where none is known, into the past.
pub fn with_habit(known: &[Event], setting: &Setting, from: f64, to: f64) -> Vec<Event> {
    let (share, every) = setting.habit;
    let every = every.max(0.5);
    let is_change = |event: &&Event| matches!(event.effect, Effect::Change(_));
    let last = known
        .iter()
        .filter(is_change)
        .map(|event| event.day)
        .filter(|day| *day <= 0.0)
        .fold(f64::NEG_INFINITY, f64::max);
    let mut all = known.to_vec();
    let skipped = |day: f64| {
        known
            .iter()
            .any(|event| event.effect == Effect::Skip && (event.day - day).abs() < SAME_DAYS)
    };
    // Who plans a change near the day of the habit's means that one.
    let meant = |day: f64| {
        known
            .iter()
            .filter(is_change)
            .any(|event| event.day > 0.0 && (event.day - day).abs() < every * MEANT_SHARE)
    };
    let mut add = |day: f64| {
        if !skipped(day) && !meant(day) {
            all.push(Event {
                day,
                effect: Effect::Change(share),
            });
        }
    };
    let anchor = if last.is_finite() { last } else { -every / 2.0 };
    let mut day = anchor + every;
    while day <= to {
        if day > 0.0 {
            add(day);
        }
        day += every;
    }
    if !last.is_finite() {
        let mut day = anchor;
        while day >= from {
            add(day);
            day -= every;
        }
    }
    all.sort_by(|one, other| one.day.total_cmp(&other.day));
    all
}
