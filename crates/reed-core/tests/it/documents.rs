//! The open file: examples, schema, older versions, what is unknown, and files that must be refused
//! with a reason.

#[path = "../../fuzz/property.rs"]
mod property;

use boon::{Compiler, Schemas};
use jiff::civil::date;
use proptest::prelude::{Just, Strategy, proptest};
use proptest::test_runner::Config;
use reed_core::diagnosis::Case;
use reed_core::document::start;
use reed_core::document::{Document, LARGEST_FILE, Opened, SCHEMA, stored_tank};
use reed_core::tank::Tank;
use reed_core::twin::Twin;
use reed_fixtures::{example, examples, version_1, version_2};
use serde_json::{Value, json};

const NOON: jiff::civil::DateTime = date(2026, 3, 10).at(12, 0, 0, 0);

fn open(text: &str) -> Opened {
    Document::read(text).unwrap_or_else(|error| panic!("{error}"))
}

fn altered(pointer: &str, value: Value) -> String {
    let mut json: Value = serde_json::from_str(&example("reading-room")).expect("JSON");
    let (parent, key) = pointer.rsplit_once('/').expect("a path");
    match json.pointer_mut(parent).expect("there") {
        Value::Array(entries) => entries[key.parse::<usize>().expect("an index")] = value,
        other => other[key] = value,
    }
    json.to_string()
}

#[test]
fn every_example_is_read_and_written_back_without_loss() {
    assert!(examples().len() >= 3);
    for (file, text) in examples() {
        let Opened { document, unknown } = open(&text);
        assert_eq!(unknown, Vec::<String>::new(), "{file}");
        let case = document.case(NOON).expect("checked by read");
        let again = Document {
            log: document.log,
            ..Document::of(&case)
        };
        assert_eq!(again.case(NOON).expect("own document"), case, "{file}");
        assert_eq!(open(&again.write()).document, again, "{file}");
    }
}

/// `boon` is a general validator that knows nothing of this program.
#[test]
fn the_published_schema_accepts_all_we_write_and_rejects_broken_files() {
    assert!(
        SCHEMA == Document::derived_schema(),
        "out of date; run: cargo run -p reed-core --features schema --example schema \
         > docs/case-document.schema.json"
    );
    let (mut schemas, mut compiler) = (Schemas::new(), Compiler::new());
    let schema = serde_json::from_str(SCHEMA).expect("JSON");
    compiler.add_resource("case", schema).expect("a resource");
    let schema = compiler.compile("case", &mut schemas).expect("a schema");
    let valid = |text: &str| {
        let value = serde_json::from_str(text).expect("JSON");
        schemas.validate(&value, schema).is_ok()
    };
    for (file, text) in examples() {
        assert!(valid(&text), "{file}");
        assert!(valid(&open(&text).document.write()), "{file} as written");
    }
    for start in start::ALL {
        let case = Case::new(start.tank(), NOON);
        assert!(valid(&Document::of(&case).write()), "{}", start.id);
    }
    for (pointer, broken) in [
        ("/format", json!("zesty-reed/9")),
        ("/tank/surface", json!("choppy")),
        ("/tank/name", json!("")),
        ("/tank/stock", json!(3)),
        ("/tank/stock/0/count", json!(0)),
        ("/tank/stock/0/count", json!(1.5)),
        ("/tank/stock/0/build", json!("round")),
        ("/tank/glass/length_cm", json!(-100)),
        ("/tank/glass/length_cm", json!("100 cm")),
        ("/tank/water_level_cm", Value::Null),
        ("/tank/temperature_c", json!(900)),
        ("/tank/bed/porosity_percent", json!(140)),
        ("/tank/things/0/is", json!({ "teapot": {} })),
        ("/tank/things/0/is/outlet/bore_mm", json!(0)),
        ("/tank/things/0/is/outlet/up_deg", json!(100)),
        ("/tank/things/0/x_cm", json!(1e9)),
        ("/tank/filters/0/kind", json!("bucket")),
        ("/tank/filters/0/trays/0/media/0/litres", json!(-1)),
        ("/tank/filters/0/opened", json!("last week")),
        ("/tank/plants/lights_on_hour", json!(24)),
        ("/tank/practice/bed", json!("raked")),
        ("/findings", json!([{ "finding": "gasping" }])),
    ] {
        let text = altered(pointer, broken);
        assert!(!valid(&text), "{pointer}");
        assert!(
            Document::read(&text).is_err(),
            "{pointer}: the program and its schema must agree"
        );
    }
}

#[test]
fn a_broken_file_is_refused_with_its_place_and_what_is_accepted() {
    for (pointer, broken, says) in [
        (
            "/format",
            json!("zesty-reed/9"),
            "/format: “zesty-reed/9” is not known; this program reads “zesty-reed/3”",
        ),
        (
            "/tank/temperature_c",
            json!(900.0),
            "/tank/temperature_c: Water temperature: “900 °C” is not accepted. Give a number from 0 to 40 °C",
        ),
        (
            "/tank/things/0/is/outlet/bore_mm",
            json!(900),
            "/tank/things/0/is/outlet/bore_mm: Outlet, bore: “900 mm” is not accepted.",
        ),
        (
            "/tank/things/1/number",
            json!(1),
            "/tank/things/1/number: Number: “1” is not accepted. Another one has that number",
        ),
        (
            "/tank/water_level_cm",
            json!(60),
            "/tank/water_level_cm: Water level: “60.0 cm” is not accepted. The glass is 52.0 cm high",
        ),
        (
            "/tank/surface",
            json!("choppy"),
            "/tank/surface: unknown variant `choppy`, expected one of `filmed`",
        ),
        (
            "/tank/things/0/is",
            json!({ "teapot": {} }),
            "/tank/things/0/is: unknown variant `teapot`",
        ),
        (
            "/tank/glass",
            json!({ "width_cm": 3 }),
            "/tank/glass: missing field `length_cm`",
        ),
        (
            "/findings/0/finding",
            json!("pumping-gils"),
            "/findings/0/finding: “pumping-gils” is not known",
        ),
        (
            "/findings/0/finding",
            json!("equipment-moved"),
            "/findings/0/finding: “equipment-moved” is not known here",
        ),
        (
            "/findings/1/finding",
            json!("pumping-gills"),
            "/findings/1/finding: “pumping-gills” is answered twice",
        ),
        (
            "/readings/1/value",
            json!(-3),
            "/readings/1/value: -3 is not accepted; Oxygen goes from 0 to 20 mg/L.",
        ),
        (
            "/readings/1/kit",
            json!("thermometer"),
            "/readings/1/kit: “thermometer” does not measure Oxygen.",
        ),
    ] {
        let said = Document::read(&altered(pointer, broken))
            .expect_err(pointer)
            .to_string();
        assert!(said.contains(says), "{said}");
    }
    let said = |text: &str| Document::read(text).expect_err("broken").to_string();
    assert!(
        said(&example("reading-room")[..700])
            .contains("This is no whole JSON file: EOF while parsing"),
        "cut off"
    );
    assert!(said("{}").contains("/format: nothing is given"));
    assert!(
        said(&" ".repeat(LARGEST_FILE + 1))
            .starts_with("The file has 4096 kB; at most 4096 kB are read.")
    );
}

#[test]
fn what_is_unknown_is_reported_kept_and_written_back_to_its_place() {
    let mut json: Value = serde_json::from_str(&example("reading-room")).expect("JSON");
    json["author"] = json!("somebody");
    json["tank"]["glass"]["colour/tint"] = json!("green");
    json["tank"]["things"][2]["moss"] = json!({ "kind": "java", "patches": [1, 2] });
    json["tank"]["altitude_m"] = json!(35);
    let mut opened = open(&json.to_string());
    assert_eq!(
        opened.unknown,
        [
            "/author",
            "/tank/glass/colour~1tint",
            "/tank/things/#3/moss"
        ]
    );
    // The root keeps its moss when the things before it are gone; the outlet never had any.
    opened.document.tank.things.drain(..2);
    let written: Value = serde_json::from_str(&opened.document.write()).expect("JSON");
    assert_eq!(written["author"], "somebody");
    assert_eq!(written["tank"]["glass"]["colour/tint"], "green");
    assert_eq!(
        written["tank"]["things"][0]["moss"]["patches"],
        json!([1, 2])
    );
    assert!(written["tank"].get("unknown").is_none());
    assert_eq!(open(&written.to_string()).document, opened.document);
}

/// Files of the first version, as the program of that time wrote them: the numbers that count for
/// oxygen stay the same.
#[test]
fn files_of_version_1_are_read_and_their_tanks_breathe_as_before() {
    let lowest_then = [
        ("air-pump-silent", 7.7313),
        ("reading-room", 7.4770),
        ("waiting-room", 6.9907),
    ];
    let files = version_1();
    assert_eq!(files.len(), lowest_then.len());
    for ((file, text), (name, lowest)) in files.into_iter().zip(lowest_then) {
        assert!(file.starts_with(name));
        let Opened { document, unknown } = open(&text);
        assert_eq!(unknown, Vec::<String>::new(), "{file}");
        let now = Twin::of(&document.tank).day.lowest().1;
        assert!((now - lowest).abs() < 1e-4, "{file}: {now}");
        let old: Value = serde_json::from_str(&text).expect("JSON");
        let stored: Tank = stored_tank(&old["tank"].to_string()).expect("as stored");
        assert_eq!(stored, document.tank);
    }
}

fn corpus() -> Vec<String> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/fuzz/corpus/read_document");
    let mut files: Vec<_> = std::fs::read_dir(folder)
        .expect("the corpus")
        .map(|entry| entry.expect("readable").path())
        .collect();
    files.sort();
    files
        .into_iter()
        .map(|path| std::fs::read_to_string(path).expect("readable"))
        .collect()
}

#[test]
fn nothing_in_the_corpus_makes_reading_panic() {
    assert!(corpus().len() > 15);
    corpus().iter().for_each(|text| property::holds(text));
}

proptest! {
    #![proptest_config(Config { cases: 400, ..Config::default() })]

    /// Changed copies of the corpus: a piece cut out, doubled, or replaced by what often breaks
    /// readers.
    #[test]
    fn no_damage_to_a_file_makes_reading_panic(
        text in proptest::sample::select(corpus()), from in 0.0..1.0_f64, share in 0.0..0.3_f64,
        piece in proptest::sample::select(vec!["", "\"", "}", "null", "-1e999", "[[[[", "\\u0000", "{\"number\":1}", "true"]).prop_flat_map(Just),
    ) {
        let letters: Vec<char> = text.chars().collect();
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "shares of a length")]
        let at = |share: f64| ((letters.len() as f64) * share) as usize;
        let (start, end) = (at(from), (at(from) + at(share)).min(letters.len()));
        property::holds(&letters[..start].iter().copied().chain(piece.chars()).chain(letters[end..].iter().copied()).collect::<String>());
    }
}

/// Whatever a file dates has happened by its own moment: every date of the tank, of an answer and
/// of a reading.
#[test]
fn a_date_that_is_yet_to_come_is_refused_with_its_place() {
    let mut tried = 0;
    for (_, text) in examples() {
        let document: Value = serde_json::from_str(&text).expect("JSON");
        for (pointer, value) in leaves(&document, String::new()) {
            let Some(words) = value.as_str().filter(|words| {
                words.len() >= 10 && words.starts_with("20") && words.as_bytes()[4] == b'-'
            }) else {
                continue;
            };
            if pointer == "/as_of" {
                continue;
            }
            let mut late = document.clone();
            *late.pointer_mut(&pointer).expect("it is there") =
                Value::from(words.replacen("20", "21", 1));
            let taken =
                Document::read(&late.to_string()).and_then(|opened| opened.document.case(NOON));
            let refused = taken.expect_err(&pointer).to_string();
            let said = refused.contains("is not accepted") || refused.contains("in the future");
            assert!(refused.contains(&pointer) && said, "{pointer}: {refused}");
            tried += 1;
        }
    }
    assert!(tried > 8, "{tried}");
}

/// Every value that is no list and no object, with its pointer.
fn leaves(value: &Value, pointer: String) -> Vec<(String, &Value)> {
    match value {
        Value::Object(fields) => fields
            .iter()
            .flat_map(|(key, value)| leaves(value, format!("{pointer}/{key}")))
            .collect(),
        Value::Array(entries) => entries
            .iter()
            .enumerate()
            .flat_map(|(at, value)| leaves(value, format!("{pointer}/{at}")))
            .collect(),
        _ => vec![(pointer, value)],
    }
}

/// What a case holds later than the moment it speaks of, and what was said of a filter that is
/// gone, is no reason to refuse our own file.
#[test]
fn a_case_that_went_on_and_lost_a_filter_is_taken_back() {
    let mut tank = start::by_id("background-two-canisters")
        .expect("a set-up")
        .tank();
    let [kept, gone] = [tank.filters[0].number, tank.filters[1].number];
    let finding = reed_core::diagnosis::finding::by_id("flow-weak").expect("listed");
    let next_day = NOON.tomorrow().expect("a day");
    let seen =
        reed_core::diagnosis::Answered::new(finding, reed_core::diagnosis::Answer::Yes, next_day);
    let answers = vec![reed_core::diagnosis::Answered {
        filters: vec![kept, gone],
        ..seen
    }];
    let observed = reed_core::diagnosis::Observed {
        answers,
        ..reed_core::diagnosis::Observed::nothing(&tank, NOON)
    };
    tank.filters.retain(|filter| filter.number == kept);
    tank.things.retain(|thing| {
        thing
            .what
            .form()
            .filter()
            .is_none_or(|owner| owner.0 == kept.0)
    });
    let back = open(&Document::of(&Case { tank, observed }).write())
        .document
        .case(next_day)
        .expect("our own file")
        .observed;
    assert_eq!((back.now, &back.answers[0].filters), (NOON, &vec![kept]));
}

#[test]
fn what_could_not_be_looked_at_goes_with_the_file() {
    let text = example("reading-room");
    let mut given: Value = serde_json::from_str(&text).expect("JSON");
    given["declined"] = serde_json::json!([{ "check": "read-ammonia", "why": "no-kit", "at": "2026-03-10T08:00:00" }]);
    let document = Document::read(&given.to_string()).expect("sound").document;
    let case = document
        .case(document.as_of.expect("dated"))
        .expect("sound");
    assert_eq!(case.observed.declined.len(), 1);
    let again = Document::of(&case);
    assert_eq!(
        Document::read(&again.write())
            .expect("sound")
            .document
            .declined,
        document.declined
    );
    for (field, value, says) in [
        (
            "check",
            "read-nothing",
            "/declined/0/check: “read-nothing” is no check of this program.",
        ),
        (
            "at",
            "2999-01-01T08:00:00",
            "/declined/0/at: 2999-01-01T08:00:00 is not accepted; that is in the future.",
        ),
        ("why", "no-time", "/declined/0/why"),
    ] {
        let mut wrong = given.clone();
        wrong["declined"][0][field] = value.into();
        let refused = Document::read(&wrong.to_string())
            .map(|opened| opened.document.case(document.as_of.expect("dated")));
        let said = match refused {
            Err(error) => error.to_string(),
            Ok(observed) => observed.expect_err("refused").to_string(),
        };
        assert!(said.contains(says), "{said}");
    }
}

/// What version 2 wrote means the same now: only the name of the format is another.
#[test]
fn files_of_version_2_are_read_as_they_are() {
    let files = version_2();
    assert_eq!(files.len(), 3);
    for (file, text) in files {
        let old = open(&text);
        assert_eq!(old.unknown, Vec::<String>::new(), "{file}");
        assert_eq!(old.document.format, "zesty-reed/3");
        let new = open(&text.replace("zesty-reed/2", "zesty-reed/3"));
        assert_eq!(old, new, "{file}");
        assert_eq!(open(&old.document.write()).document, old.document, "{file}");
    }
}

/// A kind that only a later version knows is kept, and speaks to no model; what cannot be is named.
#[test]
fn the_log_of_a_file_is_kept_and_what_cannot_be_in_it_is_named() {
    let moments = json!({ "from": "2026-03-09T08:00:00", "to": "2026-03-09T20:00:00" });
    let with = |change: &dyn Fn(&mut Value)| {
        let mut entry = json!({ "happening": "change", "amount": 30.0, "on": { "filter": 1 } });
        entry
            .as_object_mut()
            .expect("an object")
            .extend(moments.as_object().expect("an object").clone());
        change(&mut entry);
        altered("/log", json!([entry]))
    };
    for happening in ["change", "something-of-later"] {
        let text = with(&|entry| entry["happening"] = json!(happening));
        let document = open(&text).document;
        assert_eq!(open(&document.write()).document, document);
        let case = document.case(NOON).expect("sound");
        let told = |recorded: &reed_core::diagnosis::record::Recorded| {
            recorded.known.finding.id == "water-changed"
        };
        assert_eq!(
            case.observed.recorded.iter().any(told),
            happening == "change"
        );
    }
    for (field, value, says) in [
        (
            "amount",
            json!(130),
            "/log/0/amount: 130 is not accepted; give 1 to 100 %.",
        ),
        (
            "on",
            json!({ "filter": 9 }),
            "/log/0/on: this tank has no filter 9.",
        ),
        (
            "to",
            json!("2026-03-08T08:00:00"),
            "/log/0/from: 2026-03-09T08:00:00 is not accepted. It lies after the end",
        ),
        (
            "note",
            json!("x".repeat(5000)),
            "/log/0/note: it has 5000 letters",
        ),
        (
            "details",
            json!({ "grades": { "fine": 6 } }),
            "/log/0/details: Fine foam is graded 6",
        ),
    ] {
        let text = with(&|entry| entry[field] = value.clone());
        let refused = Document::read(&text).expect_err(field).to_string();
        assert!(refused.contains(says), "{refused}");
    }
}
