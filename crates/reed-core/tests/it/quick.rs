//! The quick line: what is typed beside a tank, and that nothing of it is lost.

use jiff::civil::{DateTime, date};
use proptest::prelude::{Just, Strategy, any, prop_assert, prop_assert_eq, prop_oneof, proptest};
use proptest::test_runner::Config;
use reed_core::document::start;
use reed_core::log::quick::{Meant, Quick, Said};
use reed_core::log::{Happening, On, When};
use reed_core::tank::{Analyte, Filter, Serial, Tank};
use reed_core::units::Units;

const NOW: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

fn tank() -> Tank {
    let mut tank = start::by_id("planted-canister").expect("listed").tank();
    tank.filters[0].name = "Large canister".to_owned();
    let second = Filter {
        number: Serial(7),
        name: "Nano".to_owned(),
        ..tank.filters[0].clone()
    };
    tank.filters.push(second);
    tank.stock[0].name = "Lemon tetras".to_owned();
    tank
}

fn read(line: &str) -> Vec<Said> {
    let tank = tank();
    let units = Units::BASE;
    Quick {
        tank: &tank,
        now: NOW,
        units: &units,
    }
    .read(line)
}

/// What a line was taken for, in short: “nitrate 20”, “change 30 on Filter(1)”, “? text”.
fn meant(line: &str) -> Vec<String> {
    let short = |said: Said| match said.meant {
        Meant::Reading(reading) => format!("{} {}", reading.analyte.id, reading.value),
        Meant::Entry(entry) => {
            let amount = entry
                .amount
                .map_or(String::new(), |amount| format!(" {amount}"));
            let on = match entry.on {
                On::Tank => String::new(),
                on => format!(" on {on:?}"),
            };
            let note = if entry.note.is_empty() {
                String::new()
            } else {
                format!(" “{}”", entry.note)
            };
            format!("{}{amount}{on}{note}", entry.happening)
        }
        Meant::Unclear { entry, .. } => format!("? {}", entry.note),
    };
    read(line).into_iter().map(short).collect()
}

#[test]
fn what_keepers_type_is_taken_for_what_they_mean() {
    for (line, expected) in [
        (
            "no3 20, 25.5 C, cleaned prefilter yesterday, lost 1 tetra",
            vec![
                "nitrate 20",
                "temperature 25.5",
                "prefilter-rinsed",
                "lost 1 on Group(\"Lemon tetras\")",
            ],
        ),
        (
            "25,5 °C,ph 7,2;kh 6",
            vec!["temperature 25.5", "ph 7.2", "kh 6"],
        ),
        ("wc 30%", vec!["change 30"]),
        (
            "changed 30 % of the water",
            vec!["change 30 “of the water”"],
        ),
        ("NO2 zero", vec!["nitrite 0"]),
        (
            "oxygen 7.5 mg/l before lights",
            vec!["do 7.5", "note “before lights”"],
        ),
        (
            "opened the large canister",
            vec!["filter-opened on Filter(Serial(1))"],
        ),
        (
            "cleaned filter 7 this week",
            vec!["filter-opened on Filter(Serial(7))"],
        ),
        ("power cut 90 min", vec!["power-cut 1.5"]),
        ("power out 3h", vec!["power-cut 3"]),
        (
            "added two lemon tetras",
            vec!["animals 2 on Group(\"Lemon tetras\")"],
        ),
        ("carbon 0,5 L", vec!["carbon 0.5"]),
        ("no food", vec!["fasted"]),
        ("changed food", vec!["food-changed"]),
        ("dosed ammonia 2 ppm", vec!["dose 2"]),
        ("dosed 5 ml of iron", vec!["additive “5 ml of iron”"]),
        (
            "paid €6,50 floating food",
            vec!["purchase 6.5 “floating food”"],
        ),
        (
            "cleaned prefilter and changed 20 %",
            vec!["prefilter-rinsed", "change 20"],
        ),
        ("fed flakes and shrimp", vec!["fed “flakes and shrimp”"]),
        ("copper 0.1", vec!["copper 0.1"]),
        ("copper", vec!["copper"]),
        ("lost a snail", vec!["lost “a snail”"]),
        ("the heron was here", vec!["? the heron was here"]),
        ("lost 1 tetra tomorrow", vec!["? lost 1 tetra tomorrow"]),
        ("ph 73", vec!["? ph 73"]),
        ("changed 130 %", vec!["? changed 130 %"]),
        ("", vec![]),
        (" , ;\n", vec![]),
    ] {
        assert_eq!(meant(line), expected, "{line}");
    }
}

#[test]
fn litres_that_were_changed_are_a_share_of_the_water() {
    let litres = tank().net_volume().as_litres();
    let said = read(&format!("changed {} litres", (litres / 4.0).round()));
    let Meant::Entry(entry) = &said[0].meant else {
        panic!("{said:?}")
    };
    assert!((entry.amount.expect("a share") - 25.0).abs() < 1.0);
}

#[test]
fn when_it_was_stands_at_either_end_or_before_all_of_it() {
    let when = |line: &str| -> Vec<When> {
        let at = |said: Said| match said.meant {
            Meant::Reading(reading) => When::minute(reading.taken_at),
            Meant::Entry(entry) | Meant::Unclear { entry, .. } => entry.when,
        };
        read(line).into_iter().map(at).collect()
    };
    let day = |day: i8| When::day(date(2026, 3, day));
    assert_eq!(when("wc 30 %"), [When::minute(NOW)]);
    assert_eq!(when("wc 30 % yesterday"), [day(9)]);
    assert_eq!(when("yesterday wc 30 %"), [day(9)]);
    assert_eq!(when("yesterday: wc 30 %, fed"), [day(9), day(9)]);
    assert_eq!(
        when("on 3 March, wc 30 %, fed, fed 8:00"),
        [
            day(3),
            day(3),
            When::minute(date(2026, 3, 10).at(8, 0, 0, 0))
        ]
    );
    assert_eq!(
        when("no3 20 yesterday 19:30"),
        [When::minute(date(2026, 3, 9).at(19, 30, 0, 0))]
    );
    assert_eq!(
        when("wc 30 % in 3 days"),
        [When::minute(date(2026, 3, 13).at(8, 30, 0, 0))]
    );
}

/// Whatever has a word of its own is found by it.
#[test]
fn every_kind_and_every_analyte_is_found_by_its_words() {
    for kind in Happening::all() {
        for word in kind.words {
            let said = read(word);
            let found = match &said[0].meant {
                Meant::Entry(entry) => entry.happening.as_str(),
                other => panic!("{word}: {other:?}"),
            };
            assert_eq!((found, said.len()), (kind.id, 1), "{word}");
        }
    }
    let mut found = std::collections::BTreeSet::new();
    for word in reed_core::log::quick::analyte_words() {
        let said = read(&format!("{word} 7"));
        match &said[0].meant {
            Meant::Reading(reading) => found.insert(reading.analyte.id),
            other => panic!("{word}: {other:?}"),
        };
    }
    assert_eq!(found.len(), Analyte::ALL.len());
}

/// A line as a keeper could type it, of words that mean something and words that do not.
fn line() -> impl Strategy<Value = String> {
    let words: Vec<&'static str> = Happening::all()
        .flat_map(|kind| kind.words)
        .copied()
        .collect();
    let word = prop_oneof![
        4 => proptest::sample::select(words),
        2 => proptest::sample::select(vec!["no3", "ph", "temp", "C", "%", "L", "yesterday", "ago", "in", "8:00", "filter 7", "tetra", "and"]),
        2 => proptest::sample::select(vec!["20", "25,5", "7.2", "-3", "1e9", "0", "100 %", "3h"]),
        1 => Just("müde"),
        1 => Just("\u{0}"),
    ];
    let sign = proptest::sample::select(vec![" ", ", ", ";", "\n", ",", " and "]);
    proptest::collection::vec((word, sign), 0..14).prop_map(|words| {
        words
            .iter()
            .map(|(word, sign)| format!("{word}{sign}"))
            .collect()
    })
}

proptest! {
    #![proptest_config(Config { failure_persistence: None, ..Config::with_cases(1500) })]

    /// Whatever is typed, what comes of it can be entered, and a part that is not understood keeps
    /// its words.
    #[test]
    fn any_line_becomes_readings_and_entries_that_can_be(line in line()) {
        let tank = tank();
        for said in read(&line) {
            match said.meant {
                Meant::Reading(reading) => prop_assert!(reading.analyte.holds(reading.value) && reading.taken_at <= NOW),
                Meant::Entry(entry) => prop_assert_eq!(entry.fault(&tank), None),
                Meant::Unclear { entry, why } => {
                    prop_assert_eq!(entry.fault(&tank), None);
                    prop_assert!(why.ends_with('.') && entry.note == said.text, "{} {:?}", why, entry);
                }
            }
        }
    }

    /// No text at all stops it, and what has words leaves something.
    #[test]
    fn any_text_is_read(text in any::<String>()) {
        let said = read(&text);
        let has_words = text.chars().any(char::is_alphanumeric);
        prop_assert!(!(has_words && said.is_empty()), "{:?}", text);
    }

    /// An amount that a kind accepts, typed with its word, comes back.
    #[test]
    fn an_amount_comes_back(index in 0..Happening::all().count(), share in 0.0..1.0_f64, comma in any::<bool>()) {
        let kind = Happening::all().nth(index).expect("counted");
        let Some(measure) = kind.amount else { return Ok(()) };
        let amount = ((measure.low + share * (measure.high - measure.low)) * 100.0).round() / 100.0;
        let amount = amount.clamp(measure.low, measure.high);
        let mut typed = amount.to_string();
        if comma {
            typed = typed.replace('.', ",");
        }
        let said = read(&format!("{} {typed}", kind.words[0]));
        match &said[0].meant {
            Meant::Entry(entry) => {
                prop_assert_eq!(&entry.happening, kind.id);
                prop_assert!((entry.amount.expect("typed") - amount).abs() < 1e-9);
            }
            other => prop_assert!(false, "{:?}", other),
        }
    }
}
