//! One possible course: a guess of what is not known, and where it leads.

use super::event::Event;
use super::setting::{Setting, grains};
use crate::forecast::normal_below;
use crate::tank::Medium;
use crate::water::nitrogen::DKH_PER_MEQ;
use crate::water::nitrogen::capture::Grains;
use crate::water::nitrogen::cycle::{ALKALINITY_OF_WASTE, Conditions, Kinetics, State};

/// How many things are not known.
pub(super) const UNKNOWN: usize = 10;

/// A guess of what is not known, each in standard deviations from what is thought likeliest.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Guess(pub(super) [f64; UNKNOWN]);

/// Standard deviations of the logarithms of what is not known: load, growth, surface, colony,
/// nitrate and hardness at first, what plants take, how hard harm hits; and of two more that have
/// no logarithm, see [`Guess::hidden_loss`]. Judgements.
const SPREAD: [f64; UNKNOWN] = [0.35, 0.12, 0.5, 0.4, 0.5, 0.35, 0.5, 0.6, 1.0, 1.0];
/// One tank in so many lost bacteria lately that nobody knows of: beyond this many standard
/// deviations. A judgement: one in ten.
const LOSSES_BEYOND: f64 = 1.28;
/// How much is lost for each standard deviation more, as a logarithm, and how long ago it was at
/// most, days. Judgements.
const LOSS_PER_DEVIATION: f64 = 3.0;
const LOST_WITHIN_DAYS: f64 = 20.0;
/// A new tank begins with this share of a settled colony, and one standard deviation of its
/// logarithm: four to six weeks without seeding, common practice.
const UNSEEDED: (f64, f64) = (1e-5, 2.3);
/// What is brought in is a share of the colony of a modest load at least, mg N/L and day: a tank
/// without animals is seeded too.
const MODEST_LOAD: f64 = 0.25;
/// Days over which a settled tank is run before the first thing known of it.
const WARM_UP_DAYS: f64 = 10.0;

impl Guess {
    /// What is thought likeliest.
    pub const LIKELIEST: Self = Self([0.0; UNKNOWN]);

    /// Factor on what was assumed, of one of the things that are not known.
    pub(super) fn factor(&self, index: usize) -> f64 {
        (SPREAD[index] * self.0[index]).exp()
    }

    /// Logarithm of how likely it was thought before any reading, but for a constant.
    pub(super) fn log_prior(&self) -> f64 {
        self.0.iter().map(|off| -off * off / 2.0).sum()
    }

    /// What left of the colonies something nobody knows of, and on which day: bad readings out of
    /// the blue have a cause.
    fn hidden_loss(&self) -> Option<(f64, f64)> {
        let beyond = self.0[8] - LOSSES_BEYOND;
        (beyond > 0.0).then(|| {
            (
                -LOST_WITHIN_DAYS * normal_below(self.0[9]),
                (-LOSS_PER_DEVIATION * beyond).exp(),
            )
        })
    }

    fn kinetics(&self) -> Kinetics {
        let usual = Kinetics::default();
        Kinetics {
            growth: usual.growth.map(|growth| growth * self.factor(1)),
            ..usual
        }
    }

    fn conditions(
        &self,
        setting: &Setting,
        kinetics: &Kinetics,
        feed: f64,
        media: [Option<Grains>; 2],
    ) -> Conditions {
        let uptake = (setting.uptake * self.factor(6)).min(0.9);
        Conditions {
            temperature: setting.temperature,
            oxygen: setting.oxygen,
            load: setting.load * self.factor(0) * feed * (1.0 - uptake),
            alkalinity_of_load: ALKALINITY_OF_WASTE,
            // A film turns over what it does however fast its cells grow.
            most: kinetics.most_on(setting.surface_m2 * self.factor(2), setting.litres),
            media,
            in_filters: setting.in_filters,
        }
    }
}

/// Where a guess has come to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Place {
    pub(super) state: State,
    /// Times as much as usual is fed.
    pub(super) feed: f64,
    /// Media that take ammonia, and nitrate.
    pub(super) media: [Option<Grains>; 2],
}

impl Place {
    /// A fresh medium that takes ammonia (0) or nitrate (1) goes in, last in the path of all the
    /// flow.
    pub(super) fn put_in(&mut self, form: usize, medium: Medium, litres: f64, setting: &Setting) {
        self.media[form] = grains(medium, litres, setting.flow_l_per_h, setting.litres, false);
        self.state.taken[form] = 0.0;
    }
}

/// The colonies of which a seed is a share.
fn seeded_from(kinetics: &Kinetics, conditions: &Conditions) -> [f64; 2] {
    kinetics.settled(&Conditions {
        load: conditions.load.max(MODEST_LOAD),
        ..*conditions
    })
}

/// The day on which a course begins that is to be known from `first` on.
pub(super) fn beginning(setting: &Setting, first: f64) -> f64 {
    setting.young_days.map_or(first - WARM_UP_DAYS, |age| -age)
}

/// Where a guess begins.
pub(super) fn begin(setting: &Setting, guess: &Guess, from: f64) -> Place {
    let kinetics = guess.kinetics();
    let conditions = guess.conditions(setting, &kinetics, 1.0, [None; 2]);
    let settled = kinetics.settled(&conditions);
    let state = if setting.young_days.is_some() {
        let (share, spread) = UNSEEDED;
        let share = share * (spread * guess.0[3]).exp();
        State {
            colonies: seeded_from(&kinetics, &conditions).map(|colony| colony * share),
            ..setting.tap
        }
    } else {
        // A colony that has less to eat than before is thinner, one that has more is larger than
        // its food: soon told apart.
        let colonies =
            [0, 1].map(|step| (settled[step] * guess.factor(3)).min(conditions.most[step]));
        State {
            colonies,
            nitrate: setting.usual_nitrate() * guess.factor(4),
            tan: 0.04,
            nitrite: 0.04,
            ..setting.tap
        }
    };
    let mut place = Place {
        state: State {
            alkalinity: setting.tap.alkalinity * guess.factor(5),
            ..state
        },
        feed: 1.0,
        media: [None; 2],
    };
    for (form, medium) in setting.media.iter().enumerate() {
        // One that went in later comes with its day, see `run`.
        let Some((grains, since)) =
            medium.filter(|(_, since)| since.is_none_or(|since| since <= from))
        else {
            continue;
        };
        place.media[form] = Some(grains);
        // Of one of unknown age half is used up; of one of known age, what it would be if it had
        // got the whole load.
        place.state.taken[form] = since.map_or(grains.holds / 2.0, |since| {
            (setting.load * (from - since)).min(grains.holds)
        });
    }
    place
}

/// Moves a guess from one day to another through what happens in between; `seen` is told the state
/// at each of the days asked for, which are in order.
pub(super) fn run(
    setting: &Setting,
    guess: &Guess,
    place: &mut Place,
    (from, to): (f64, f64),
    events: &[Event],
    asked: &[f64],
    mut seen: impl FnMut(usize, &State),
) {
    let kinetics = guess.kinetics();
    let mut conditions = guess.conditions(setting, &kinetics, place.feed, place.media);
    let (mut today, mut next) = (from, 0);
    let mut events = events
        .iter()
        .filter(|event| event.day > from && event.day <= to)
        .peekable();
    let mut loss = guess
        .hidden_loss()
        .filter(|(day, _)| *day > from && *day <= to);
    let mut media = setting.media.map(|medium| {
        medium.and_then(|(grains, since)| {
            Some((since.filter(|day| *day > from && *day <= to)?, grains))
        })
    });
    loop {
        let asked_day = asked.get(next).copied().filter(|day| *day <= to);
        let arriving = media.iter().flatten().map(|(day, _)| *day);
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
        place.state.advance(&kinetics, &conditions, day - today);
        today = day;
        if asked_day.is_some_and(|asked| asked <= today) {
            seen(next, &place.state);
            next += 1;
        } else if let Some((_, left)) = loss.take_if(|(day, _)| *day <= today) {
            place.state.thin([left; 2]);
        } else if let Some((form, grains)) = (0..2).find_map(|form| {
            Some((
                form,
                media[form]
                    .take_if(|(day, _)| *day <= today)
                    .map(|(_, grains)| grains)?,
            ))
        }) {
            place.media[form] = Some(grains);
            conditions.media = place.media;
        } else if let Some(event) = events.next_if(|event| event.day <= today) {
            event.what.happen(
                place,
                setting,
                seeded_from(&kinetics, &conditions),
                guess.factor(7),
            );
            conditions = guess.conditions(setting, &kinetics, place.feed, place.media);
        } else {
            return;
        }
    }
}

/// Carbonate hardness of a state, dKH.
pub(super) fn dkh(state: &State) -> f64 {
    state.alkalinity.max(0.0) * DKH_PER_MEQ
}
