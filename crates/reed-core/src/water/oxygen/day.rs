//! The oxygen of one well-mixed box through a day, in closed form.
//!
//! `dC/dt = k(t)·(Cs − C) + P(t) − R`: exchange towards saturation, a half-sine of plant production while the lights
//! are on, constant respiration. Between switching times (lights, night air) `k` is constant and the equation has an
//! exact solution, so a day costs a handful of exponentials instead of a thousand small steps, and the settled day,
//! which repeats itself, follows from one pass because the day's map `C(0) → C(24)` is a straight line.
//!
//! The respiration does not fall as oxygen runs out, so the solution may go below zero: it is reported as 0.

use std::f64::consts::PI;

/// What acts on the water between two switching times.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Leg {
    /// Start, hours after midnight.
    pub from_hour: f64,
    /// End, hours after midnight.
    pub to_hour: f64,
    /// Exchange rate per hour.
    pub exchange_per_h: f64,
}

/// Everything that drives the oxygen of a tank over a day, the same every day.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Course {
    /// Oxygen at saturation, mg/L.
    pub saturation_mg_l: f64,
    /// Use of oxygen, mg/L per hour, day and night.
    pub demand_mg_l_h: f64,
    /// Peak of the plants' half-sine, mg/L per hour.
    pub production_peak_mg_l_h: f64,
    /// Hour at which the lights go on.
    pub lights_on_hour: f64,
    /// Hours of light.
    pub light_hours: f64,
    /// The day cut at midnight and where the lights switch; in order, from 0 to 24 without gaps, some of no length.
    legs: [Leg; 3],
}

impl Course {
    /// Cuts the day where the lights or the exchange change.
    ///
    /// `exchange_per_h` gives the rate with the lights on and off.
    pub fn new(
        saturation_mg_l: f64,
        demand_mg_l_h: f64,
        production_peak_mg_l_h: f64,
        (lights_on_hour, light_hours): (f64, f64),
        (lit_exchange_per_h, dark_exchange_per_h): (f64, f64),
    ) -> Self {
        let on = lights_on_hour.rem_euclid(24.0);
        let off = (on + light_hours).rem_euclid(24.0);
        let is_lit = |hour: f64| (hour - on).rem_euclid(24.0) < light_hours;
        let leg = |from_hour: f64, to_hour: f64| {
            let lit = is_lit(f64::midpoint(from_hour, to_hour));
            Leg { from_hour, to_hour, exchange_per_h: if lit { lit_exchange_per_h } else { dark_exchange_per_h } }
        };
        let (first, second) = (on.min(off), on.max(off));
        let legs = [leg(0.0, first), leg(first, second), leg(second, 24.0)];
        Self { saturation_mg_l, demand_mg_l_h, production_peak_mg_l_h, lights_on_hour: on, light_hours, legs }
    }

    /// The same day with exchange and demand scaled: how the day looks if the figures behind them are off.
    #[must_use]
    pub fn scaled(self, exchange: f64, demand: f64) -> Self {
        let mut scaled = self;
        scaled.demand_mg_l_h *= demand;
        for leg in &mut scaled.legs {
            leg.exchange_per_h *= exchange;
        }
        scaled
    }

    /// The lights are on at this hour.
    pub fn is_lit(&self, hour: f64) -> bool {
        (hour - self.lights_on_hour).rem_euclid(24.0) < self.light_hours
    }

    /// Slowest exchange of the day, per hour: what limits how fast a new day settles.
    pub fn slowest_exchange_per_h(&self) -> f64 {
        self.legs.iter().map(|leg| leg.exchange_per_h).fold(f64::INFINITY, f64::min)
    }

    /// Oxygen at `hour`, having been `start` mg/L at `from_hour` within the same leg.
    fn within_leg(&self, leg: &Leg, start: f64, from_hour: f64, hour: f64) -> f64 {
        let k = leg.exchange_per_h;
        let elapsed = hour - from_hour;
        let lit = self.production_peak_mg_l_h > 0.0 && self.is_lit(f64::midpoint(leg.from_hour, leg.to_hour));
        // Particular solution of the half-sine: P (k sin wu − w cos wu)/(k² + w²), u hours after lights-on.
        let sun = |hour: f64| {
            if !lit {
                return 0.0;
            }
            let w = PI / self.light_hours;
            let u = (leg.from_hour - self.lights_on_hour).rem_euclid(24.0) + (hour - leg.from_hour);
            self.production_peak_mg_l_h * (k * (w * u).sin() - w * (w * u).cos()) / (k * k + w * w)
        };
        if k < 1e-9 {
            // Without exchange the balance is a plain sum; k → 0 of the general form would divide by zero.
            return start - self.demand_mg_l_h * elapsed + sun(hour) - sun(from_hour);
        }
        let rest = self.saturation_mg_l - self.demand_mg_l_h / k;
        rest + sun(hour) + (start - rest - sun(from_hour)) * (-k * elapsed).exp()
    }

    /// Runs the day from `start` at midnight; gives the oxygen at the start of each leg and at the next midnight.
    fn pass(&self, start: f64) -> ([f64; 3], f64) {
        let mut at = start;
        let starts = self.legs.map(|leg| {
            let begin = at;
            at = self.within_leg(&leg, begin, leg.from_hour, leg.to_hour);
            begin
        });
        (starts, at)
    }

    /// Oxygen so many hours after a midnight at which it was `start` mg/L. Any number of days; never below 0.
    pub fn after_midnight(&self, start: f64, hours: f64) -> f64 {
        let mut at = start;
        let mut left = hours;
        while left > 24.0 {
            at = self.pass(at).1;
            left -= 24.0;
        }
        for leg in &self.legs {
            if left <= leg.to_hour {
                at = self.within_leg(leg, at, leg.from_hour, left);
                break;
            }
            at = self.within_leg(leg, at, leg.from_hour, leg.to_hour);
        }
        at.max(0.0)
    }

    /// The day that repeats itself.
    pub fn settled(self) -> Settled {
        let from_zero = self.pass(0.0).1;
        let slope = self.pass(1.0).1 - from_zero;
        // Without any exchange the slope is 1 and no day repeats itself; the limit of a vanishing exchange stands in.
        let midnight = from_zero / (1.0 - slope).max(1e-9);
        let starts = self.pass(midnight).0;
        Settled { course: self, starts }
    }
}

/// A day that repeats itself: the oxygen to expect at each hour once things have been so for a while.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Settled {
    /// What drives it.
    pub course: Course,
    /// Oxygen at the start of each leg, mg/L.
    starts: [f64; 3],
}

impl Settled {
    /// Oxygen at this hour of the day, mg/L, never below 0.
    pub fn at(&self, hour: f64) -> f64 {
        let hour = hour.rem_euclid(24.0);
        let index = self.course.legs.iter().position(|leg| hour < leg.to_hour).unwrap_or(self.starts.len() - 1);
        let leg = &self.course.legs[index];
        self.course.within_leg(leg, self.starts[index], leg.from_hour, hour).max(0.0)
    }

    /// The lowest point, to a quarter of an hour: hour of the day and mg/L.
    ///
    /// Within a dark leg the curve only rises or only falls, so it is lowest at an end of one, or shortly after
    /// lights-on, before the plants make more than is used.
    pub fn lowest(&self) -> (f64, f64) {
        let ends = self.course.legs.map(|leg| (leg.from_hour, self.at(leg.from_hour)));
        let mut best = ends.into_iter().fold(ends[0], |best, end| if end.1 < best.1 { end } else { best });
        let mut dawn = (self.course.lights_on_hour, self.at(self.course.lights_on_hour));
        while dawn.0 < self.course.lights_on_hour + self.course.light_hours / 2.0 {
            let next = (dawn.0 + 0.25, self.at(dawn.0 + 0.25));
            if next.1 >= dawn.1 {
                break;
            }
            dawn = next;
        }
        if dawn.1 < best.1 {
            best = (dawn.0.rem_euclid(24.0), dawn.1);
        }
        best
    }

    /// The highest point, to a quarter of an hour: hour of the day and mg/L.
    pub fn highest(&self) -> (f64, f64) {
        (0..96)
            .map(|i| f64::from(i) / 4.0)
            .map(|hour| (hour, self.at(hour)))
            .fold((0.0, f64::MIN), |best, here| if here.1 > best.1 { here } else { best })
    }

    /// Hours until the day has settled to within a tenth of the change that led to it.
    pub fn hours_to_settle(&self) -> f64 {
        std::f64::consts::LN_10 / self.course.slowest_exchange_per_h().max(1e-9)
    }
}

#[cfg(test)]
mod tests {
    use super::Course;
    use proptest::prelude::{prop_assert, proptest};

    proptest! {
        #[test]
        fn the_settled_day_repeats_itself_and_obeys_the_equation(
            on in 0.0..24.0_f64, hours in 0.0..24.0_f64, lit in 0.01..3.0_f64, dark in 0.01..3.0_f64,
            demand in 0.0..1.0_f64, peak in 0.0..3.0_f64, at in 0.1..23.9_f64,
        ) {
            let day = Course::new(8.2, demand, peak, (on, hours), (lit, dark)).settled();
            let midnight = day.course.pass(day.starts[0]).1;
            prop_assert!((midnight - day.starts[0]).abs() < 1e-6 * midnight.abs().max(1.0), "{midnight} after {}", day.starts[0]);
            let scanned = (0..2400).map(|i| day.at(f64::from(i) / 100.0)).fold(f64::INFINITY, f64::min);
            prop_assert!(day.lowest().1 - scanned < 0.02, "lowest {:?} but {scanned} was seen", day.lowest());
            // The slope of the curve, by differences, against the right-hand side; not across a switch, nor where it is clipped.
            let (h, before, after) = (1e-4, day.at(at - 1e-4), day.at(at + 1e-4));
            let switch = [on, (on + hours) % 24.0].iter().any(|switch| (at - switch).abs() < 1e-2);
            if !switch && before > 0.0 {
                let u = (at - on).rem_euclid(24.0);
                let sun = if day.course.is_lit(at) { peak * (std::f64::consts::PI * u / hours).sin() } else { 0.0 };
                let k = if day.course.is_lit(at) { lit } else { dark };
                let expected = k * (8.2 - day.at(at)) + sun - demand;
                prop_assert!(((after - before) / (2.0 * h) - expected).abs() < 1e-4, "slope {} not {expected}", (after - before) / (2.0 * h));
            }
        }
    }

    #[test]
    fn without_plants_the_day_is_flat_at_saturation_less_demand_over_exchange() {
        let day = Course::new(8.0, 0.5, 0.0, (9.0, 10.0), (0.5, 0.5)).settled();
        assert!((day.lowest().1 - 7.0).abs() < 1e-9 && (day.highest().1 - 7.0).abs() < 1e-9);
    }

    #[test]
    fn plants_put_the_lowest_point_at_the_end_of_the_night() {
        let day = Course::new(8.0, 0.5, 2.0, (9.0, 10.0), (0.3, 0.3)).settled();
        let (hour, low) = day.lowest();
        assert!((8.5..=9.75).contains(&hour), "{hour}");
        assert!(low < 6.4 && day.highest().1 > 8.0, "{low} {:?}", day.highest());
    }

    #[test]
    fn a_tank_without_any_exchange_runs_empty_and_says_zero() {
        let day = Course::new(8.0, 0.5, 0.0, (9.0, 10.0), (0.0, 0.0)).settled();
        assert!(day.lowest().1.abs() < 1e-12 && day.hours_to_settle().is_finite());
    }
}
