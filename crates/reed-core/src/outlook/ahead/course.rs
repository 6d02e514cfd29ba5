//! One possible course of a tank's nitrogen: where a guess begins and where it leads.

use super::event::{Event, happen};
use super::guess::Guess;
use super::reached::Reached;
use super::setting::Setting;
use crate::tank::{PerSpecies, Species};
use crate::units::masses::DEGREES_PER_MEQ;
use crate::water::nitrogen::cycle::{Conditions, Kinetics, State};

/// A new tank begins with this share of a settled colony, and one standard deviation of its
/// logarithm: four to six weeks without seeding, common practice.
const UNSEEDED: (f64, f64) = (1e-5, 2.3);
/// What is brought in is a share of the colony of a modest load at least, mg N/L and day: a tank
/// without animals is seeded too.
const MODEST_LOAD: f64 = 0.25;
/// Days over which a settled tank is run before the first thing known of it.
const WARM_UP_DAYS: f64 = 10.0;

/// The colonies of which a seed is a share.
fn seeded_from(kinetics: &Kinetics, conditions: &Conditions) -> [f64; 2] {
    kinetics.settled(&Conditions {
        load: conditions.load.max(MODEST_LOAD),
        ..*conditions
    })
}

/// A tank is set up on a date: what happens on it happens after the beginning, whatever the hour, so
/// many days before it. By definition.
const DAY_OF_SETTING_UP: f64 = 1.0;

/// The day on which a course begins that is to be known from `first` on.
pub(super) fn beginning(setting: &Setting, first: f64) -> f64 {
    setting
        .young_days
        .map_or(first - WARM_UP_DAYS, |age| -age - DAY_OF_SETTING_UP)
}

/// Where a guess begins.
pub(super) fn begin(setting: &Setting, guess: &Guess, from: f64) -> Reached {
    let kinetics = guess.kinetics();
    let conditions = guess.conditions(setting, &kinetics, 1.0, PerSpecies::default());
    let settled = kinetics.settled(&conditions);
    let state = if setting.young_days.is_some() {
        let (share, spread) = UNSEEDED;
        let share = share * (spread * guess.colony).exp();
        let silent = if setting.load > 0.0 {
            0.0
        } else {
            guess.hidden_dose()
        };
        State {
            tan: setting.tap.tan + silent,
            colonies: seeded_from(&kinetics, &conditions).map(|colony| colony * share),
            ..setting.tap
        }
    } else {
        // A colony that has less to eat than before is thinner, one that has more is larger than
        // its food: soon told apart.
        let colonies = [0, 1].map(|step| {
            (settled[step] * guess.factor(|guess| guess.colony)).min(conditions.most[step])
        });
        State {
            colonies,
            nitrate: setting.usual_nitrate() * guess.factor(|guess| guess.nitrate),
            tan: 0.04,
            nitrite: 0.04,
            ..setting.tap
        }
    };
    let mut reached = Reached {
        state: State {
            alkalinity: setting.tap.alkalinity * guess.factor(|guess| guess.hardness),
            ..state
        },
        feed: 1.0,
        media: PerSpecies::default(),
    };
    for species in Species::ALL {
        let medium = setting.media[species];
        // One that went in later comes with its day, see `run`.
        let Some((grains, since)) =
            medium.filter(|(_, since)| since.is_none_or(|since| since <= from))
        else {
            continue;
        };
        reached.media[species] = Some(grains);
        // Of one of unknown age half is used up; of one of known age, what it would be if it had
        // got the whole load.
        reached.state.taken[species] = since.map_or(grains.holds / 2.0, |since| {
            (setting.load * (from - since)).min(grains.holds)
        });
    }
    reached
}

/// Moves a guess from one day to another through what happens in between; `seen` is told the state
/// at each of the days asked for, which are in order.
pub(super) fn run(
    setting: &Setting,
    guess: &Guess,
    reached: &mut Reached,
    (from, to): (f64, f64),
    events: &[Event],
    asked: &[f64],
    mut seen: impl FnMut(usize, &State),
) {
    let kinetics = guess.kinetics();
    let mut conditions = guess.conditions(setting, &kinetics, reached.feed, reached.media);
    let (mut today, mut next) = (from, 0);
    let mut events = events
        .iter()
        .filter(|event| event.day > from && event.day <= to)
        .peekable();
    let mut loss = guess
        .hidden_loss()
        .filter(|(day, _)| *day > from && *day <= to);
    let mut media = PerSpecies::of(|species| {
        setting.media[species].and_then(|(grains, since)| {
            Some((since.filter(|day| *day > from && *day <= to)?, grains))
        })
    });
    loop {
        let asked_day = asked.get(next).copied().filter(|day| *day <= to);
        let arriving = media.both().into_iter().flatten().map(|(day, _)| day);
        let event_day = events
            .peek()
            .map(|event| event.day)
            .into_iter()
            .chain(loss.map(|(day, _)| day))
            .chain(arriving)
            .reduce(f64::min);
        // What is seen on the day of an event was there before it.
        let day = asked_day
            .unwrap_or(to)
            .min(event_day.unwrap_or(to))
            .max(today);
        reached.state.advance(&kinetics, &conditions, day - today);
        today = day;
        if asked_day.is_some_and(|asked| asked <= today) {
            seen(next, &reached.state);
            next += 1;
        } else if let Some((_, left)) = loss.take_if(|(day, _)| *day <= today) {
            reached.state.thin([left; 2]);
        } else if let Some((species, grains)) = Species::ALL.into_iter().find_map(|species| {
            Some((
                species,
                media[species]
                    .take_if(|(day, _)| *day <= today)
                    .map(|(_, grains)| grains)?,
            ))
        }) {
            reached.media[species] = Some(grains);
            conditions.media = reached.media;
        } else if let Some(event) = events.next_if(|event| event.day <= today) {
            happen(
                event.effect,
                reached,
                setting,
                seeded_from(&kinetics, &conditions),
                guess.factor(|guess| guess.harm),
            );
            conditions = guess.conditions(setting, &kinetics, reached.feed, reached.media);
        } else {
            return;
        }
    }
}

/// Carbonate hardness of a state, dKH.
pub(super) fn dkh(state: &State) -> f64 {
    state.alkalinity.max(0.0) * DEGREES_PER_MEQ
}
