//! The two-step cycle against an independent integrator: every number of its tables, every kind of
//! event of their specification, and the settled state in closed form.

use reed_core::tank::PerSpecies;
use reed_core::units::Temperature;
use reed_core::water::nitrogen::cycle::{Conditions, Kinetics, State};
use reed_fixtures::reference;
use serde_json::Value;

/// In steps of a hundredth of a day the equations are the table's to this, mg/L or meq/L.
const TOLERANCE: f64 = 1e-6;
/// What the longer steps that the application takes may lose of that: a kit reads a hundred times
/// more coarsely.
const OF_ITS_OWN_STEPS: f64 = 2e-4;
/// A grid of a hundredth of a day, as the tables of marks have it.
const GRID: f64 = 0.01;
/// Below this a step counts as through, mg N/L: as the tables of marks have it.
const THROUGH: f64 = 0.1;

/// Days that are the same to the printing of the tables.
const MOMENT: f64 = 1e-9;

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

/// A tank of the tables on its way.
struct Course<'a> {
    /// What is still to happen.
    events: &'a [Value],
    state: State,
    conditions: Conditions,
    /// Days since its start.
    day: f64,
}

impl<'a> Course<'a> {
    fn of(scenario: &'a Value) -> Self {
        let start = |key: &str| number(&scenario["y0"][key]);
        Self {
            events: scenario["events"].as_array().expect("events"),
            state: State {
                tan: start("TAN"),
                nitrite: start("NO2N"),
                nitrate: start("NO3N"),
                colonies: [start("X_A"), start("X_N")],
                alkalinity: start("alk"),
                ..State::default()
            },
            conditions: Conditions {
                temperature: Temperature::celsius(number(&scenario["T"])),
                oxygen: number(&scenario["DO"]),
                load: number(&scenario["load"]),
                alkalinity_of_load: number(&scenario["a_load"]),
                most: [f64::INFINITY; 2],
                media: PerSpecies::default(),
                in_filters: 0.0,
            },
            day: 0.0,
        }
    }

    fn advance(&mut self, day: f64) {
        let days = day - self.day;
        self.state
            .advance(&Kinetics::default(), &self.conditions, days);
        self.day = day;
    }

    /// On to a day, with what happens before it; what happens on it comes after.
    fn until(&mut self, day: f64) {
        while let Some(event) = self.next_before(day - MOMENT) {
            self.advance(number(&event["day"]));
            self.happens(event);
        }
        self.advance(day);
    }

    /// On to a day in steps of so many days.
    fn until_in_steps(&mut self, day: f64, step: f64) {
        while self.day + step < day - MOMENT {
            self.until(self.day + step);
        }
        self.until(day);
    }

    /// What happens on the day that it has come to.
    fn happens_today(&mut self) {
        while let Some(event) = self.next_before(self.day + MOMENT) {
            self.happens(event);
        }
    }

    /// Takes the next event off the list if it comes before a day.
    fn next_before(&mut self, day: f64) -> Option<&'a Value> {
        let (next, rest) = self.events.split_first()?;
        (number(&next["day"]) < day).then(|| {
            self.events = rest;
            next
        })
    }

    fn species(&self) -> [f64; 2] {
        [self.state.tan, self.state.nitrite]
    }

    fn happens(&mut self, event: &Value) {
        let value = |key: &str| event.get(key).map_or(0.0, number);
        match event["kind"].as_str().expect("a kind") {
            "change" => {
                let source = State {
                    nitrate: value("NO3N"),
                    alkalinity: value("alk"),
                    ..State::default()
                };
                self.state.change_water(value("fraction"), &source);
            }
            "kill" => self.state.thin([1.0 - value("AOB"), 1.0 - value("NOB")]),
            "dose" => self.state.tan += value("value"),
            "load" => self.conditions.load = value("value"),
            "DO" => self.conditions.oxygen = value("value"),
            "T" => self.conditions.temperature = Temperature::celsius(value("value")),
            other => panic!("{other} is no event of the tables"),
        }
    }
}

fn scenarios() -> serde_json::Map<String, Value> {
    let file: Value =
        serde_json::from_str(&reference::text("nitrogen_scenarios.json")).expect("scenarios");
    file["scenarios"].as_object().expect("by name").clone()
}

fn rows(tables: [&str; 2]) -> Vec<reference::Row> {
    tables.into_iter().flat_map(reference::rows).collect()
}

#[test]
fn every_number_of_the_tables_is_met() {
    let rows = rows(["nitrogen_cycle.csv", "nitrogen_cycle_events.csv"]);
    let scenarios = scenarios();
    let mut checked = 0;
    for (step, tolerance) in [(1.0, OF_ITS_OWN_STEPS), (GRID, TOLERANCE)] {
        for (name, scenario) in &scenarios {
            let mut course = Course::of(scenario);
            for row in rows.iter().filter(|row| row.text("scenario") == name) {
                course.until_in_steps(row.number("day"), step);
                let state = &course.state;
                for (ours, column) in [
                    (state.tan, "TAN"),
                    (state.nitrite, "NO2N"),
                    (state.nitrate, "NO3N"),
                    (state.colonies[0], "X_A"),
                    (state.colonies[1], "X_N"),
                    (state.alkalinity, "alk"),
                ] {
                    let theirs = row.number(column);
                    assert!(
                        (ours - theirs).abs() < tolerance,
                        "{name}, day {}, {column}: {ours}, not {theirs}",
                        course.day
                    );
                }
                checked += 1;
            }
        }
    }
    assert_eq!(checked, 2 * rows.len(), "a row is of no scenario");
}

/// Highest value and its day, and the day from which it stays below [`THROUGH`].
#[derive(Default)]
struct Mark {
    highest: f64,
    on_day: f64,
    through: Option<f64>,
    last: f64,
}

impl Mark {
    fn peaks(&mut self, value: f64, day: f64) {
        if value > self.highest {
            (self.highest, self.on_day) = (value, day);
        }
    }

    /// Comes to a value on a day, in a straight line over the days since the last one.
    fn comes_to(&mut self, value: f64, day: f64, days: f64) {
        if value >= THROUGH {
            self.through = None;
        } else if self.last >= THROUGH {
            let left = (THROUGH - value) / (self.last - value);
            self.through = Some(day - left * days);
        }
        self.last = value;
    }
}

/// Peaks and the days on which ammonia and nitrite are through.
#[test]
fn peaks_and_the_days_on_which_a_step_is_through_are_met() {
    let scenarios = scenarios();
    let rows = rows(["nitrogen_marks.csv", "nitrogen_marks_events.csv"]);
    assert_eq!(rows.len(), scenarios.len());
    for row in rows {
        let scenario = &scenarios[row.text("scenario")];
        let mut course = Course::of(scenario);
        let mut marks = [Mark::default(), Mark::default()];
        // Their grid ends before the last day.
        let last = number(&scenario["tend"]) - GRID / 2.0;
        let days = (0_u32..).map(|step| f64::from(step) * GRID);
        for day in days.take_while(|day| *day < last) {
            course.until(day);
            for (mark, value) in marks.iter_mut().zip(course.species()) {
                mark.comes_to(value, day, GRID);
            }
            // A change of water takes the value below the mark at once; the table's peaks are of
            // the water after it.
            course.happens_today();
            for (mark, value) in marks.iter_mut().zip(course.species()) {
                mark.comes_to(value, day, 0.0);
                mark.peaks(value, day);
            }
        }
        for (mark, name) in marks.iter().zip(["tan", "no2"]) {
            let told = format!("{} {name}", row.text("scenario"));
            let highest = row.number(&format!("{name}_peak"));
            assert!(
                (mark.highest - highest).abs() < TOLERANCE,
                "{told}: {} not {highest}",
                mark.highest
            );
            let on_day = row.number(&format!("{name}_peak_day"));
            assert!(
                (mark.on_day - on_day).abs() < 0.02,
                "{told}: on day {} not {on_day}",
                mark.on_day
            );
            let column = format!("{name}_done");
            match mark.through {
                Some(day) => assert!(
                    (day - row.number(&column)).abs() < 1e-3,
                    "{told}: through on day {day} not {}",
                    row.text(&column)
                ),
                None => assert_eq!(row.text(&column), "", "{told}"),
            }
        }
    }
}

/// The settled state against its closed form.
#[test]
fn a_settled_cycle_meets_its_closed_form() {
    for row in reference::rows("nitrogen_steady.csv") {
        let conditions = Conditions {
            temperature: Temperature::celsius(row.number("T")),
            oxygen: row.number("DO"),
            load: row.number("load"),
            // What nitrification takes comes back: alkalinity stays.
            alkalinity_of_load: 1.0 / 7.0,
            most: [f64::INFINITY; 2],
            media: PerSpecies::default(),
            in_filters: 0.0,
        };
        let kinetics = Kinetics::default();
        let colonies = kinetics.settled(&conditions);
        assert!(
            (colonies[0] / row.number("X_A") - 1.0).abs() < 1e-6
                && (colonies[1] / row.number("X_N") - 1.0).abs() < 1e-6
        );
        let mut state = State {
            colonies,
            alkalinity: row.number("alk"),
            tan: row.number("TAN"),
            nitrite: row.number("NO2N"),
            ..State::default()
        };
        state.advance(&kinetics, &conditions, 30.0);
        assert!(
            (state.tan - row.number("TAN")).abs() < 1e-3
                && (state.nitrite - row.number("NO2N")).abs() < 1e-3,
            "{state:?}"
        );
    }
}
