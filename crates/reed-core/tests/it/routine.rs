//! The routine: what completes it, what moves it, and how visits are made of it.

use std::collections::BTreeSet;

use jiff::ToSpan;
use jiff::civil::{Date, DateTime, date};
use proptest::prelude::{Strategy, prop_assert, prop_assert_eq, proptest};
use reed_core::document::start;
use reed_core::filter::State as FilterState;
use reed_core::log::{Details, Effect, Entry, Happening, Layer, On, When};
use reed_core::outlook::forecast::Grade;
use reed_core::routine::feeding::{Plan, Stands, carried_g};
use reed_core::routine::visits::{self, APART_DAYS, Job, Rules, visits};
use reed_core::routine::{
    self, Because, DoneBy, Known, Record as Entries, Stake, Standing, State, Watched, kinds,
    standing,
};
use reed_core::tank::{
    Activity, Analyte, ChemicalSchool, FeedingSchool, Medium, Portion, Purpose, Reading,
    SeedingSchool, Serial, StockGroup, Tank,
};
use reed_core::twin::Twin;
use reed_core::twin::numbers::{Numbers, capacity_ratio};
use reed_core::units::{Mass, Temperature, Volume};

const NOW: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

/// A tank with its record, for asking.
struct Record {
    tank: Tank,
    log: Vec<Entry>,
    readings: Vec<Reading>,
    watched: Vec<Watched>,
    oxygen: Grade,
}

impl Record {
    fn of(id: &str) -> Self {
        let mut tank = start::by_id(id).expect("listed").tank();
        tank.set_up = Some(date(2023, 5, 1));
        Self {
            tank,
            log: Vec::new(),
            readings: Vec::new(),
            watched: Vec::new(),
            oxygen: Grade::Good,
        }
    }

    fn standing(&self) -> Vec<Standing> {
        let state = |filter| FilterState::of(&self.tank, filter, &self.log, None, NOW);
        let filters: Vec<(Serial, FilterState)> = self
            .tank
            .filters
            .iter()
            .map(|filter| (filter.number, state(filter)))
            .collect();
        standing(&Known {
            tank: &self.tank,
            log: &Entries::of(self.log.clone()),
            readings: &self.readings,
            filters: &filters,
            oxygen: self.oxygen,
            watched: &self.watched,
            entered: date(2026, 3, 1),
            now: NOW,
        })
    }

    fn task(&self, id: &str) -> Standing {
        let mut all = self.standing().into_iter();
        all.find(|standing| standing.task == id)
            .unwrap_or_else(|| panic!("{id} is no task of {}", self.tank.name))
    }

    fn log(&mut self, kind: &str, day: Date) -> &mut Entry {
        let kind = Happening::by_id(kind).expect("listed");
        self.log.push(Entry::of(kind, When::day(day)));
        self.log.last_mut().expect("just added")
    }

    fn read(&mut self, analyte: &'static Analyte, value: f64, day: Date) {
        let at = day.at(9, 0, 0, 0);
        self.readings.push(Reading::usual(analyte, value, at));
    }
}

#[expect(clippy::cast_possible_truncation, reason = "some months at most")]
fn whole_days(days: f64) -> i64 {
    days.floor() as i64
}

const CANISTER: &str = "planted-canister";

/// Each task is done by an entry that completes it and says what was done and nothing else: no
/// diagnosis hears of replaced media, and no model of lost bacteria, because a task was ticked.
#[test]
fn what_a_task_writes_completes_it_and_says_no_more_than_was_done() {
    let says = |kind: &Happening| kind.tells.iter().map(|tells| tells.finding).collect();
    let mut waiting: BTreeSet<&str> = BTreeSet::new();
    for task in routine::all() {
        let DoneBy::Entry(kind) = task.done_by else {
            continue;
        };
        let kind = Happening::by_id(kind).unwrap_or_else(|| panic!("{} writes {kind}", task.id));
        assert!(
            kind.completes.contains(&task.id),
            "{} and {}",
            task.id,
            kind.id
        );
        waiting.insert(task.id);
        let told: Vec<&str> = says(kind);
        let expected: &[&str] = match task.id {
            "open-filter" => &["filter-cleaned"],
            "water-change" => &["water-changed"],
            "dose-additive" => &["bacteria-dosed"],
            "service-impeller" => &["impeller-serviced"],
            "renew-chemical" => &["chemical-media-added"],
            _ => &[],
        };
        assert_eq!(told, expected, "{}", task.id);
        let does = kind.does.map(|does| does(20.0));
        let spares = matches!(
            does,
            None | Some(Effect::Change(_) | Effect::MediaOut | Effect::Bottle)
        );
        assert!(spares, "{}: {does:?}", task.id);
    }
    let completing: BTreeSet<&str> = Happening::all()
        .flat_map(|kind| kind.completes)
        .copied()
        .collect();
    assert_eq!(completing, waiting);
    let ids: Vec<&str> = routine::all().map(|task| task.id).collect();
    assert_eq!(ids.iter().collect::<BTreeSet<_>>().len(), ids.len());
    let read: BTreeSet<&str> = kinds().into_iter().collect();
    let completes = |kind: &&Happening| !kind.completes.is_empty();
    assert!(
        Happening::all()
            .filter(completes)
            .all(|kind| read.contains(kind.id))
    );
}

#[test]
fn every_set_up_has_a_routine_that_says_why_and_every_task_is_one_of_some_tank() {
    let mut met: BTreeSet<String> = BTreeSet::new();
    for start in start::ALL {
        // One keeper has little to do with schools; the other has the rarest of each.
        for other in [false, true] {
            let mut record = Record::of(start.id);
            if other {
                let practice = &mut record.tank.practice;
                practice.seeding = SeedingSchool::Gel;
                practice.feeding = FeedingSchool::TwiceAWeek;
                practice.chemical = ChemicalSchool::Renewed;
            }
            let mut trays = record
                .tank
                .filters
                .iter_mut()
                .flat_map(|one| &mut one.trays);
            if let Some(tray) = trays.next() {
                let carbon = Portion {
                    medium: Medium::Carbon,
                    litres: Volume::litres(0.2),
                    ..Portion::default()
                };
                tray.media.push(carbon);
            }
            for standing in record.standing() {
                let told = format!("{} in {}", standing.task, start.id);
                assert!(
                    standing.earliest <= standing.due && standing.due <= standing.latest,
                    "{told}: {standing:?}"
                );
                assert!(
                    standing.interval.days >= 1.0 && standing.interval.why.ends_with('.'),
                    "{told}: {:?}",
                    standing.interval
                );
                assert!(!standing.words.is_empty() && standing.minutes <= 60.0);
                let disputed = standing.interval.because == Because::School;
                assert!(
                    !disputed || standing.other_school.is_some() || standing.task == "open-filter",
                    "{told} follows a school and does not tell the other"
                );
                met.insert(standing.task);
            }
        }
    }
    let never: Vec<&str> = routine::all()
        .map(|task| task.id)
        .filter(|id| !met.contains(*id))
        .collect();
    assert_eq!(never, [""; 0]);
}

#[test]
fn an_entry_or_a_reading_completes_a_task_whoever_wrote_it() {
    let mut record = Record::of(CANISTER);
    assert_eq!(record.task("look-at-heaters").last, None);
    record.log("heaters-looked-at", date(2026, 3, 9)).details.by = "the neighbour".to_owned();
    let looked = record.task("look-at-heaters");
    assert_eq!(looked.last.map(|at| at.date()), Some(date(2026, 3, 9)));
    assert_eq!(looked.due, date(2026, 4, 8));
    record.read(Analyte::NITRATE, 3.0, date(2026, 3, 8));
    let tested = record.task("test-nitrate");
    assert_eq!(tested.due, date(2026, 4, 5));
    // An entry that is only planned completes nothing.
    record.log("heaters-looked-at", date(2026, 4, 1));
    assert_eq!(record.task("look-at-heaters").due, looked.due);
}

/// What of a filter is done to one filter says nothing of the other.
#[test]
fn an_entry_on_one_filter_leaves_the_other_due() {
    let mut record = Record::of("rocks-two-filters");
    let numbers: Vec<Serial> = record
        .tank
        .filters
        .iter()
        .map(|filter| filter.number)
        .collect();
    record.log("hose-cleaned", date(2026, 3, 9)).on = On::Filter(numbers[0]);
    let of = |number: Serial| {
        let mut all = record.standing().into_iter();
        all.find(|one| one.task == "clean-hose" && one.on == On::Filter(number))
            .expect("both have hoses")
    };
    assert!(of(numbers[0]).last.is_some() && of(numbers[1]).last.is_none());
}

#[test]
fn skipped_counts_from_that_day_and_put_off_until_the_day_that_was_named() {
    let mut record = Record::of(CANISTER);
    record.log("heaters-looked-at", date(2026, 1, 1));
    let late = record.task("look-at-heaters");
    assert_eq!(late.state(NOW.date()), State::Late);
    let entry = record.log("task-put-off", date(2026, 3, 9));
    entry.details = Details {
        task: "look-at-heaters".to_owned(),
        until: Some(date(2026, 3, 14)),
        ..Details::default()
    };
    entry.note = "no time".to_owned();
    let later = record.task("look-at-heaters");
    assert_eq!(
        (later.due, later.state(NOW.date())),
        (date(2026, 3, 14), State::Ahead)
    );
    assert_eq!(later.put_off.expect("told").reason, "no time");
    let entry = record.log("task-skipped", date(2026, 3, 9));
    entry.details.task = "look-at-heaters".to_owned();
    entry.note = "heater is out for the summer".to_owned();
    let skipped = record.task("look-at-heaters");
    assert_eq!(skipped.due, date(2026, 4, 8));
    let told = skipped.put_off.expect("told");
    assert!(told.is_skipped && told.reason.starts_with("heater is out"));
    // Dirt goes on gathering when an opening is skipped: it is asked for again before a whole interval.
    record.log("filter-opened", date(2026, 1, 1)).on = On::Filter(record.tank.filters[0].number);
    let opening = record.task("open-filter");
    assert!(matches!(
        opening.interval.because,
        Because::Model | Because::Learned
    ));
    let entry = record.log("task-skipped", date(2026, 3, 9));
    (entry.details.task, entry.on) = ("open-filter".to_owned(), opening.on.clone());
    let again = record.task("open-filter");
    let whole = date(2026, 3, 9) + jiff::Span::new().days(whole_days(opening.interval.days));
    assert!(
        again.due > date(2026, 3, 9) && again.due < whole,
        "{} {whole}",
        again.due
    );
    // Once it is done the word is spent.
    record.log("heaters-looked-at", date(2026, 3, 9));
    assert_eq!(
        record.task("look-at-heaters").last.map(|at| at.date()),
        Some(date(2026, 3, 9))
    );
}

/// What is planned by days of the week falls on them, whatever was done when, and is never late; an
/// interval of the keeper's own counts in days.
#[test]
fn days_that_are_planned_fall_on_them() {
    let mut record = Record::of(CANISTER);
    record.tank.practice.feeding = FeedingSchool::FiveDays;
    // The tenth of March 2026 is a Tuesday.
    let fast = record.task("fast-day");
    assert_eq!(fast.due, date(2026, 3, 11), "a Wednesday");
    assert!(fast.interval.why.contains("Wednesday and Sunday"));
    record.log("fasted", date(2026, 2, 1));
    assert_eq!(record.task("fast-day").state(NOW.date()), State::Ahead);
    record.tank.practice.feeding = FeedingSchool::TwiceAWeek;
    let feed = record.task("feed-day");
    assert_eq!((feed.due, feed.state(NOW.date())), (NOW.date(), State::Due));
    assert!(!record.standing().iter().any(|one| one.task == "fast-day"));
    record.log("fed", NOW.date()).when = When::minute(NOW);
    assert_eq!(
        record.task("feed-day").due,
        date(2026, 3, 13),
        "the Friday after"
    );
    let entry = record.log("task-every", NOW.date());
    entry.when = When::minute(NOW);
    (entry.details.task, entry.amount) = ("feed-day".to_owned(), Some(5.0));
    let own = record.task("feed-day");
    assert_eq!((own.due, own.week), (date(2026, 3, 15), None));
    // They wait for no visit, but stand among what today asks for.
    record.log.clear();
    let jobs: Vec<Job> = record
        .standing()
        .into_iter()
        .map(|task| Job { tank: 0, task })
        .collect();
    let is_feed = |job: &usize| jobs[*job].task.task == "feed-day";
    let planned = visits(&jobs, Rules::USUAL, NOW.date());
    assert!(!planned.iter().flat_map(|visit| &visit.jobs).any(is_feed));
    assert!(
        visits::today(&jobs, jobs.len(), NOW.date())
            .iter()
            .any(is_feed)
    );
    record.tank.practice.feeding = FeedingSchool::Daily;
    let planned = |one: &Standing| one.task == "fast-day" || one.task == "feed-day";
    assert!(!record.standing().iter().any(planned));
    // Nobody said: young ones are not made to fast.
    record.tank.practice.feeding = FeedingSchool::Unsaid;
    assert!(record.standing().iter().any(planned));
    record.tank.purpose = Purpose::GrowingOn;
    assert!(!record.standing().iter().any(planned));
    record.tank.purpose = Purpose::Transport;
    assert_eq!(Plan::of(&record.tank).stands(None), Stands::Travels);
}

/// Whatever reads the feed reads the mean of a week: five days of seven grams are as good as seven
/// days of five.
#[test]
fn fasting_days_count_in_every_sum() {
    for start in start::ALL {
        let mut fasting = start.tank();
        fasting.feed = Mass::grams(0.7);
        fasting.practice.feeding = FeedingSchool::FiveDays;
        let mut daily = start.tank();
        daily.feed = Mass::grams(0.5);
        let numbers = |tank: &Tank| {
            let twin = Twin::of(tank);
            let dirt = tank.filters.iter().map(|filter| {
                let state = FilterState::of(tank, filter, &[], None, NOW);
                state.clogging.map(|clogging| clogging.lasts_days.middle)
            });
            (
                twin.day.lowest().1,
                Numbers::of(tank).nitrogen_g_per_day,
                dirt.collect::<Vec<_>>(),
            )
        };
        let (one, other) = (numbers(&fasting), numbers(&daily));
        assert!(
            (one.0 - other.0).abs() < 1e-9 && (one.1 - other.1).abs() < 1e-9,
            "{}",
            start.id
        );
        for (one, other) in one.2.iter().zip(&other.2) {
            let (one, other) = (one.unwrap_or(0.0), other.unwrap_or(0.0));
            assert!((one - other).abs() <= 1e-9 * one.abs(), "{}", start.id);
        }
        let unsaid = FeedingSchool::Unsaid.fed().count();
        assert_eq!(
            unsaid, 7,
            "files from before fasting days mean what they meant"
        );
    }
}

/// Two grams of fish in forty small ones, by hand: three percent of each at 25 °C is 2.4 g of dry
/// feed a day, known from half of that to 1.6 times; of worms, mostly water, three and a half times
/// as much.
#[test]
fn what_animals_usually_take_is_reckoned_by_hand() {
    let mut tank = start::by_id(CANISTER).expect("listed").tank();
    tank.temperature = Temperature::celsius(25.0);
    tank.stock = vec![StockGroup::weighing(
        "Tetras",
        80,
        Mass::grams(1.0),
        Activity::Usual,
    )];
    let plan = Plan::of(&tank);
    let (low, high) = plan.usual_g.expect("there are animals");
    assert!(
        (low - 1.2).abs() < 1e-6 && (high - 3.84).abs() < 1e-6,
        "{low} {high}"
    );
    tank.practice.feeding = FeedingSchool::TwiceAWeek;
    let seldom = Plan::of(&tank);
    let (rare, _) = seldom.usual_g.expect("there are animals");
    assert!((rare / low - 3.5).abs() < 1e-9 && seldom.portions == 1);
}

/// With more feed a plan goes from little over usual to much and to more than bacteria carry, and
/// what they carry is what they just keep up with.
#[test]
fn a_feeding_plan_says_what_stands_against_it() {
    for start in start::ALL {
        let mut tank = start.tank();
        let Some((low, high)) = Plan::of(&tank).usual_g else {
            assert_eq!(Plan::of(&tank).stands(None), Stands::Nobody);
            continue;
        };
        tank.feed = Mass::grams(0.0);
        assert_eq!(Plan::of(&tank).stands(carried_g(&tank)), Stands::Unfed);
        let feed = |grams: f64| Tank {
            feed: Mass::grams(grams),
            ..tank.clone()
        };
        let carried = carried_g(&feed(low)).expect("it is fed");
        let (just, over) = (
            capacity_ratio(&feed(0.99 * carried)),
            capacity_ratio(&feed(1.05 * carried)),
        );
        assert!(
            just.is_some_and(|ratio| ratio >= 1.0) && over.is_some_and(|ratio| ratio < 1.0),
            "{}: {just:?} {over:?}",
            start.id
        );
        let stands = |grams: f64| Plan::of(&feed(grams)).stands(Some(carried));
        assert_eq!(stands(1.05 * carried), Stands::OverCarried);
        let little = if low > carried {
            Stands::LittleAndNotCarried
        } else {
            Stands::LittleAndCarried
        };
        assert_eq!(stands(0.9 * low.min(carried)), little);
        if carried > 1.1 * high {
            assert_eq!(
                (stands(f64::midpoint(low, high)), stands(1.05 * high)),
                (Stands::Usual, Stands::Much)
            );
        }
    }
}

#[test]
fn the_keepers_own_interval_stands_above_all_and_says_what_it_stands_for() {
    let mut record = Record::of(CANISTER);
    let before = record.task("test-kh").interval;
    let entry = record.log("task-every", date(2026, 3, 2));
    (entry.details.task, entry.amount) = ("test-kh".to_owned(), Some(10.0));
    let own = record.task("test-kh").interval;
    assert!((own.days - 10.0).abs() < 1e-9 && own.because == Because::Own);
    let moved = own.moved.expect("told");
    assert!((moved.before - before.days).abs() < 1e-9 && moved.from.contains("2 March"));
    assert!(own.why.contains(&before.why));
}

#[test]
fn a_steady_rhythm_moves_what_only_common_practice_sets() {
    let mut record = Record::of(CANISTER);
    for weeks in 1..=5 {
        record.log(
            "heaters-looked-at",
            date(2026, 3, 9).saturating_sub((3 * weeks).weeks()),
        );
    }
    let interval = record.task("look-at-heaters").interval;
    assert!((interval.days - 21.0).abs() < 1e-9 && interval.because == Because::Learned);
    let moved = interval.moved.expect("told").words();
    assert_eq!(
        moved,
        "It was 30 days, and is 3 weeks from how you do it: the middle of the last 4 times."
    );
}

/// A filter that was closed each time it was opened is opened sooner, and the page can say from
/// what to what.
#[test]
fn openings_that_found_it_closed_bring_the_next_one_forward() {
    let mut record = Record::of(CANISTER);
    let before = record.task("open-filter").interval.days;
    for day in [
        date(2025, 11, 20),
        date(2025, 12, 20),
        date(2026, 1, 19),
        date(2026, 2, 18),
    ] {
        let entry = record.log("filter-opened", day);
        entry.details.grades = [(Layer::Coarse, 5), (Layer::Fine, 5), (Layer::Floss, 5)].into();
    }
    let opening = record.task("open-filter");
    let moved = opening.interval.moved.clone().expect("it moved");
    assert_eq!(opening.interval.because, Because::Learned);
    assert!(
        opening.interval.days < 0.8 * before && moved.after < 0.8 * moved.before,
        "{before} {opening:?}"
    );
    assert!(moved.from.contains("graded openings"), "{moved:?}");
}

#[test]
fn readings_between_changes_move_the_water_change() {
    let mut record = Record::of(CANISTER);
    record.tank.practice.change_every_days = 30;
    let by_feed = record.task("water-change").interval;
    // 2.4 mg N/L a day, 10.6 mg/L of nitrate: far more than it is fed for.
    for (day, value) in [(1, 2.0), (3, 6.8), (5, 11.6)] {
        record.read(Analyte::NITRATE, value, date(2026, 3, day));
    }
    let read = record.task("water-change").interval;
    assert!(read.days < by_feed.days, "{by_feed:?} {read:?}");
    let moved = read.moved.expect("told");
    assert!(moved.from.contains("2 pairs of readings"), "{moved:?}");
    // A change between two readings takes nitrate out: that pair tells nothing.
    record.log("change", date(2026, 3, 2));
    record.log("change", date(2026, 3, 4));
    let none = record.task("water-change").interval;
    assert!((none.days - by_feed.days).abs() < 1e-9);
}

#[test]
fn hardness_that_falls_is_read_before_it_is_gone() {
    let mut record = Record::of(CANISTER);
    for (day, value) in [(1, 6.0), (5, 5.2), (9, 4.4)] {
        record.read(Analyte::KH, value, date(2026, 3, day));
    }
    // 1.4 °dH over what bacteria need, at 0.2 a day: seven days, of which half.
    let interval = record.task("test-kh").interval;
    assert!((interval.days - 3.5).abs() < 1e-6, "{interval:?}");
}

#[test]
fn ammonia_is_tested_after_what_disturbs_and_oxygen_where_the_twin_fears_for_it() {
    let mut record = Record::of(CANISTER);
    let quiet = record.task("test-ammonia").interval.days;
    record.log("animals", date(2026, 3, 8)).amount = Some(8.0);
    let watched = record.task("test-ammonia").interval;
    assert!(watched.days < 2.0 && quiet > 30.0);
    assert!(watched.moved.expect("told").from.contains("animals"));
    record.tank.set_up = Some(date(2026, 2, 20));
    assert!((record.task("test-nitrite").interval.days - 2.0).abs() < 1e-9);
    let calm = record.task("test-oxygen").interval.days;
    record.oxygen = Grade::Act;
    assert!(record.task("test-oxygen").interval.days < calm / 10.0);
}

#[test]
fn what_a_case_left_is_among_the_tasks() {
    let mut record = Record::of(CANISTER);
    record.watched.push(Watched {
        number: 7,
        words: "Read ammonia".to_owned(),
        reads: Some(Analyte::AMMONIA),
        every_days: 1.0,
        last: None,
        due: NOW,
        why: "The colony was disturbed.".to_owned(),
    });
    let duty = record.task("duty-7");
    assert_eq!(duty.state(NOW.date()), State::Due);
    assert_eq!(duty.interval.because, Because::Duty);
}

/// What endangers lives and is late comes before all else, however late the rest is.
#[test]
fn what_presses_comes_first() {
    let task = |stake, days_late: i32, latest_in: i32| {
        let mut task = Record::of(CANISTER).task("look-at-heaters");
        task.stake = stake;
        task.due = NOW.date().saturating_sub(days_late.days());
        task.latest = NOW.date().saturating_add(latest_in.days());
        task
    };
    let mut tasks = [
        task(Stake::Looks, 200, -100),
        task(Stake::Lives, 1, 3),
        task(Stake::Lives, 4, -1),
        task(Stake::Water, 60, -30),
    ];
    tasks.sort_by_key(|task| std::cmp::Reverse(task.pressing(NOW.date())));
    let stakes: Vec<Stake> = tasks.iter().map(|task| task.stake).collect();
    assert_eq!(
        stakes,
        [Stake::Lives, Stake::Water, Stake::Looks, Stake::Lives]
    );
    assert_eq!(tasks[0].state(NOW.date()), State::Late);
}

#[test]
fn today_shows_what_presses_in_walking_order_behind_what_endangers() {
    let job = |tank: usize, stake, days_late: i64, room: i64| {
        let mut task = Record::of(CANISTER).task("look-at-heaters");
        task.stake = stake;
        task.due = NOW.date().saturating_sub(days_late.days());
        task.latest = task.due.saturating_add(room.days());
        Job { tank, task }
    };
    let jobs = [
        job(0, Stake::Looks, 0, 9),
        job(0, Stake::Water, 20, 3),
        job(1, Stake::Water, 2, 1),
        job(2, Stake::Lives, 9, 3),
        job(2, Stake::Looks, -3, 9),
    ];
    let shown = visits::today(&jobs, 3, NOW.date());
    assert_eq!(
        shown,
        [3, 1, 2],
        "the fourth is ahead, the first does not fit"
    );
}

fn jobs() -> impl Strategy<Value = Vec<Job>> {
    let one = Record::of(CANISTER).task("look-at-heaters");
    let job = (
        0_usize..4,
        1_u32..50,
        -30_i64..40,
        1_i64..20,
        proptest::bool::ANY,
    );
    proptest::collection::vec(job, 0..40).prop_map(move |jobs| {
        let made = jobs.into_iter().enumerate();
        made.map(|(order, (tank, minutes, due, room, disturbs))| {
            let due = NOW.date().saturating_add(due.days());
            let task = Standing {
                minutes: f64::from(minutes),
                earliest: due.saturating_sub(room.days()),
                due,
                latest: due.saturating_add(room.days()),
                disturbs,
                order,
                ..one.clone()
            };
            Job { tank, task }
        })
        .collect()
    })
}

proptest! {
    /// Whatever waits: nothing is done twice or before it may be, no visit takes longer than it
    /// may unless one task does, colonies have their rest, and what fits the days ahead is planned.
    #[test]
    fn visits_hold_what_they_promise(jobs in jobs(), budget_min in 20.0..120.0_f64, gap_days in 1_i64..15) {
        let rules = Rules { budget_min, gap_days, ahead_days: 60 };
        let today = NOW.date();
        let planned = visits(&jobs, rules, today);
        let mut seen = BTreeSet::new();
        let mut disturbed: Vec<(usize, Date)> = Vec::new();
        for pair in planned.windows(2) {
            prop_assert!(pair[1].day >= pair[0].day.saturating_add(gap_days.days()));
        }
        for visit in &planned {
            prop_assert!(visit.day >= today && !visit.jobs.is_empty());
            prop_assert!(visit.minutes <= budget_min || visit.jobs.len() == 1);
            let walk: Vec<usize> = visit.jobs.iter().map(|job| jobs[*job].tank).collect();
            prop_assert!(walk.is_sorted());
            for job in &visit.jobs {
                prop_assert!(seen.insert(*job), "{job} is done twice");
                prop_assert!(jobs[*job].task.earliest <= visit.day);
                if jobs[*job].task.disturbs {
                    disturbed.push((jobs[*job].tank, visit.day));
                }
            }
        }
        for (one, (tank, day)) in disturbed.iter().enumerate() {
            let rested = disturbed[..one].iter().filter(|(other, _)| other == tank);
            for (_, before) in rested {
                prop_assert!(*day >= before.saturating_add(APART_DAYS.days()));
            }
        }
        // Something is left out only where the visits ran out of days.
        let last = planned.last().map_or(today, |visit| visit.day);
        let out = today.saturating_add(60.days());
        let full = last.saturating_add(gap_days.max(APART_DAYS).days()) > out;
        let due: usize = jobs.iter().filter(|job| job.task.due <= out).count();
        prop_assert!(seen.len() == due || full, "{} of {due} planned, the last on {last}", seen.len());
    }

    /// The same jobs in another order make visits on the same days of the same length.
    #[test]
    fn visits_do_not_hang_on_the_order_of_what_waits(jobs in jobs()) {
        // Of what presses alike the first listed goes first; so that nothing does, no two alike.
        let mut jobs = jobs;
        for (place, job) in (-20_i64..).zip(&mut jobs) {
            job.task.due = NOW.date().saturating_add(place.days());
            job.task.earliest = job.task.due.saturating_sub(3.days());
            job.task.latest = job.task.due.saturating_add(3.days());
        }
        let told = |jobs: &[Job]| -> Vec<String> {
            let planned = visits(jobs, Rules::USUAL, NOW.date());
            planned.iter().map(|visit| format!("{} {:.3}", visit.day, visit.minutes)).collect()
        };
        let mut turned = jobs.clone();
        turned.reverse();
        prop_assert_eq!(told(&jobs), told(&turned));
    }
}
