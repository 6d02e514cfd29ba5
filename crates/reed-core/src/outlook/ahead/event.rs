//! What happens to the nitrogen of a tank, and when.

use super::reached::Reached;
use super::setting::Setting;
use crate::figure::Figure;
use crate::tank::{Analyte, Medium, PerSpecies, Species, Tank};
use crate::units::{Unit, Units};

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
    /// So many animals like those here are added, and fed like them.
    Animals(f64),
    /// So many litres of a medium that takes ammonia go in, last in the path.
    AmmoniaMedium(f64),
    /// So many litres of a medium that takes nitrate.
    NitrateMedium(f64),
    /// Media that take something come out.
    MediaOut,
    /// A conditioner that binds ammonia goes in: a kit may or may not read what is bound.
    Binder,
    /// Bacteria from a bottle or a sludge product: a claim, without effect here.
    Bottle,
}

/// The unit in which a dose is stored; keepers see it in theirs.
const AMMONIA_STORED: &str = "mg/L N";

/// Share of its bacteria that a medium loses under the tap.
pub const LOST_UNDER_TAP: Figure = Figure::from_memory(0.6);
/// Share of both colonies that a medicine against bacteria costs.
pub const LOST_TO_MEDICINE: Figure = Figure::from_memory(0.5);
/// Share of both that chlorinated tap water costs.
pub const LOST_TO_CHLORINE: Figure = Figure::from_memory(0.4);
/// Hours that a standing filter does no harm, and in which after that all in it dies.
pub const STANDING_H: [Figure; 2] = [Figure::from_memory(4.0), Figure::from_memory(30.0)];

impl What {
    /// Stable ids, with what a keeper calls it and the unit of its amount; empty where it has none.
    pub const KINDS: [(&'static str, &'static str, &'static str); 16] = [
        ("change", "Water change", "%"),
        ("skip", "No change after all", ""),
        ("tap-rinse", "Media rinsed under the tap", "% of them"),
        ("new-media", "Media replaced by new", "% of them"),
        ("medicine", "Medicine against bacteria", ""),
        ("stop", "Filters stood", "h"),
        ("chlorine", "Unconditioned tap water", ""),
        ("seed", "Mature media added", "% of what the tank needs"),
        ("dose", "Ammonia dosed", AMMONIA_STORED),
        ("feed", "Fed from then on", "times as much"),
        ("animals", "Animals added like those here", "of them"),
        ("ammonia-medium", "Medium against ammonia put in, last", "L"),
        ("nitrate-medium", "Medium against nitrate put in, last", "L"),
        (
            "media-out",
            "Media against ammonia and nitrate taken out",
            "",
        ),
        ("binder", "Conditioner that binds ammonia", ""),
        (
            "bottle",
            "Bacteria or sludge product: a claim, no effect here",
            "",
        ),
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
            "animals" => Self::Animals(amount),
            "ammonia-medium" => Self::AmmoniaMedium(amount),
            "nitrate-medium" => Self::NitrateMedium(amount),
            "media-out" => Self::MediaOut,
            "binder" => Self::Binder,
            "bottle" => Self::Bottle,
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
            Self::Animals(count) => ("animals", count),
            Self::AmmoniaMedium(litres) => ("ammonia-medium", litres),
            Self::NitrateMedium(litres) => ("nitrate-medium", litres),
            Self::MediaOut => ("media-out", 0.0),
            Self::Binder => ("binder", 0.0),
            Self::Bottle => ("bottle", 0.0),
        }
    }

    /// What amounts are accepted, in the unit of [`What::KINDS`]; `None` where it has none.
    pub fn accepts(id: &str) -> Option<(f64, f64)> {
        match id {
            "change" | "tap-rinse" | "new-media" | "seed" => Some((1.0, 100.0)),
            "stop" => Some((0.5, 240.0)),
            "dose" => Some((0.1, 10.0)),
            "feed" => Some((0.0, 20.0)),
            "animals" => Some((1.0, 10_000.0)),
            "ammonia-medium" | "nitrate-medium" => Some((0.01, 100.0)),
            _ => None,
        }
    }

    /// Why it can do nothing in a tank, as a sentence; `None` where it can.
    pub fn idle_in(self, tank: &Tank) -> Option<&'static str> {
        let media = tank
            .filters
            .iter()
            .any(|filter| filter.media().next().is_some());
        match self {
            Self::Animals(_) if tank.stock.iter().all(|group| group.count == 0) => Some(
                "No animals are entered in this tank, so it is not known what those would be fed. Enter them, or enter how much more is fed.",
            ),
            Self::TapRinse(_) | Self::NewMedia(_) if !media => {
                Some("No media are entered in this tank’s filters. Enter them first.")
            }
            Self::AmmoniaMedium(_) | Self::NitrateMedium(_) if tank.filters.is_empty() => {
                Some("This tank has no filter whose water could pass a medium. Enter one first.")
            }
            _ => None,
        }
    }

    /// The unit of the amount of a kind as the keeper reads it; `None` where there is none or it is
    /// always the same.
    pub fn amount_unit(id: &str, units: &Units) -> Option<&'static Unit> {
        (id == "dose").then(|| units.of(Analyte::AMMONIA.units))
    }

    /// In words, with its amount.
    pub fn words(self, units: &Units) -> String {
        let (id, amount) = self.id();
        let (_, words, unit) = Self::KINDS
            .into_iter()
            .find(|(known, ..)| *known == id)
            .expect("every kind is listed");
        let own = Self::amount_unit(id, units);
        let (amount, unit) = own.map_or((amount, unit), |own| {
            ((own.from_base(amount) * 100.0).round() / 100.0, own.symbol)
        });
        if unit.is_empty() {
            words.to_owned()
        } else {
            format!("{words}, {} {unit}", crate::units::plain(amount))
        }
    }

    /// Makes it happen. `settled` are the colonies of which a seed is a share; harm hits so many
    /// times as hard as thought, as a power of what it leaves.
    pub(super) fn happen(
        self,
        reached: &mut Reached,
        setting: &Setting,
        settled: [f64; 2],
        harm: f64,
    ) {
        let hit = |left: f64| [left.max(1e-3).powf(harm); 2];
        let of_media = |lost: f64| hit(1.0 - setting.in_filters * lost.clamp(0.0, 1.0));
        let state = &mut reached.state;
        match self {
            Self::Change(share) => state.change_water(share, &setting.tap),
            Self::Skip | Self::Binder | Self::Bottle => {}
            Self::TapRinse(share) => state.thin(of_media(share * LOST_UNDER_TAP.value)),
            Self::NewMedia(share) => state.thin(of_media(share)),
            Self::Medicine => state.thin(hit(1.0 - LOST_TO_MEDICINE.value)),
            Self::Stop(hours) => state.thin(of_media(
                (hours - STANDING_H[0].value) / STANDING_H[1].value,
            )),
            Self::Chlorine => state.thin(hit(1.0 - LOST_TO_CHLORINE.value)),
            Self::Seed(share) => {
                state.colonies = [0, 1].map(|step| state.colonies[step] + share * settled[step]);
            }
            Self::Dose(mg_l) => state.tan += mg_l,
            Self::Feed(factor) => reached.feed = factor,
            Self::Animals(count) if setting.animals > 0.0 => {
                reached.feed += count / setting.animals;
            }
            Self::Animals(_) => {}
            Self::AmmoniaMedium(litres) => {
                reached.put_in(Species::Ammonia, Medium::AmmoniaResin, litres, setting);
            }
            Self::NitrateMedium(litres) => {
                reached.put_in(Species::Nitrate, Medium::NitrateResin, litres, setting);
            }
            Self::MediaOut => {
                (reached.media, state.taken) = (PerSpecies::default(), PerSpecies::default());
            }
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

/// How long a binder holds what it bound, days: a day or two by their makers.
pub const BOUND_DAYS: Figure = Figure::from_memory(2.0);

/// On a day, readings of a species say nothing: a medium takes it, or a binder holds it.
pub fn is_masked(setting: &Setting, known: &[Event], species: Species, day: f64) -> bool {
    let own = setting.masked[species].is_some_and(|since| day >= since);
    let last = |is: &dyn Fn(What) -> bool| {
        known
            .iter()
            .filter(|event| event.day <= day && is(event.what))
            .map(|event| event.day)
            .fold(f64::NEG_INFINITY, f64::max)
    };
    let out = last(&|what| what == What::MediaOut);
    let medium = last(&|what| match what {
        What::AmmoniaMedium(_) => species == Species::Ammonia,
        What::NitrateMedium(_) => species == Species::Nitrate,
        _ => false,
    });
    let bound =
        species == Species::Ammonia && day - last(&|what| what == What::Binder) < BOUND_DAYS.value;
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
    let is_change = |event: &&Event| matches!(event.what, What::Change(_));
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
            .any(|event| event.what == What::Skip && (event.day - day).abs() < SAME_DAYS)
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
                what: What::Change(share),
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
