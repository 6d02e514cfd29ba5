//! The oxygen of one well-mixed box through a day, in closed form.
//!
//! `dC/dt = k(t)·(Cs − C) + P(t) − R`: exchange towards saturation, a half-sine of plant production
//! while the lights are on, constant respiration. Between switching times (lights, night air) `k`
//! is constant and the equation has an exact solution, so a day costs a handful of exponentials
//! instead of a thousand small steps, and the settled day, which repeats itself, follows from one
//! pass because the day's map `C(0) → C(24)` is a straight line.
//!
//! The respiration does not fall as oxygen runs out, so the solution may go below zero: it is
//! reported as 0. Upwards the equation knows no bound where plants make more than is used and
//! little leaves through the surface; water does: what it cannot hold leaves as bubbles, so each
//! leg ends at [`CEILING`] at most.

use std::f64::consts::PI;

use crate::figure::Figure;

/// Most oxygen that water keeps in the light, as a share of saturation: above it plants pearl.
pub const CEILING: Figure = Figure::from_memory(1.6);

/// No open water is without any exchange; at none at all the day's solution would divide by zero.
/// Numeric, no result hangs on it.
const LEAST_EXCHANGE_PER_H: f64 = 1e-7;

/// What acts on the water between two switching times.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Leg {
    /// Start, hours after midnight.
    pub from_hour: f64,
    /// End, hours after midnight.
    pub to_hour: f64,
    /// The lights are on.
    pub lit: bool,
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
    /// The day cut at midnight and where the lights switch; in order, from 0 to 24 without gaps,
    /// some of no length.
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
            let exchange_per_h = if lit {
                lit_exchange_per_h
            } else {
                dark_exchange_per_h
            };
            Leg {
                from_hour,
                to_hour,
                lit,
                exchange_per_h: exchange_per_h.max(LEAST_EXCHANGE_PER_H),
            }
        };
        let (first, second) = (on.min(off), on.max(off));
        let legs = [leg(0.0, first), leg(first, second), leg(second, 24.0)];
        Self {
            saturation_mg_l,
            demand_mg_l_h,
            production_peak_mg_l_h,
            lights_on_hour: on,
            light_hours,
            legs,
        }
    }

    /// The same day with exchange and demand scaled: how the day looks if the figures behind them
    /// are off.
    #[must_use]
    pub fn scaled(self, exchange: f64, demand: f64) -> Self {
        let mut scaled = self;
        scaled.demand_mg_l_h *= demand;
        for leg in &mut scaled.legs {
            leg.exchange_per_h *= exchange;
        }
        scaled
    }

    fn ceiling_mg_l(&self) -> f64 {
        CEILING.value * self.saturation_mg_l
    }

    /// The lights are on at this hour.
    pub fn is_lit(&self, hour: f64) -> bool {
        (hour - self.lights_on_hour).rem_euclid(24.0) < self.light_hours
    }

    /// Slowest exchange of the day, per hour: what limits how fast a new day settles.
    pub fn slowest_exchange_per_h(&self) -> f64 {
        self.legs
            .iter()
            .map(|leg| leg.exchange_per_h)
            .fold(f64::INFINITY, f64::min)
    }

    /// The solution within a leg at whose beginning the oxygen is `start` mg/L.
    ///
    /// `C(h) = rest + sun(u) + (start − rest − sun(u₀)) e^(−k(h − from))` with `rest = Cs − R/k`
    /// and, u hours after lights-on, the particular solution of the half-sine `sun(u) = P (k sin wu
    /// − w cos wu)/(k² + w²)`.
    fn solve(&self, leg: &Leg, start: f64) -> Solution {
        let k = leg.exchange_per_h;
        let rest = self.saturation_mg_l - self.demand_mg_l_h / k;
        let mut solution = Solution {
            leg: *leg,
            rest,
            decaying: 0.0,
            sine: 0.0,
            cosine: 0.0,
            per_h: 0.0,
            phase: 0.0,
        };
        if leg.lit && self.production_peak_mg_l_h > 0.0 {
            let w = PI / self.light_hours;
            let scale = self.production_peak_mg_l_h / (k * k + w * w);
            solution.sine = scale * k;
            solution.cosine = -scale * w;
            solution.per_h = w;
            solution.phase = w * (leg.from_hour - self.lights_on_hour).rem_euclid(24.0);
        }
        solution.decaying = start - rest - solution.sun(leg.from_hour);
        solution
    }

    /// Runs the day from `start` at midnight; gives the solution of each leg and the oxygen at the
    /// next midnight.
    fn pass(&self, start: f64) -> ([Solution; 3], f64) {
        let mut at = start;
        let solutions = self.legs.map(|leg| {
            let solution = self.solve(&leg, at);
            at = solution.at(leg.to_hour).min(self.ceiling_mg_l());
            solution
        });
        (solutions, at)
    }

    /// Oxygen so many hours after a midnight at which it was `start` mg/L. Any number of days;
    /// never below 0.
    pub fn after_midnight(&self, start: f64, hours: f64) -> f64 {
        let mut at = start;
        let mut left = hours;
        while left > 24.0 {
            at = self.pass(at).1;
            left -= 24.0;
        }
        let (solutions, midnight) = self.pass(at);
        solutions
            .iter()
            .find(|solution| left <= solution.leg.to_hour)
            .map_or(midnight, |solution| solution.at(left))
            .clamp(0.0, self.ceiling_mg_l())
    }

    /// Oxygen a short while after it was `level` mg/L at this hour, with the rates of the middle of
    /// that while; never below 0.
    pub fn step(&self, level: f64, hour: f64, hours: f64) -> f64 {
        let middle = (hour + hours / 2.0).rem_euclid(24.0);
        let leg = self
            .legs
            .iter()
            .find(|leg| middle < leg.to_hour)
            .unwrap_or(&self.legs[2]);
        let since = (middle - self.lights_on_hour).rem_euclid(24.0);
        let plants = if leg.lit {
            self.production_peak_mg_l_h * (PI * since / self.light_hours).sin()
        } else {
            0.0
        };
        let rest = self.saturation_mg_l + (plants - self.demand_mg_l_h) / leg.exchange_per_h;
        (rest + (level - rest) * (-leg.exchange_per_h * hours).exp())
            .clamp(0.0, self.ceiling_mg_l())
    }

    /// The day that repeats itself.
    pub fn settled(self) -> Settled {
        let from_zero = self.pass(0.0).1;
        // Whatever the day starts with decays by this factor until the next midnight.
        let kept = (-self
            .legs
            .iter()
            .map(|leg| leg.exchange_per_h * (leg.to_hour - leg.from_hour))
            .sum::<f64>())
        .exp();
        let mut midnight = (from_zero / (1.0 - kept)).min(self.ceiling_mg_l());
        // A day that meets the ceiling is no straight line; but it forgets there what it started
        // with, so that the next pass or two find the day that repeats itself. A day below it comes
        // out right at once.
        for _ in 0..20 {
            let (solutions, next) = self.pass(midnight);
            if (next - midnight).abs() < 1e-9 * self.saturation_mg_l {
                return Settled {
                    course: self,
                    solutions,
                };
            }
            midnight = next;
        }
        Settled {
            course: self,
            solutions: self.pass(midnight).0,
        }
    }
}

/// The oxygen within one leg, in closed form.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Solution {
    leg: Leg,
    /// Where it would come to rest in the dark.
    rest: f64,
    /// What is left at the start of the leg to decay.
    decaying: f64,
    /// Amplitudes of the sun's share; zero in the dark.
    sine: f64,
    cosine: f64,
    /// Angular speed of the half-sine.
    per_h: f64,
    /// Its angle at the start of the leg.
    phase: f64,
}

impl Solution {
    fn sun(&self, hour: f64) -> f64 {
        if self.per_h == 0.0 {
            return 0.0;
        }
        let (sin, cos) = (self.phase + self.per_h * (hour - self.leg.from_hour)).sin_cos();
        self.sine * sin + self.cosine * cos
    }

    fn at(&self, hour: f64) -> f64 {
        self.rest
            + self.sun(hour)
            + self.decaying * (-self.leg.exchange_per_h * (hour - self.leg.from_hour)).exp()
    }
}

/// A day that repeats itself: the oxygen to expect at each hour once things have been so for a
/// while.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Settled {
    /// What drives it.
    pub course: Course,
    solutions: [Solution; 3],
}

impl Settled {
    /// Oxygen at this hour of the day, mg/L, never below 0.
    pub fn at(&self, hour: f64) -> f64 {
        let hour = hour.rem_euclid(24.0);
        self.solutions
            .iter()
            .find(|solution| hour < solution.leg.to_hour)
            .unwrap_or(&self.solutions[2])
            .at(hour)
            .clamp(0.0, self.course.ceiling_mg_l())
    }

    /// The lowest point, to a few minutes: hour of the day and mg/L.
    ///
    /// Within a dark leg the curve only rises or only falls, so it is lowest at an end of one, or
    /// shortly after lights-on, before the plants make more than is used.
    pub fn lowest(&self) -> (f64, f64) {
        let ends = self
            .course
            .legs
            .map(|leg| (leg.from_hour, self.at(leg.from_hour)));
        let best = ends
            .into_iter()
            .fold(ends[0], |best, end| if end.1 < best.1 { end } else { best });
        let dawn = self.turn_after_dawn();
        if dawn.1 < best.1 {
            (dawn.0.rem_euclid(24.0), dawn.1)
        } else {
            best
        }
    }

    /// Where the curve turns upwards in the first half of the light: production grows all that
    /// while, so it turns once.
    fn turn_after_dawn(&self) -> (f64, f64) {
        let course = &self.course;
        let exchange = course
            .legs
            .iter()
            .find(|leg| leg.lit)
            .map_or(0.0, |leg| leg.exchange_per_h);
        let rises = |since_dawn: f64| {
            let sun = course.production_peak_mg_l_h * (PI * since_dawn / course.light_hours).sin();
            exchange * (course.saturation_mg_l - self.at(course.lights_on_hour + since_dawn)) + sun
                > course.demand_mg_l_h
        };
        let (mut early, mut late) = (0.0, course.light_hours / 2.0);
        if course.production_peak_mg_l_h > 0.0 && !rises(early) {
            for _ in 0..8 {
                let middle = f64::midpoint(early, late);
                if rises(middle) {
                    late = middle;
                } else {
                    early = middle;
                }
            }
        }
        (
            course.lights_on_hour + early,
            self.at(course.lights_on_hour + early),
        )
    }

    /// The highest point, to a quarter of an hour: hour of the day and mg/L.
    pub fn highest(&self) -> (f64, f64) {
        (0..96)
            .map(|i| f64::from(i) / 4.0)
            .map(|hour| (hour, self.at(hour)))
            .fold(
                (0.0, f64::MIN),
                |best, here| if here.1 > best.1 { here } else { best },
            )
    }

    /// Hours until the day has settled to within a tenth of the change that led to it.
    pub fn hours_to_settle(&self) -> f64 {
        std::f64::consts::LN_10 / self.course.slowest_exchange_per_h()
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
            let (start, midnight) = (day.solutions[0].at(0.0), day.solutions[2].at(24.0).min(day.course.ceiling_mg_l()));
            prop_assert!((midnight - start).abs() < 1e-6 * midnight.abs().max(1.0), "{midnight} after {start}");
            let scanned = (0..2400).map(|i| day.at(f64::from(i) / 100.0)).fold(f64::INFINITY, f64::min);
            prop_assert!(day.lowest().1 - scanned < 0.02, "lowest {:?} but {scanned} was seen", day.lowest());
            // The slope of the curve, by differences, against the right-hand side; not across a
            // switch, nor where it is clipped.
            let (h, before, after) = (1e-4, day.at(at - 1e-4), day.at(at + 1e-4));
            let switch = [on, (on + hours) % 24.0].iter().any(|switch| (at - switch).abs() < 1e-2);
            if !switch && before > 0.0 && before < day.course.ceiling_mg_l() - 1e-3 {
                let u = (at - on).rem_euclid(24.0);
                let sun = if day.course.is_lit(at) { peak * (std::f64::consts::PI * u / hours).sin() } else { 0.0 };
                let k = if day.course.is_lit(at) { lit } else { dark };
                let expected = k * (8.2 - day.at(at)) + sun - demand;
                prop_assert!(((after - before) / (2.0 * h) - expected).abs() < 1e-4, "slope {} not {expected}", (after - before) / (2.0 * h));
            }
        }
    }

    /// Many short steps end where the closed form does.
    #[test]
    fn short_steps_follow_the_day() {
        let course = Course::new(8.2, 0.4, 1.2, (9.0, 10.0), (0.5, 0.2));
        let mut level = 5.0;
        for step in 0..(30 * 20) {
            level = course.step(level, f64::from(step) / 20.0, 0.05);
        }
        assert!(
            (level - course.after_midnight(5.0, 30.0)).abs() < 5e-3,
            "{level} and {}",
            course.after_midnight(5.0, 30.0)
        );
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
        assert!(
            low < 6.4 && day.highest().1 > 8.0,
            "{low} {:?}",
            day.highest()
        );
    }

    /// Found by a test over random tanks: plants in deep, still water were forecast at 139 mg/L.
    #[test]
    fn plants_in_almost_sealed_water_stop_at_the_ceiling_and_the_night_starts_there() {
        let day = Course::new(8.0, 0.3, 3.0, (8.0, 10.0), (1e-4, 1e-4)).settled();
        assert!((day.highest().1 - 12.8).abs() < 1e-6 && (day.at(18.0) - 12.8).abs() < 1e-6);
        // Fourteen hours of the night at 0.3 mg/L per hour.
        assert!(
            (day.at(8.0) - (12.8 - 14.0 * 0.3)).abs() < 0.02,
            "{}",
            day.at(8.0)
        );
    }

    #[test]
    fn a_tank_without_any_exchange_runs_empty_and_says_zero() {
        let day = Course::new(8.0, 0.5, 0.0, (9.0, 10.0), (0.0, 0.0)).settled();
        assert!(day.lowest().1.abs() < 1e-12 && day.hours_to_settle().is_finite());
    }
}
