//! Air in a filter: where it comes from, whether it is usual, how near the water behind the media is
//! to shedding gas. Common practice, no source, where nothing else is named.

use jiff::civil::DateTime;

use super::Pressed;
use crate::figure::Figure;
use crate::tank::thing::Pipe;
use crate::tank::{Filter, Tank};
use crate::units::days_of;

/// How far the margin may be off, kPa: gas of rotting dirt, and the eye of the impeller, lie below
/// what is computed. From memory.
pub const MARGIN_SPREAD_KPA: f64 = 5.0;

/// A filter that was open sheds air so long, hours.
pub const AFTER_CLEANING_H: Figure = Figure::common_practice(3.0);
/// New media shed air so long, days.
pub const NEW_MEDIA_DAYS: Figure = Figure::common_practice(7.0);

/// How near the water at the pump is to shedding gas, kPa: its pressure above the air's, less what
/// the water holds more of gas than the air gives it (Henry 1803). Below nothing gas comes out as
/// fine bubbles, long before water would boil. Above nothing it acquits nobody, see
/// [`MARGIN_SPREAD_KPA`].
pub fn margin_kpa(at_pump_kpa: f64, total_gas_percent: f64, atmosphere_kpa: f64) -> f64 {
    at_pump_kpa + (1.0 - total_gas_percent / 100.0) * atmosphere_kpa
}

/// Seals harden in so many days: two years. A judgement.
pub const SEALS_DAYS: f64 = 730.0;

/// Whether bubbles from a filter are usual now.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Trapped {
    /// It was open within hours.
    FromCleaning,
    /// Media went in within days.
    FromNewMedia,
    /// Neither: air that comes now comes from somewhere.
    No,
    /// Nobody wrote down when it was opened.
    Unknown,
}

impl Trapped {
    /// Of a filter that was last opened at this moment.
    pub fn of(filter: &Filter, opened: Option<DateTime>, now: DateTime) -> Self {
        let days = |at: DateTime| days_of(now.duration_since(at));
        let newest = filter.media().filter_map(|portion| portion.put_in).max();
        if opened.is_some_and(|at| days(at) * 24.0 <= AFTER_CLEANING_H.value) {
            Self::FromCleaning
        } else if newest.is_some_and(|day| days(day.at(0, 0, 0, 0)) <= NEW_MEDIA_DAYS.value) {
            Self::FromNewMedia
        } else if opened.is_none() {
            Self::Unknown
        } else {
            Self::No
        }
    }

    /// In the keeper's words.
    pub fn words(self) -> String {
        match self {
            Self::FromCleaning => format!(
                "It was open today: steady micro bubbles for up to {:.0} hours, and one gush at the restart, are its last air.",
                AFTER_CLEANING_H.value
            ),
            Self::FromNewMedia => format!(
                "New media give off steady micro bubbles for up to {:.0} days.",
                NEW_MEDIA_DAYS.value
            ),
            Self::No => "Nothing is new here: micro bubbles that come now come from a clog, or are drawn in.".to_owned(),
            Self::Unknown => "Enter when it was last opened: air of a cleaning is gone within hours.".to_owned(),
        }
    }
}

/// A place or part that may be behind air at the outlet.
#[derive(Clone, Debug, PartialEq)]
pub struct Suspect {
    /// The fault it would be, by its id.
    pub fault: &'static str,
    /// What to look at.
    pub look: &'static str,
    /// What the pressure there, or its age, says.
    pub says: String,
    /// Air can come from there by what is computed.
    pub is_possible: bool,
}

/// What is known of a filter's air.
pub struct Known<'a> {
    /// The pressures on its suction side.
    pub pressed: &'a [Pressed],
    /// Margin at the pump, kPa; none where no hose draws.
    pub margin_kpa: Option<f64>,
    /// Share of the ways filled with dirt, the middle of what is believed; none where unknown.
    pub share: Option<f64>,
    /// Whether bubbles are usual now.
    pub trapped: Trapped,
    /// Days until the top of its intake stands in the air.
    pub exposed_in_days: Option<f64>,
    /// Days since its seals were renewed.
    pub seals_days: Option<f64>,
}

/// Where to look when micro bubbles leave a filter's outlet, in the order of the trade: what is
/// new, then the choked pad and the impeller, then the seals as a set, then joints and the intake,
/// the hose last of it, plants at the end.
pub fn suspects(known: &Known<'_>) -> Vec<Suspect> {
    let below: Vec<&Pressed> = known
        .pressed
        .iter()
        .filter(|place| place.kpa < 0.0)
        .collect();
    let draws = |name: &str| below.iter().find(|place| place.place.contains(name));
    let rim = draws("rim");
    let tap = draws("tap");
    let mut found = Vec::new();
    let mut look = |fault, look, says: String, is_possible| {
        found.push(Suspect {
            fault,
            look,
            says,
            is_possible,
        });
    };
    let new = matches!(known.trapped, Trapped::FromCleaning | Trapped::FromNewMedia);
    look(
        "trapped-air-cleaned",
        "What was just opened or is new",
        known.trapped.words(),
        new || known.trapped == Trapped::Unknown,
    );
    let fills = known.share.map_or_else(
        || "How full it is is not known.".to_owned(),
        |share| format!("Its fine ways are some {:.0} % filled.", 100.0 * share),
    );
    let margin = known.margin_kpa.map_or_else(String::new, |margin| {
        format!(" Margin at the pump {margin:.1} ± {MARGIN_SPREAD_KPA:.0} kPa; a positive one acquits nobody.")
    });
    look(
        "clogged-fine-media",
        "The fine pad and the impeller",
        format!("{fills}{margin}"),
        known.share.is_none_or(|share| share > 0.3)
            || known
                .margin_kpa
                .is_some_and(|margin| margin < MARGIN_SPREAD_KPA),
    );
    let age = known.seals_days.map_or_else(
        || "Nobody wrote down when they were renewed.".to_owned(),
        |days| format!("Renewed {days:.0} days ago."),
    );
    let at_tap = if tap.is_some() {
        " Below the air’s pressure at the filter: a poor seal draws air in."
    } else {
        " Above the air’s pressure at the filter: a poor seal drips there and lets no air in, until the media choke."
    };
    if !known.pressed.is_empty() {
        look(
            "seal-leak",
            "All seals as a set: lid, taps, pump, motor cover",
            format!("{age}{at_tap}"),
            tap.is_some() || known.seals_days.is_none_or(|days| days > SEALS_DAYS),
        );
        let at_rim = rim.map_or_else(
            || "Nowhere on the suction side is the pressure below the air’s.".to_owned(),
            |rim| format!("{:.1} kPa where the hose goes over the rim: a joint above the water level draws air in.", rim.kpa),
        );
        look(
            "joint-loose",
            "Joints above the water level",
            at_rim,
            rim.is_some(),
        );
    }
    let exposed = known.exposed_in_days.map_or_else(
        || "No intake is drawn.".to_owned(),
        |days| {
            if days <= 0.0 {
                "Its top stands in the air now.".to_owned()
            } else {
                format!("Evaporation bares its top in about {days:.0} days.")
            }
        },
    );
    look(
        "intake-fitting-exposed",
        "The top of the intake",
        exposed,
        known.exposed_in_days.is_none_or(|days| days < 3.0),
    );
    if !known.pressed.is_empty() {
        look(
            "hose-crack",
            "The suction hose, last",
            "A hair crack may leak inward only.".to_owned(),
            rim.is_some(),
        );
    }
    look(
        "plant-gas-at-intake",
        "Plants that pearl near the intake",
        "By day only; harmless.".to_owned(),
        true,
    );
    found
}

/// Water that leaves a surface by evaporation, mm a day, from its temperature and the room's: pools
/// at rest by ASHRAE (Applications, natatoriums), vapour pressure by Magnus 1844; both from memory.
/// The room's air is taken to be half full of vapour.
pub fn evaporation_mm_day(water_c: f64, room_c: f64) -> f64 {
    /// kg/(s·m²·kPa) over an undisturbed pool, from memory.
    const ASHRAE: f64 = 2e-5;
    /// A judgement.
    const HUMIDITY: f64 = 0.5;
    let vapour_kpa = |celsius: f64| 0.611_2 * (17.62 * celsius / (243.12 + celsius)).exp();
    let drives = (vapour_kpa(water_c) - HUMIDITY * vapour_kpa(room_c)).max(0.0);
    // A kilogram on a square metre is a millimetre.
    ASHRAE * drives * 86_400.0
}

/// The same of a tank; a lid keeps most of it in.
pub fn evaporates_mm_day(tank: &Tank) -> f64 {
    /// Share of it that leaves under a lid. A judgement.
    const UNDER_A_LID: f64 = 0.2;
    /// Of a room that nobody measured, °C. A judgement.
    const ROOM_C: f64 = 21.0;
    let room = tank.room.map_or(ROOM_C, |room| room.as_celsius());
    let open = evaporation_mm_day(tank.water_temperature().as_celsius(), room);
    if tank.glass.rim == crate::tank::Rim::Lid {
        UNDER_A_LID * open
    } else {
        open
    }
}

/// Days until the level has sunk to the top of an intake of this filter; none where none is drawn.
/// With a sump only its return chamber sinks.
pub fn exposed_in_days(tank: &Tank, filter: &Filter) -> Option<f64> {
    let level = tank.water_depth.as_cm();
    let tops = tank.things.iter().filter_map(|thing| {
        let form = thing.what.form();
        let is_own = thing.is_of(filter.number);
        (is_own && form.pipe() == Pipe::Intake).then(|| thing.body(tank).top)
    });
    let highest = tops.max_by(f64::total_cmp)?;
    Some((level - highest) * 10.0 / evaporates_mm_day(tank).max(1e-3))
}
