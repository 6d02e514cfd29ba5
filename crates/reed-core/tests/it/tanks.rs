//! The tank as it stands: what cannot be, what is typed, what changed, what follows in numbers.

use proptest::prelude::{Just, Strategy, prop_assert, prop_assert_eq, proptest};
use reed_core::document::start;
use reed_core::field::{
    Described, Field, What, differences, from_texts, keep_untouched, texts_of, tree,
};
use reed_core::outlook::forecast::{Ensemble, Grade};
use reed_core::remedy::change;
use reed_core::tank::thing::{FilterRef, Intake, Rock, RockMaterial, ThingKind};
use reed_core::tank::{
    Activity, BedSchool, Build, Purpose, Running, StockGroup, Surface, Tank, Thing, Weight,
};
use reed_core::twin::Twin;
use reed_core::twin::numbers::Numbers;
use reed_core::units::{
    Angle, FlowRate, HardnessUnit, Length, LengthUnit, Mass, NitrogenForm, Quantity,
    TemperatureUnit, Units, Volume, VolumeUnit,
};

const BASE: Units = Units::BASE;

fn tank(id: &str) -> Tank {
    start::by_id(id).expect("listed").tank()
}

fn thing<'a>(tank: &'a mut Tank, name: &str) -> &'a mut Thing {
    tank.things
        .iter_mut()
        .find(|thing| thing.name == name)
        .unwrap_or_else(|| panic!("{name}"))
}

/// Sets one thing somewhere, in cm.
fn put(tank: &mut Tank, name: &str, (x, y, z): (f64, f64, f64)) {
    let thing = thing(tank, name);
    (thing.x, thing.y, thing.z) = (Length::cm(x), Length::cm(y), Length::cm(z));
}

/// One thing that is wrong, how it is made, and what must be said of it.
type Wrong = (&'static str, fn(&mut Tank), Weight, &'static str);

#[test]
fn everything_that_cannot_be_is_said_of_the_right_thing_in_words() {
    use Weight::{Impossible, Odd};
    let wrong: &[Wrong] = &[
        // 16 × 12 cm turned by 30° reaches 8·cos 30° + 6·sin 30° = 9.9 cm to either side.
        (
            "planted-canister",
            |t| put(t, "Stone", (98.0, 18.0, 5.0)),
            Impossible,
            "Stone goes 7.9 cm through the right end. Move it in.",
        ),
        (
            "planted-canister",
            |t| put(t, "Stone", (70.0, 3.0, 5.0)),
            Impossible,
            "through the front pane",
        ),
        (
            "planted-canister",
            |t| put(t, "Stone", (78.0, 16.0, -2.0)),
            Impossible,
            "Stone goes 2.0 cm through the floor",
        ),
        (
            "planted-canister",
            |t| put(t, "Stone", (78.0, 16.0, 20.0)),
            Impossible,
            "Stone hangs 14.0 cm above what is under it. Set it down.",
        ),
        (
            "rocks-two-filters",
            |t| put(t, "Rock on it", (46.0, 34.0, 18.0)),
            Impossible,
            "Large rock and Rock on it take up the same place.",
        ),
        (
            "planted-canister",
            |t| put(t, "Intake", (4.0, 36.0, 46.0)),
            Impossible,
            "Intake reaches 2.0 cm above the water and draws air. Lower it.",
        ),
        (
            "planted-canister",
            |t| put(t, "Intake", (4.0, 36.0, 5.0)),
            Impossible,
            "Intake lies in the bed",
        ),
        (
            "planted-canister",
            |t| put(t, "Flared outlet", (6.0, 34.0, 3.0)),
            Impossible,
            "Flared outlet lies in the bed",
        ),
        (
            "planted-canister",
            |t| put(t, "Flared outlet", (6.0, 34.0, 51.0)),
            Odd,
            "is 3.0 cm above the water: its stream falls in",
        ),
        (
            "rocks-two-filters",
            |t| put(t, "Wave maker", (80.0, 56.0, 55.0)),
            Impossible,
            "Wave maker is not wholly under water",
        ),
        (
            "planted-canister",
            |t| put(t, "Air stone, by night", (92.0, 34.0, 49.0)),
            Impossible,
            "is above the water. Lower it to the bed.",
        ),
        (
            "community-internal",
            |t| put(t, "Internal filter", (73.0, 30.0, 17.0)),
            Impossible,
            "Internal filter stands 3.0 cm out of the water",
        ),
        (
            "community-internal",
            |t| t.water_depth = Length::cm(30.0),
            Odd,
            "Heater is not wholly under water. Most heaters crack",
        ),
        (
            "planted-hang-on",
            |t| put(t, "Hang-on filter", (45.0, 30.0, 33.0)),
            Odd,
            "The lip of Hang-on filter is under water",
        ),
        (
            "planted-hang-on",
            |t| t.water_depth = Length::cm(10.0),
            Impossible,
            "The intake tube of Hang-on filter ends above the water",
        ),
        (
            "reef-sump",
            |t| put(t, "Overflow", (55.0, 49.0, 53.0)),
            Odd,
            "The sill of Overflow is 1.0 cm above the water",
        ),
        (
            "turtle",
            |t| put(t, "Basking stone", (95.0, 30.0, 0.0)),
            Odd,
            "no conflict",
        ),
        (
            "planted-canister",
            |t| t.filters.clear(),
            Odd,
            "Intake belongs to a filter that is not there.",
        ),
        (
            "planted-canister",
            |t| t.things.retain(|thing| thing.name != "Intake"),
            Odd,
            "Canister has no intake in the tank yet.",
        ),
        (
            "large-sump",
            |t| t.things.retain(|thing| thing.name != "Overflow"),
            Odd,
            "Sump has no overflow in the tank yet.",
        ),
        (
            "background-two-canisters",
            |t| {
                if let ThingKind::Background(background) = &mut thing(t, "Background").what {
                    background.openings.clear();
                }
            },
            Impossible,
            "Intake left is behind Background, which has no opening: no water gets there.",
        ),
        (
            "planted-canister",
            |t| {
                t.add_thing(
                    "Loose intake",
                    (50.0, 8.0, 20.0),
                    ThingKind::Intake(Intake::default()),
                );
            },
            Odd,
            "Loose intake belongs to no filter yet.",
        ),
    ];
    for (id, make, weight, says) in wrong {
        let mut tank = tank(id);
        make(&mut tank);
        let conflicts = tank.conflicts(&BASE);
        if *says == "no conflict" {
            assert_eq!(conflicts, [], "{id}: a stone may stand out of the water");
            continue;
        }
        let found = conflicts
            .iter()
            .find(|conflict| conflict.words.contains(says));
        let found = found.unwrap_or_else(|| panic!("{id}: “{says}” is not among {conflicts:?}"));
        assert_eq!(found.weight, *weight, "{}", found.words);
        let named = |number| {
            tank.thing(number)
                .is_some_and(|thing| found.words.contains(&thing.name))
        };
        assert!(
            found.things.iter().all(|number| named(*number)) || says.contains("has no"),
            "{}",
            found.words
        );
    }
}

#[test]
fn roots_float_stones_stack_and_rocks_may_lean_on_a_background() {
    let mut tank = tank("background-two-canisters");
    let root = Rock {
        material: RockMaterial::Root,
        ..Rock::default()
    };
    tank.add_thing("Floating root", (40.0, 20.0, 40.0), ThingKind::Rock(root));
    tank.add_thing(
        "Leaning stone",
        (100.0, 40.0, 4.0),
        ThingKind::Rock(Rock::default()),
    );
    tank.add_thing(
        "On top",
        (100.0, 40.0, 16.0),
        ThingKind::Rock(Rock::default()),
    );
    assert_eq!(tank.conflicts(&BASE), []);
}

#[test]
fn lengths_in_conflicts_are_said_in_the_keepers_units() {
    let mut tank = tank("planted-canister");
    put(&mut tank, "Stone", (98.0, 18.0, 5.0));
    let inches = Units {
        length: LengthUnit::Inches,
        ..BASE
    };
    assert!(
        tank.conflicts(&inches)[0]
            .words
            .contains("Stone goes 3.1 in through the right end")
    );
}

fn any_units() -> impl Strategy<Value = Units> {
    let of = |n: usize| 0..n;
    (of(3), of(2), of(2), of(2), of(3)).prop_map(
        |(volume, length, temperature, nitrogen, hardness)| Units {
            volume: VolumeUnit::ALL[volume],
            length: LengthUnit::ALL[length],
            temperature: TemperatureUnit::ALL[temperature],
            nitrogen: NitrogenForm::ALL[nitrogen],
            hardness: HardnessUnit::ALL[hardness],
        },
    )
}

fn set_ups() -> impl Strategy<Value = Tank> {
    proptest::sample::select(
        start::ALL
            .iter()
            .map(start::Start::tank)
            .collect::<Vec<_>>(),
    )
}

proptest! {
    /// A form that nobody touches gives back the same tank to the last bit, in whatever units it
    /// was shown; and without the tank to compare with, what is typed is within what four digits
    /// can show.
    #[test]
    fn a_tank_survives_its_form_in_any_units(before in set_ups(), units in any_units(), stretch in 0.9..1.1_f64) {
        let mut before = before;
        before.water_depth = Length::cm(before.water_depth.as_cm() * stretch.min(1.0));
        before.temperature = reed_core::units::Temperature::celsius(before.temperature.as_celsius() * stretch);
        let value = before.to_value();
        let texts = texts_of(&value, Tank::FIELDS, &units);
        let mut typed = from_texts(&texts, Tank::FIELDS, &units).expect("our own texts");
        let read: Tank = serde_json::from_value(typed.clone()).expect("a tank");
        prop_assert!((read.water_depth.as_cm() - before.water_depth.as_cm()).abs() < 2e-3);
        prop_assert!((read.temperature.as_celsius() - before.temperature.as_celsius()).abs() < 1e-3);
        keep_untouched(&mut typed, &value, Tank::FIELDS, &units);
        prop_assert_eq!(&typed, &value);
        prop_assert_eq!(differences(&value, &typed, Tank::FIELDS, "", &units), Vec::<String>::new());
    }

    /// Whatever a form sends, it is a tank or refusals that name fields: no panic, no refusal
    /// without words.
    #[test]
    fn any_pairs_make_a_tank_or_refusals(
        pairs in proptest::collection::vec((
            proptest::sample::select(vec![
                "/name", "/glass/length_cm", "/things/0/x_cm", "/things/0/is/outlet/bore_mm", "/things/0/is/rock/height_cm",
                "/things/-1/x_cm", "/things/999999999999/x_cm", "/filters/1/trays/0/media/2/litres", "/plants/lights_on_hour", "/stock/0/count",
                "/things", "/glass", "//", "/", "", "no pointer", "/things/0/is", "/set_up", "/a/b/c/d/e/f/g/h/i/j/k/l/m/n",
            ]),
            proptest::sample::select(vec!["", "12", "-1e999", "9:30", "abc", "12 in", "\u{0}", "99999999999999999999", "2026-13-40", "yes"]).prop_flat_map(Just),
        ), 0..30),
    ) {
        let texts = tree(pairs.iter().map(|(pointer, text)| (*pointer, *text)), Tank::FIELDS);
        let refusals = from_texts(&texts, Tank::FIELDS, &BASE).expect_err("such pairs never make a whole tank");
        prop_assert!(refusals.iter().all(|refusal| refusal.field.starts_with('/') && !refusal.label.is_empty() && refusal.accepted.ends_with('.')));
    }
}

#[test]
fn what_changed_is_said_in_words_and_units_of_the_keeper() {
    let before = tank("planted-canister");
    let mut after = before.clone();
    after.temperature = reed_core::units::Temperature::celsius(26.0);
    put(&mut after, "Stone", (60.0, 16.0, 5.0));
    if let ThingKind::Outlet(outlet) = &mut thing(&mut after, "Flared outlet").what {
        (outlet.heading, outlet.filter) = (Angle::degrees(90.0), None);
    }
    after.things.retain(|thing| thing.name != "Root");
    after = after.with_air_stone("Second stone", 100.0, Running::Always);
    after.filters[0].trays[1].media.pop();
    after.practice.bed = BedSchool::CarriedAway;
    let fahrenheit = Units {
        temperature: TemperatureUnit::Fahrenheit,
        ..BASE
    };
    let words = differences(
        &before.to_value(),
        &after.to_value(),
        Tank::FIELDS,
        "",
        &fahrenheit,
    );
    assert_eq!(
        words,
        [
            "Water temperature: 75.2 °F → 78.8 °F",
            "Flared outlet, points to: 345 ° → 90 °",
            "Flared outlet, belongs to: filter 1 → nothing",
            "Stone, from the left: 78 cm → 60 cm",
            "Added: Second stone",
            "Taken out: Root",
            "Taken out: Canister, middle basket, Medium 2",
            "Dirt on the bed is: siphoned off at each water change → left to the stream and the intakes",
        ]
    );
}

/// By hand: two fish of 10 g and one of 6 g in 100 L; 480 L/h real of 800 L/h rated; 2 g of feed
/// with 40 % protein.
#[test]
fn the_numbers_are_those_of_the_arithmetic() {
    let mut tank = Tank::plain("n", Length::cm(100.0), Length::cm(40.0), Length::cm(30.0));
    tank.measured_volume = Some(Volume::litres(100.0));
    tank.stock.push(StockGroup::weighing(
        "a",
        2,
        Mass::grams(10.0),
        Activity::Usual,
    ));
    tank.stock.push(StockGroup::weighing(
        "b",
        1,
        Mass::grams(6.0),
        Activity::Usual,
    ));
    tank.feed = Mass::grams(2.0);
    let filter = tank.add_filter(reed_core::tank::Filter {
        rated: FlowRate::litres_per_hour(800.0),
        ..Default::default()
    });
    assert_eq!(filter.0, 1);
    let numbers = Numbers::of(&tank);
    for (value, expected) in [
        (numbers.flow_l_per_h, 480.0),
        (numbers.turnover_per_h, 4.8),
        (numbers.stock_g, 26.0),
        (numbers.stock_g_per_l, 0.26),
        (numbers.nitrogen_g_per_day, 2.0 * 0.4 * 0.092),
        (numbers.media_l, 0.5),
        (numbers.media_m2, 0.55),
    ] {
        assert!((value - expected).abs() < 1e-9, "{value} is not {expected}");
    }
    tank.filters[0].measured = Some(FlowRate::litres_per_hour(300.0));
    assert!(
        (Numbers::of(&tank).turnover_per_h - 3.0).abs() < 1e-9,
        "a bucket knows better than a label"
    );
}

#[test]
fn turtles_breathe_air_and_dirt_that_stays_uses_oxygen() {
    let lowest = |tank: &Tank| Twin::of(tank).day.lowest().1;
    let mut tank = tank("community-internal");
    let before = lowest(&tank);
    let large = StockGroup {
        build: Build::Turtle,
        breathes_air: true,
        ..StockGroup::weighing("large", 1, Mass::grams(500.0), Activity::Usual)
    };
    tank.stock.push(large);
    assert!(
        (lowest(&tank) - before).abs() < 1e-12,
        "a turtle takes none from the water"
    );
    tank.stock[3].build = Build::Fusiform;
    assert!(lowest(&tank) < before - 0.2, "a fish of its mass does");
    tank.stock.pop();
    tank.practice.bed = BedSchool::CarriedAway;
    assert!(lowest(&tank) < before - 0.01);
}

#[test]
fn a_purpose_moves_the_limits_and_blocks_what_does_harm() {
    let mut quarantine = tank("bare-quarantine");
    let suits = |tank: &Tank, id: &str| change::by_id(id).expect("listed").suits(tank);
    assert!(
        suits(&quarantine, "add-plants")
            .expect_err("blocked")
            .contains("disinfected")
    );
    quarantine.purpose = Purpose::Display;
    assert!(suits(&quarantine, "add-plants").is_ok());
    quarantine.purpose = Purpose::Treatment;
    assert!(
        suits(&quarantine, "add-peroxide-catalyst").is_err()
            && suits(&quarantine, "raise-or-aim-outlet").is_ok()
    );
    let day = Ensemble::of_tank(&quarantine).forecast(Tank::clone);
    let between = 0.75 * day.saturation;
    assert_eq!(
        day.grade_of(between),
        Grade::Act,
        "what a display tolerates is too low for sick fish"
    );
    quarantine.purpose = Purpose::Display;
    assert_eq!(
        Ensemble::of_tank(&quarantine)
            .forecast(Tank::clone)
            .grade_of(between),
        Grade::Watch
    );
}

#[test]
fn a_change_to_the_tank_is_seen_on_its_things() {
    let before = tank("planted-canister");
    let apply = |id: &str| change::by_id(id).expect("listed").apply(&before);
    let raised = apply("raise-or-aim-outlet");
    let (was, is) = (before.things[0].z.as_cm(), raised.things[0].z.as_cm());
    assert!(
        is > was && raised.surface == Surface::Broken,
        "{was} → {is}"
    );
    let sponged = apply("add-sponge-filter");
    let added = sponged.things.last().expect("things");
    let number = sponged.filters.last().expect("filters").number;
    assert_eq!(added.what.form().filter(), Some(FilterRef(number.0)));
    for id in [
        "add-air-stone",
        "add-sponge-filter",
        "add-surface-powerhead",
        "fix-air-stones",
        "night-aeration",
    ] {
        assert_eq!(apply(id).conflicts(&BASE), [], "{id}");
    }
}

/// Every number has a range that holds its blank value, and every choice more than one side.
#[test]
fn every_field_is_sound() {
    fn walk(fields: &[Field], blank: &serde_json::Value) {
        for field in fields {
            assert!(
                !field.label.is_empty() && field.help.trim().ends_with('.'),
                "{}: {}",
                field.key,
                field.help
            );
            match (&field.what, blank.get(field.key)) {
                (What::Amount(units), value) => {
                    assert!(field.range.0 < field.range.1, "{}", field.key);
                    assert!(field.key.ends_with("_c") || !units.is_empty());
                    let held = value
                        .and_then(serde_json::Value::as_f64)
                        .is_none_or(|value| (field.range.0..=field.range.1).contains(&value));
                    assert!(held, "{}: {value:?}", field.key);
                }
                (What::OneOf(choices), _) => assert!(choices.len() > 1, "{}", field.key),
                (What::Part(part) | What::List(part), _) => walk(part.fields, &(part.blank)()),
                (What::Kinds(kinds), _) => kinds
                    .iter()
                    .for_each(|kind| walk(kind.part.fields, &(kind.part.blank)())),
                _ => {}
            }
        }
    }
    walk(Tank::FIELDS, &Tank::default().to_value());
    walk(Units::FIELDS, &serde_json::to_value(BASE).expect("plain"));
    assert_eq!(Length::UNITS[0].symbol, "cm");
}
