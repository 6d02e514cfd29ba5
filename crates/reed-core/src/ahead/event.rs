//! What happens to the nitrogen of a tank, and when.

use super::setting::Setting;
use crate::figure::Figure;
use crate::water::nitrogen::cycle::State;

/// What happens.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum What {
    /// This share of the water is changed, 0 to 1.
    Change(f64),
    /// A change that habit would make is left out.
    Skip,
    /// This share of the media is rinsed under the tap.
    TapRinse(f64),
    /// This share of the media is replaced by new.
    NewMedia(f64),
    /// A medicine that harms bacteria goes into the tank.
    Medicine,
    /// The filters stand for so many hours.
    Stop(f64),
    /// Water with chlorine goes in.
    Chlorine,
    /// Mature media bring this share of a settled colony.
    Seed(f64),
    /// So much ammonia is dosed, mg N/L.
    Dose(f64),
    /// From now on so many times as much is fed.
    Feed(f64),
}

/// Share of its bacteria that a medium loses under the tap.
const LOST_UNDER_TAP: Figure = Figure::from_memory(0.6);
/// Share of both colonies that a medicine against bacteria costs.
const LOST_TO_MEDICINE: Figure = Figure::from_memory(0.5);
/// Share of both that chlorinated tap water costs.
const LOST_TO_CHLORINE: Figure = Figure::from_memory(0.4);
/// Hours that a standing filter does no harm, and in which after that all in it dies.
const STANDING_H: [Figure; 2] = [Figure::from_memory(4.0), Figure::from_memory(30.0)];

impl What {
    /// Stable ids, with what a keeper calls it and the unit of its amount; empty where it has none.
    pub const KINDS: [(&'static str, &'static str, &'static str); 10] = [
        ("change", "Water change", "%"),
        ("skip", "No change after all", ""),
        ("tap-rinse", "Media rinsed under the tap", "% of them"),
        ("new-media", "Media replaced by new", "% of them"),
        ("medicine", "Medicine against bacteria", ""),
        ("stop", "Filters stood", "h"),
        ("chlorine", "Unconditioned tap water", ""),
        ("seed", "Mature media added", "% of what the tank needs"),
        ("dose", "Ammonia dosed", "mg/L N"),
        ("feed", "Fed from then on", "times as much"),
    ];

    /// By its id and amount, in the unit that [`What::KINDS`] gives.
    pub fn by_id(id: &str, amount: f64) -> Option<Self> {
        Some(match id {
            "change" => Self::Change(amount / 100.0),
            "skip" => Self::Skip,
            "tap-rinse" => Self::TapRinse(amount / 100.0),
            "new-media" => Self::NewMedia(amount / 100.0),
            "medicine" => Self::Medicine,
            "stop" => Self::Stop(amount),
            "chlorine" => Self::Chlorine,
            "seed" => Self::Seed(amount / 100.0),
            "dose" => Self::Dose(amount),
            "feed" => Self::Feed(amount),
            _ => return None,
        })
    }

    /// Its id and amount.
    pub const fn id(self) -> (&'static str, f64) {
        match self {
            Self::Change(share) => ("change", share * 100.0),
            Self::Skip => ("skip", 0.0),
            Self::TapRinse(share) => ("tap-rinse", share * 100.0),
            Self::NewMedia(share) => ("new-media", share * 100.0),
            Self::Medicine => ("medicine", 0.0),
            Self::Stop(hours) => ("stop", hours),
            Self::Chlorine => ("chlorine", 0.0),
            Self::Seed(share) => ("seed", share * 100.0),
            Self::Dose(mg_l) => ("dose", mg_l),
            Self::Feed(factor) => ("feed", factor),
        }
    }

    /// What amounts are accepted, in the unit of [`What::KINDS`]; `None` where it has none.
    pub fn accepts(id: &str) -> Option<(f64, f64)> {
        match id {
            "change" | "tap-rinse" | "new-media" | "seed" => Some((1.0, 100.0)),
            "stop" => Some((0.5, 240.0)),
            "dose" => Some((0.1, 10.0)),
            "feed" => Some((0.0, 20.0)),
            _ => None,
        }
    }

    /// In words, with its amount.
    pub fn words(self) -> String {
        let (id, amount) = self.id();
        let (_, words, unit) = Self::KINDS.into_iter().find(|(known, ..)| *known == id).expect("every kind is listed");
        if unit.is_empty() { words.to_owned() } else { format!("{words}, {} {unit}", crate::units::plain(amount)) }
    }

    /// Makes it happen. `settled` are the colonies of which a seed is a share; harm hits so many times as hard as thought, as a power of what
    /// it leaves.
    pub(super) fn happen(self, state: &mut State, setting: &Setting, settled: [f64; 2], (feed, harm): (&mut f64, f64)) {
        let hit = |left: f64| [left.max(1e-3).powf(harm); 2];
        let of_media = |lost: f64| hit(1.0 - setting.in_filters * lost.clamp(0.0, 1.0));
        match self {
            Self::Change(share) => state.change_water(share, &setting.tap),
            Self::Skip => {}
            Self::TapRinse(share) => state.thin(of_media(share * LOST_UNDER_TAP.value)),
            Self::NewMedia(share) => state.thin(of_media(share)),
            Self::Medicine => state.thin(hit(1.0 - LOST_TO_MEDICINE.value)),
            Self::Stop(hours) => state.thin(of_media((hours - STANDING_H[0].value) / STANDING_H[1].value)),
            Self::Chlorine => state.thin(hit(1.0 - LOST_TO_CHLORINE.value)),
            Self::Seed(share) => state.colonies = [0, 1].map(|step| state.colonies[step] + share * settled[step]),
            Self::Dose(mg_l) => state.tan += mg_l,
            Self::Feed(factor) => *feed = factor,
        }
    }
}

/// Something that happens at a time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Event {
    /// Days from now; negative is past.
    pub day: f64,
    /// What.
    pub what: What,
}

/// A change that was left out is one within so many days of it.
const SAME_DAYS: f64 = 0.6;

/// What is known with what habit adds, in order: changes every so many days from the last known one, into the future and, where none
/// is known, into the past.
pub fn with_habit(known: &[Event], setting: &Setting, from: f64, to: f64) -> Vec<Event> {
    let (share, every) = setting.habit;
    let every = every.max(0.5);
    let is_change = |event: &&Event| matches!(event.what, What::Change(_));
    let last = known.iter().filter(is_change).map(|event| event.day).filter(|day| *day <= 0.0).fold(f64::NEG_INFINITY, f64::max);
    let mut all = known.to_vec();
    let skipped = |day: f64| known.iter().any(|event| event.what == What::Skip && (event.day - day).abs() < SAME_DAYS);
    let mut add = |day: f64| {
        if !skipped(day) {
            all.push(Event { day, what: What::Change(share) });
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
