//! The command line over the same core.

use std::process::{Command, Output, Stdio};

use reed_core::diagnosis::Differential;
use reed_core::document::Document;
use serde_json::Value;

fn run(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
        .args(arguments)
        .output()
        .expect("the program")
}

fn example(name: &str) -> String {
    format!(
        "{}/../../examples/{name}.reed.json",
        env!("CARGO_MANIFEST_DIR")
    )
}

#[test]
fn diagnose_prints_suspects_with_reasons_whether_to_look_on_and_changes() {
    let unclear =
        String::from_utf8(run(&["diagnose", &example("reading-room")]).stdout).expect("text");
    assert!(
        unclear.contains("Look next") && !unclear.contains("Time to act"),
        "{unclear}"
    );
    assert!(
        unclear.contains("The reading is off (Oxygen 4.5 ± 0.5 mg/L)"),
        "a reading is named in words: {unclear}"
    );
    let output = run(&["diagnose", &example("air-pump-silent")]);
    let text = String::from_utf8(output.stdout).expect("text");
    assert!(output.status.success());
    for part in [
        "Children's corner",
        "What stirred the surface has stopped",
        "Time to act",
        "Get what has stopped running again: lowest",
    ] {
        assert!(text.contains(part), "{part} in\n{text}");
    }
}

#[test]
fn diagnose_as_json_says_what_the_core_says() {
    let output = run(&["diagnose", &example("reading-room"), "--json"]);
    let json: Value = serde_json::from_slice(&output.stdout).expect("JSON");
    let document = Document::read(&reed_fixtures::example("reading-room"))
        .expect("an example")
        .document;
    let case = document
        .case(document.as_of.expect("dated"))
        .expect("an example");
    let differential = Differential::of(&case);
    assert_eq!(json["suspects"][0]["fault"], differential.first().fault.id);
    assert_eq!(
        json["suspects"][0]["probability"].as_f64(),
        Some(differential.first().probability)
    );
    assert_eq!(json["checks"][0]["check"], "look-surface-flat");
    assert!(json["changes"][0]["after"]["lowest_mg_l"].is_f64());
    assert_eq!(
        (
            &json["advice"]["do"],
            json["advice"]["looks"][0]["check"].is_string()
        ),
        (&Value::from("look"), true)
    );
    let clear: Value =
        serde_json::from_slice(&run(&["diagnose", &example("air-pump-silent"), "--json"]).stdout)
            .expect("JSON");
    assert_eq!(
        clear["advice"],
        serde_json::json!({ "do": "act", "change": clear["changes"][0]["change"] })
    );
}

/// With the flow of the tank as drawn settled, what left the drawing still leads: the outlet
/// slipped, or the surface lies still.
#[test]
fn diagnose_with_the_flow_does_not_take_the_drawing_for_the_tank() {
    let output = run(&["diagnose", &example("reading-room"), "--flow", "--json"]);
    let json: Value = serde_json::from_slice(&output.stdout).expect("JSON");
    let (first, second) = (&json["suspects"][0], &json["suspects"][1]);
    assert!(
        ["outlet-slipped", "still-surface"].contains(&first["fault"].as_str().expect("an id")),
        "{first} {second}"
    );
    assert!(json["healthy"].as_f64() < Some(0.1), "{}", json["healthy"]);
}

#[test]
fn a_reader_that_closes_the_pipe_is_no_failure() {
    for arguments in [&["schema"][..], &["diagnose", &example("reading-room")]] {
        let mut program = Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
            .args(arguments)
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .expect("the program");
        // Closed before anything is written.
        drop(program.stdout.take());
        let output = program.wait_with_output().expect("it ends");
        assert!(
            output.status.success() && output.stderr.is_empty(),
            "{}",
            String::from_utf8_lossy(&output.stderr)
        );
    }
}

#[test]
fn a_file_that_is_not_taken_is_refused_with_the_reason_and_a_failure() {
    let folder = tempfile::TempDir::new().expect("a folder");
    let file = folder.path().join("broken.reed.json");
    std::fs::write(
        &file,
        reed_fixtures::example("reading-room").replace("4.5", "-3"),
    )
    .expect("written");
    for (path, says) in [
        (
            file.to_str().expect("text"),
            "/readings/1/value: -3 is not accepted",
        ),
        ("/nowhere.json", "cannot be read"),
    ] {
        let output = run(&["diagnose", path]);
        let words = String::from_utf8(output.stderr).expect("text");
        assert!(!output.status.success() && words.contains(says), "{words}");
    }
    // Beyond physics, unknown, or yet to come: each names its place, what it was and what is
    // accepted.
    let reading = |analyte: &str, value: &str, at: &str| {
        format!(r#"{{"analyte":"{analyte}","value":{value},"taken_at":"{at}"}}"#)
    };
    let at = "2026-03-10T08:00:00";
    for (with, says) in [
        (
            reading("do", "40", at),
            "value: 40 is not accepted; Oxygen goes from 0 to 20 mg/L.",
        ),
        (
            reading("temperature", "90", at),
            "value: 90 is not accepted; Water temperature goes from 0 to 45 °C.",
        ),
        (
            reading("gold", "1", at),
            "analyte: “gold” is not known; known are do, temperature",
        ),
        (
            reading("do", "5", "2126-04-01T08:00:00"),
            "taken_at: 2126-04-01T08:00:00 is not accepted; that is in the future. Give a moment up to",
        ),
    ] {
        let mut document: Value =
            serde_json::from_str(&reed_fixtures::example("reading-room")).expect("JSON");
        document["readings"]
            .as_array_mut()
            .expect("a list")
            .push(serde_json::from_str(&with).expect("JSON"));
        std::fs::write(&file, document.to_string()).expect("written");
        let words = String::from_utf8(run(&["diagnose", file.to_str().expect("text")]).stderr)
            .expect("text");
        assert!(
            words.contains(says) && !words.contains("panicked"),
            "{words}"
        );
    }
}

#[test]
fn the_schema_printed_is_the_one_published() {
    let published = std::fs::read_to_string(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../docs/case-document.schema.json"
    ))
    .expect("published");
    assert!(String::from_utf8(run(&["schema"]).stdout).expect("text") == published);
}

#[test]
fn evaluate_reports_both_worlds() {
    let output = run(&["evaluate", "--cases", "1", "--seed", "3"]);
    let text = String::from_utf8(output.stdout).expect("text");
    assert!(output.status.success());
    for part in [
        "evaluate --cases 1 --seed 3",
        "| Cases | 1 | 1 |",
        "Brier",
        "### Stated and true, when nothing is left to ask",
        "### Laws, over the whole catalogue",
        "| media rinsed under the tap |",
    ] {
        assert!(text.contains(part), "{part} in\n{text}");
    }
}

#[test]
fn flow_tells_the_loop_the_muck_and_good_places_and_writes_files_for_viewers() {
    let folder = tempfile::TempDir::new().expect("a folder");
    let (vtk, csv) = (folder.path().join("out.vtk"), folder.path().join("out.csv"));
    let (vtk, csv) = (vtk.to_str().expect("a name"), csv.to_str().expect("a name"));
    let output = run(&["flow", &example("waiting-room"), "--vtk", vtk, "--csv", csv]);
    let text = String::from_utf8(output.stdout).expect("text");
    assert!(output.status.success(), "{text}");
    for part in [
        "Seen from the front",
        "slower than 1 cm/s",
        "of the muck",
        "best places for one more intake",
        "back ",
        "Written: ",
    ] {
        assert!(text.contains(part), "{part} in\n{text}");
    }
    let written = std::fs::read_to_string(vtk).expect("a file");
    let lines = |head: &str| {
        written
            .lines()
            .find_map(|line| line.strip_prefix(head))
            .expect("a head")
            .to_owned()
    };
    let points: usize = lines("POINT_DATA ").parse().expect("a number");
    let along: usize = lines("DIMENSIONS ")
        .split(' ')
        .map(|n| n.parse::<usize>().expect("a number"))
        .product();
    assert!(
        points == along
            && points > 15_000
            && std::fs::read_to_string(csv)
                .expect("a file")
                .lines()
                .count()
                == points + 1
    );
    let refused = run(&["flow", "no-such-tank"]);
    assert!(
        !refused.status.success()
            && String::from_utf8_lossy(&refused.stderr).contains("no-such-tank cannot be read")
    );
}
