//! Kinds of things × what they can do: a table written by hand against what each kind answers and
//! what the tank, the twin and the flow then do with it.

use std::collections::BTreeSet;
use std::ops::ControlFlow;

use reed_core::flow::TankScene;
use reed_core::outlook::failures;
use reed_core::tank::thing::{Drive, Inlet, Kind, Pipe, Rest, Search};
use reed_core::tank::{Analyte, Filter, FilterKind, Running, Surface, Tank};
use reed_core::twin::{Stirring, Twin};
use reed_core::units::{FlowRate, Length};

use crate::sources::{code_of, sources};

/// A tank with one filter and one thing of a kind where it usually goes.
fn tank_with(kind: Kind) -> Tank {
    let mut tank = Tank::plain("One", Length::cm(80.0), Length::cm(35.0), Length::cm(40.0));
    tank.surface = Surface::Still;
    let number = tank.add_filter(Filter {
        name: "Canister".to_owned(),
        kind: FilterKind::RisingBasketCanister,
        rated: FlowRate::litres_per_hour(600.0),
        ..Filter::default()
    });
    let mut what = kind.usual();
    let place = tank.usual_place(&what);
    what.form_mut()
        .fit(&reed_core::tank::thing::Room::of(&tank));
    if let Some(filter) = what.form_mut().filter_mut() {
        *filter = Some(reed_core::tank::thing::FilterRef(number.0));
    }
    tank.add_thing("It", place, what);
    tank
}

/// What a keeper knows of each kind. A new one needs its line: else the list of all does not match.
#[rustfmt::skip]
const TABLE: &[(Kind, &str)] = &[
    (Kind::Outlet,         "turns, belongs, pump, stream, search, pushes"),
    (Kind::Intake,         "belongs, drains, search, inlet"),
    (Kind::Rock,           "solid, loose"),
    (Kind::AirStone,       "air, stops, air pump, search, rises"),
    (Kind::SpongeFilter,   "air, stops, air pump, belongs, search, inlet, rises, drains, pushes"),
    (Kind::HangOnBack,     "falls, stops, pump, belongs, inlet, points, pushes, drains"),
    (Kind::InternalFilter, "turns, belongs, pump, stream, search, inlet, pushes, drains"),
    (Kind::Powerhead,      "turns, stops, pump, stream, search, pushes, alone"),
    (Kind::Overflow,       "falls, stops, pump, belongs, inlet, solid, drains"),
    (Kind::Background,     "solid, hides"),
    (Kind::Heater,         "heats"),
    (Kind::Uv,             ""),
];

fn abilities(kind: Kind) -> BTreeSet<&'static str> {
    let mut tank = tank_with(kind);
    let drawn = TankScene::of(&tank);
    let movers = drawn.scene.movers;
    let (air, falls) = (tank.air_sources().count() > 0, tank.falls().count() > 0);
    let thing = &mut tank.things[0];
    let turns = thing.what.can_be_turned();
    let form = thing.what.form_mut();
    let can = [
        ("turns", turns),
        ("points", form.heading().is_some() && !turns),
        ("stream", form.stream_above().is_some()),
        ("belongs", form.filter_mut().is_some()),
        ("inlet", form.inlet() != Inlet::None),
        ("air", air),
        ("falls", falls),
        ("stops", form.running_mut().is_some()),
        ("pump", form.drive() == Drive::Pump),
        ("air pump", form.drive() == Drive::AirPump),
        ("alone", form.stirs_alone()),
        ("heats", form.heating().is_some()),
        ("hides", form.background().is_some()),
        ("solid", form.solid_share() > 0.0),
        (
            "loose",
            form.stance().rest != Rest::Held && form.sides_mut().is_some(),
        ),
        ("search", form.search().is_some()),
        (
            "pushes",
            !movers.nozzles.is_empty() || !movers.pushes.is_empty(),
        ),
        ("drains", !movers.drains.is_empty()),
        ("rises", !movers.plumes.is_empty()),
    ];
    can.into_iter()
        .filter(|(_, can)| *can)
        .map(|(what, _)| what)
        .collect()
}

#[test]
fn every_kind_can_what_its_line_says() {
    let listed: Vec<Kind> = TABLE.iter().map(|(kind, _)| *kind).collect();
    assert_eq!(listed, Kind::ALL, "a line for each kind, in their order");
    for (kind, line) in TABLE {
        let said: BTreeSet<&str> = line.split(", ").filter(|word| !word.is_empty()).collect();
        assert_eq!(abilities(*kind), said, "{}", kind.id());
    }
}

/// Whatever gives oxygen gives less of it when it stands still, and a power cut stops it.
#[test]
fn what_brings_oxygen_stops_in_a_power_cut() {
    let mut seen = 0;
    for kind in Kind::ALL {
        let tank = tank_with(*kind);
        let lowest = |tank: &Tank| Twin::of(tank).day.lowest().1;
        let mut stopped = tank.clone();
        stopped.set_running(|_| Running::Stopped);
        let brings = tank.air_sources().count() + tank.falls().count() > 0;
        assert!(
            lowest(&stopped) < lowest(&tank) - 1e-6 || !brings,
            "{} gives as much when it stands still",
            kind.id()
        );
        let mut cut = tank.clone();
        [Drive::Pump, Drive::AirPump]
            .into_iter()
            .for_each(|drive| cut.stop(drive));
        assert!(
            cut.air_sources().all(|air| air.running == Running::Stopped)
                && cut.falls().all(|fall| fall.running == Running::Stopped),
            "{} goes on in a power cut",
            kind.id()
        );
        let fails = failures::ALL[0].fall(&tank, Stirring::AS_IT_LOOKS);
        assert!(fails.is_some(), "the power can fail in any tank");
        seen += usize::from(brings);
    }
    assert!(seen >= 4, "{seen} kinds bring oxygen");
}

/// What can be searched for finds places that are free, and can be moved there; what has a stream
/// that turns is found turned.
#[test]
fn what_can_be_searched_can_be_moved() {
    for kind in Kind::ALL {
        let tank = tank_with(*kind);
        let form = tank.things[0].what.form();
        let Some(search) = form.search() else {
            continue;
        };
        let mut looked_at = 0;
        let found = reed_core::flow::search::search(
            &tank,
            tank.things[0].number,
            &reed_core::flow::search::Goals::default(),
            &reed_core::flow::Facts::default(),
            |_| None,
            |progress| {
                looked_at = progress.looked_at[1];
                ControlFlow::Break(())
            },
        );
        assert!(
            found.is_none() && looked_at >= 5,
            "{}: {looked_at} places",
            kind.id()
        );
        let turned_about = search != Search::OnTheBed && search != Search::WhereMuckComes;
        assert_eq!(
            turned_about,
            tank.things[0].what.can_be_turned(),
            "{}",
            kind.id()
        );
        assert!(form.pipe() != Pipe::Overflow, "a weir is not moved about");
    }
}

/// No code asks which kind a thing is and passes over the rest: such a place is forgotten when a
/// kind is added. Only the scene of the flow and the drawing know the kinds, each by a match that
/// names all of them.
#[test]
fn no_wildcard_over_kinds() {
    let mut passed_over = Vec::new();
    for path in sources(&[
        "reed-core/src",
        "reed-store/src",
        "reed-web/src",
        "zesty-reed/src",
    ]) {
        let code = code_of(&path);
        let lines: Vec<&str> = code.lines().collect();
        for (number, line) in lines.iter().enumerate() {
            if line.contains("ThingKind::") && passes_over(&lines[number..]) {
                passed_over.push(format!("{}: {}", path.display(), line.trim()));
            }
        }
    }
    assert!(
        passed_over.is_empty(),
        "some kinds are asked for, others passed over: {passed_over:#?}"
    );
}

/// Whether the first of these lines asks for some kinds alone: as a question, or as an arm of a match
/// that has one for all the rest.
fn passes_over(lines: &[&str]) -> bool {
    let indent = |line: &str| line.len() - line.trim_start().len();
    let first = lines[0];
    if [
        "matches!",
        "let ThingKind",
        "let Some(ThingKind",
        "use ThingKind",
    ]
    .iter()
    .any(|question| first.contains(question))
    {
        return true;
    }
    let is_arm = ["ThingKind::", "| ThingKind::"]
        .iter()
        .any(|start| first.trim_start().starts_with(start));
    let mut of_this_match = lines
        .iter()
        .take_while(|line| line.is_empty() || indent(line) >= indent(first));
    is_arm
        && of_this_match
            .any(|line| line.trim_start().starts_with("_ ") && indent(line) == indent(first))
}

/// The law above sees what it is to see.
#[test]
fn a_wildcard_is_seen() {
    let (all, some) = (
        ["    ThingKind::Uv(_) => {", "        1", "    }", "}"],
        ["    ThingKind::Uv(_) => 1,", "    _ => 2,", "}", ""],
    );
    assert!(!passes_over(&all) && passes_over(&some));
    assert!(passes_over(&["let x = matches!(what, ThingKind::Uv(_));"]));
}

/// An analyte that nothing weighs, asks for or computes with is a field that a keeper fills in
/// vain.
#[test]
fn every_analyte_is_used() {
    let list = include_str!("../../src/tank/reading.rs");
    let named = list
        .lines()
        .filter_map(|line| line.trim().split_once(" = (\""));
    let constants: Vec<&str> = named.map(|(constant, _)| constant).collect();
    assert_eq!(constants.len(), Analyte::ALL.len(), "{constants:?}");
    let texts: String = sources(&["reed-core/src", "reed-web/src"])
        .into_iter()
        .filter(|path| !path.ends_with("tank/reading.rs") && !path.iter().any(|part| part == "kit"))
        .map(|path| code_of(&path))
        .collect();
    for constant in constants {
        let used = texts.contains(&format!("Analyte::{constant}"))
            || texts.contains(&format!(", {constant}, above"))
            || texts.contains(&format!(", {constant}, below"));
        assert!(used, "{constant} is read and used by nothing");
    }
}
