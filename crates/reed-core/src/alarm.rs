//! When what a device reads calls for somebody: bounds, raised and ended so that noise at a bound does
//! not ring on and off, hours of quiet, and what to do first.

use jiff::Timestamp;
use jiff::civil::{DateTime, Time};

use crate::log::{BeyondBound, Entry, Happening, When};
use crate::outlook::limits::Limit;
use crate::tank::kit;
use crate::tank::{Analyte, Tank};

/// Which way something left its bounds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Side {
    /// Below the lower bound.
    Below,
    /// Above the upper one.
    Above,
}

/// Between what something should stay, in the first unit of what is read.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Bounds {
    /// At least this; none where nothing is too little.
    pub low: Option<f64>,
    /// At most this.
    pub high: Option<f64>,
}

/// Water may be so much colder or warmer than the tank is said to be, °C: a heater that swings by a
/// degree is no alarm, one that failed is seen within hours. A judgement.
const DEGREES_OFF: f64 = 3.0;
/// Share of the flow that is told at which somebody should look. A judgement.
const FLOW_LEFT: f64 = 0.5;

impl Bounds {
    /// Those of something that is read in a tank until the keeper sets others.
    pub fn usual(analyte: &Analyte, tank: &Tank) -> Self {
        let flow = tank.filter_flow_l_per_h();
        if *analyte == *Analyte::TEMPERATURE {
            let told = tank.temperature.as_celsius();
            return Self {
                low: Some(told - DEGREES_OFF),
                high: Some(told + DEGREES_OFF),
            };
        }
        if *analyte == *Analyte::FLOW {
            return Self {
                low: (flow > 0.0).then_some(FLOW_LEFT * flow),
                high: None,
            };
        }
        let limit = Limit::of(analyte, tank);
        let on = |is_floor: bool| {
            let limit = limit.filter(|limit| limit.is_floor == is_floor);
            limit.map(|limit| limit.value)
        };
        Self {
            low: on(true),
            high: on(false),
        }
    }

    /// Which bound a value is beyond.
    fn beyond(&self, value: f64) -> Option<Side> {
        if self.low.is_some_and(|low| value < low) {
            return Some(Side::Below);
        }
        self.high
            .is_some_and(|high| value > high)
            .then_some(Side::Above)
    }

    /// The bound on a side.
    pub const fn on(&self, side: Side) -> Option<f64> {
        match side {
            Side::Below => self.low,
            Side::Above => self.high,
        }
    }
}

/// Readings in a row that raise an alarm, and that end it: one alone may be a mistake. A judgement.
const AGREE: u8 = 2;

/// How something stands that a device reads.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Watch {
    /// Which way it left its bounds; none while it is inside.
    pub side: Option<Side>,
    /// Since when it has been outside.
    pub since: Timestamp,
    /// The furthest value since.
    pub worst: f64,
    /// Readings in a row that speak for another state.
    pub in_a_row: u8,
    /// Enough of them did: somebody should look.
    pub is_raised: bool,
}

/// What a reading changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Heard {
    /// Nothing that anybody has to be told.
    Nothing,
    /// It calls for somebody from now on.
    Raised,
    /// It is well again.
    Ended,
}

impl Watch {
    /// Of something that is inside its bounds.
    pub const INSIDE: Self = Self {
        side: None,
        since: Timestamp::UNIX_EPOCH,
        worst: 0.0,
        in_a_row: 0,
        is_raised: false,
    };

    /// Takes in a reading. An alarm ends only when the value is back inside by the usual spread of a
    /// reading, so that noise at a bound does not ring on and off.
    pub fn hear(
        &mut self,
        analyte: &'static Analyte,
        bounds: &Bounds,
        at: Timestamp,
        value: f64,
    ) -> Heard {
        let beyond = bounds.beyond(value);
        let Some(side) = self.side else {
            if let Some(side) = beyond {
                *self = Self {
                    side: Some(side),
                    since: at,
                    worst: value,
                    in_a_row: 1,
                    is_raised: false,
                };
            }
            return Heard::Nothing;
        };
        if !self.is_raised {
            if beyond != Some(side) {
                *self = Self::INSIDE;
                return self.hear(analyte, bounds, at, value);
            }
            self.further(side, value);
            self.in_a_row += 1;
            if self.in_a_row < AGREE {
                return Heard::Nothing;
            }
            self.in_a_row = 0;
            self.is_raised = true;
            return Heard::Raised;
        }
        let slack = kit::first_for(analyte).spread;
        let is_back = match (side, bounds.on(side)) {
            (_, None) => true,
            (Side::Below, Some(low)) => value >= low + slack,
            (Side::Above, Some(high)) => value <= high - slack,
        };
        if !is_back {
            self.further(side, value);
            self.in_a_row = 0;
            return Heard::Nothing;
        }
        self.in_a_row += 1;
        if self.in_a_row < AGREE {
            return Heard::Nothing;
        }
        *self = Self::INSIDE;
        Heard::Ended
    }

    /// What the log is told when it has begun or ended to call, by the clock beside the tank; `before`
    /// is how it stood until then. Nothing where nothing was heard.
    pub fn told(
        &self,
        heard: Heard,
        before: &Self,
        analyte: &Analyte,
        bounds: &Bounds,
        (at, wall): (Timestamp, DateTime),
    ) -> Option<Entry> {
        let (kind, watch, minutes) = match heard {
            Heard::Nothing => return None,
            Heard::Raised => ("alarm", self, None),
            Heard::Ended => {
                let lasted = at.duration_since(before.since).as_secs_f64() / 60.0;
                ("alarm-over", before, Some(lasted))
            }
        };
        let mut entry = Entry::of(Happening::by_id(kind)?, When::minute(wall));
        // A bound that was taken away says nothing of how far it was.
        entry.details.alarm = watch.side.and_then(|side| {
            Some(BeyondBound {
                analyte: analyte.id.to_owned(),
                above: side == Side::Above,
                bound: bounds.on(side)?,
                worst: watch.worst,
                minutes,
            })
        });
        Some(entry)
    }

    fn further(&mut self, side: Side, value: f64) {
        self.worst = match side {
            Side::Below => self.worst.min(value),
            Side::Above => self.worst.max(value),
        };
    }
}

/// What to do first when something left its bounds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Advice {
    /// It rings in hours of quiet too: animals may be dead in the morning.
    pub endangers: bool,
    /// In sentences, with the caution that belongs to it.
    pub now: &'static str,
}

impl Advice {
    /// For something that left its bounds on a side. Common practice, no source.
    pub fn of(analyte: &Analyte, side: Side) -> Self {
        let (endangers, now) = match (analyte.id, side) {
            ("do", Side::Below) => (
                true,
                "Move the surface at once: lift the outlet to it or start an air stone, and feed nothing. Then look at the animals; if they gasp, open a case.",
            ),
            ("temperature", Side::Below) => (
                true,
                "Look whether the heater has power and is warm. Pull its plug before your hands go into the water; a cracked one stays out. Warm up slowly.",
            ),
            ("temperature", Side::Above) => (
                true,
                "Pull the heater’s plug and the lid off, move the surface: warm water holds less oxygen. Cool by no more than a degree an hour.",
            ),
            ("flow", Side::Below) => (
                true,
                "Look whether the pump runs and what covers its intake. If the filter stood for more than an hour or two, rinse what is in it before it runs again, since its water has gone foul.",
            ),
            ("ph", Side::Below) => (
                false,
                "Read pH and carbonate hardness by hand. If hardness is gone, change a little water; no powder for pH.",
            ),
            ("ph", Side::Above) => (
                false,
                "Read pH and ammonia by hand: the higher the pH, the more of the ammonia is poison. Change no water before both are read.",
            ),
            ("tan" | "nitrite", Side::Above) => (
                true,
                "Read it by hand. If the kit agrees, feed nothing and change water as the page Water sizes it; the filter stays as it is.",
            ),
            ("nitrate", Side::Above) => (
                false,
                "Read it by hand, then change water as the page Water sizes it.",
            ),
            ("kh", Side::Below) => (
                false,
                "Read it by hand. Bacteria falter without it, and pH falls: change a part of the water.",
            ),
            _ => (
                false,
                "Read it by hand: if the kit agrees, open a case; if not, look at the device.",
            ),
        };
        Self { endangers, now }
    }
}

/// Hours in which only what endangers animals rings.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct Quiet {
    /// From this hour on.
    pub from: Time,
    /// Until this one, of the next day where it is earlier.
    pub until: Time,
}

impl Quiet {
    /// Whether a time of the day is quiet.
    pub fn holds(&self, at: Time) -> bool {
        if self.from <= self.until {
            (self.from..self.until).contains(&at)
        } else {
            at >= self.from || at < self.until
        }
    }
}

#[cfg(test)]
mod tests {
    use jiff::civil::time;
    use jiff::{SignedDuration, Timestamp};

    use super::{Advice, Bounds, Heard, Quiet, Side, Watch};
    use crate::document::start;
    use crate::tank::Analyte;

    const BOUNDS: Bounds = Bounds {
        low: Some(5.0),
        high: None,
    };

    /// What is heard of oxygen that is read every minute.
    fn heard(values: impl IntoIterator<Item = f64>) -> (Vec<(i64, Heard)>, Watch) {
        let mut watch = Watch::INSIDE;
        let mut all = Vec::new();
        for (minute, value) in (0_i64..).zip(values) {
            let at = Timestamp::UNIX_EPOCH + SignedDuration::from_mins(60 + minute);
            match watch.hear(Analyte::OXYGEN, &BOUNDS, at, value) {
                Heard::Nothing => {}
                told => all.push((minute, told)),
            }
        }
        (all, watch)
    }

    /// A night in which oxygen falls below its bound and comes back, with the noise of a probe: a
    /// plain comparison would ring dozens of times.
    #[test]
    fn noise_at_a_bound_rings_once_and_ends_once() {
        let mut rng = fastrand::Rng::with_seed(7);
        let night: Vec<f64> = (0..600)
            .map(|minute| {
                let turn = f64::from(minute) / 600.0 * std::f64::consts::TAU;
                5.0 + 0.7 * turn.cos() + 0.1 * (rng.f64() + rng.f64() - 1.0)
            })
            .collect();
        let crossings = night
            .windows(2)
            .filter(|pair| (pair[0] < 5.0) != (pair[1] < 5.0));
        assert!(
            crossings.count() > 4,
            "the bound is crossed again and again"
        );
        let (all, watch) = heard(night.iter().copied());
        let [(raised, Heard::Raised), (ended, Heard::Ended)] = all[..] else {
            panic!("{all:?}");
        };
        assert!(raised < 200 && ended > 450, "{raised} {ended}");
        assert_eq!(watch, Watch::INSIDE);
    }

    #[test]
    fn one_mistaken_reading_rings_nothing_and_the_worst_is_kept() {
        assert_eq!(heard([6.0, 0.0, 6.0, 0.0, 6.0]).0, []);
        let (all, watch) = heard([6.0, 4.9, 4.8, 4.1, 4.6]);
        assert_eq!(all, [(2, Heard::Raised)]);
        let since = Timestamp::UNIX_EPOCH + SignedDuration::from_mins(61);
        assert!(watch.is_raised && watch.since == since, "{watch:?}");
        assert!((watch.worst - 4.1).abs() < 1e-9, "{watch:?}");
    }

    #[test]
    fn a_bound_that_is_taken_away_ends_its_alarm() {
        let (_, mut watch) = heard([4.0, 4.0]);
        let mut told = Vec::new();
        for minute in 0..2 {
            let at = Timestamp::UNIX_EPOCH + SignedDuration::from_mins(90 + minute);
            told.push(watch.hear(Analyte::OXYGEN, &Bounds::default(), at, 4.0));
        }
        assert_eq!(told, [Heard::Nothing, Heard::Ended]);
    }

    /// Whatever can be read has something to do first, and a usual bound lies among what can be.
    #[test]
    fn every_thing_that_is_read_has_bounds_and_advice_that_fit() {
        for start in start::ALL {
            let tank = start.tank();
            for analyte in Analyte::ALL {
                let bounds = Bounds::usual(analyte, &tank);
                for side in [Side::Below, Side::Above] {
                    assert!(Advice::of(analyte, side).now.ends_with('.'));
                    if let Some(bound) = bounds.on(side) {
                        assert!(analyte.holds(bound), "{} {bound}", analyte.id);
                    }
                }
            }
            // What is bounded by itself has advice of its own.
            for analyte in Analyte::ALL {
                let bounds = Bounds::usual(analyte, &tank);
                for side in [Side::Below, Side::Above] {
                    let other = Advice::of(Analyte::COPPER, Side::Below);
                    let has_own = Advice::of(analyte, side) != other;
                    assert!(has_own || bounds.on(side).is_none(), "{}", analyte.id);
                }
            }
            let oxygen = Bounds::usual(Analyte::OXYGEN, &tank);
            assert!(oxygen.low.is_some_and(|low| low > 3.0) && oxygen.high.is_none());
        }
    }

    #[test]
    fn hours_of_quiet_go_over_midnight() {
        let night = Quiet {
            from: time(22, 0, 0, 0),
            until: time(7, 0, 0, 0),
        };
        let quiet = [23, 3, 6, 7, 12, 21].map(|hour| night.holds(time(hour, 30, 0, 0)));
        assert_eq!(quiet, [true, true, true, false, false, false]);
    }
}
