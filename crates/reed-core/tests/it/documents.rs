//! The open file: examples, schema, round trips, and files that must be refused with a reason.

use jiff::civil::date;
use reed_core::document::Document;
use reed_fixtures::{example, examples};

const NOON: jiff::civil::DateTime = date(2026, 3, 10).at(12, 0, 0, 0);

#[test]
fn every_example_is_read_and_written_back_without_loss() {
    assert!(examples().len() >= 3);
    for (file, text) in examples() {
        let document = Document::read(&text).unwrap_or_else(|error| panic!("{file}: {error}"));
        let observed = document.observed(NOON).expect("checked by read");
        let again = Document::of(&document.tank, &observed);
        assert_eq!(again.observed(NOON).expect("own document"), observed, "{file}");
        assert_eq!(Document::read(&again.write()).expect("own document"), again, "{file}");
    }
}

/// `jsonschema` is a general validator that knows nothing of this program.
#[test]
fn the_published_schema_accepts_the_examples_and_all_we_write_and_rejects_broken_files() {
    let published =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/case-document.schema.json")).expect("published");
    assert!(published == Document::schema(), "out of date; run: cargo run -- schema > docs/case-document.schema.json");
    let schema = serde_json::from_str(&published).expect("JSON");
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    for (file, text) in examples() {
        assert!(validator.is_valid(&serde_json::from_str(&text).expect("JSON")), "{file}");
        let written = Document::read(&text).expect("an example").write();
        assert!(validator.is_valid(&serde_json::from_str(&written).expect("JSON")), "{file} as written");
    }
    for (field, broken) in
        [("/tank/surface", "\"choppy\""), ("/tank/stock", "3"), ("/findings", "[{\"finding\": \"gasping\"}]"), ("/tank/length", "1")]
    {
        let mut json: serde_json::Value = serde_json::from_str(&example("reading-room")).expect("JSON");
        let (parent, name) = field.rsplit_once('/').expect("a path");
        json.pointer_mut(parent).expect("there")[name] = serde_json::from_str(broken).expect("JSON");
        assert!(!validator.is_valid(&json), "{field}");
    }
}

#[test]
fn a_broken_file_is_refused_with_every_reason_and_its_place() {
    let change = |from: &str, to: &str| {
        let text = example("reading-room");
        assert!(text.contains(from), "{from}");
        Document::read(&text.replace(from, to)).expect_err(to).to_string()
    };
    for (from, to, says) in [
        ("zesty-reed/1", "zesty-reed/9", "format: “zesty-reed/9” is not known"),
        ("\"temperature_c\": 25.0", "\"temperature_c\": 900.0", "tank.temperature_c: Water temperature: “900 °C” is not accepted."),
        ("pumping-gills", "pumping-gils", "findings[0].finding: “pumping-gils” is not known"),
        ("\"pumping-gills\"", "\"equipment-moved\"", "findings[0].finding: “equipment-moved” is not known here"),
        ("keeps-to-top", "pumping-gills", "findings[1].finding: “pumping-gills” is answered twice"),
        ("\"value\": 4.5", "\"value\": -3", "readings[1].value: -3 is not accepted; Oxygen goes from 0 to 25 mg/L."),
        ("oxygen-drops", "thermometer", "readings[1].kit: “thermometer” does not measure Oxygen."),
        ("\"surface\": \"broken\"", "\"surface\": \"choppy\"", "unknown variant `choppy`"),
        ("\"stock\"", "\"stork\"", "unknown field `stork`"),
    ] {
        let said = change(from, to);
        assert!(said.contains(says), "{to}: {said}");
    }
    assert!(Document::read("not json").expect_err("no JSON").to_string().contains("not a zesty-reed/1 document"));
}
