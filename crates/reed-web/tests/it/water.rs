//! Water: what is ahead, events, changes and their size.

use axum::http::StatusCode;

use crate::client::Client;

#[tokio::test]
async fn the_page_says_what_is_there_and_the_part_what_is_ahead() {
    let client = Client::new();
    for (part, says) in [
        (
            "",
            &[
                "Nitrogen, sixty days ahead",
                "All media: 100 %",
                "/tanks/1/water/outlook",
            ][..],
        ),
        (
            "/changes",
            &[
                "20 % every 7 days",
                "name=\"tap_kh\" value=\"\"",
                "6 readings are missing",
            ],
        ),
        ("/bacteria", &["Surface for bacteria"]),
        (
            "/oxygen",
            &["The power fails: nothing moves", "The heater sticks on"],
        ),
        (
            "/ph",
            &["Carbon dioxide and pH through a day", "The day in numbers"],
        ),
        ("/media", &["Is a chemical medium due?"]),
        ("/tests", &["Step by step", "Read lately", "4.5 ± 0.5 mg/L"]),
    ] {
        let page = client.get(&format!("/tanks/1/water{part}")).await.text;
        for says in says {
            assert!(page.contains(says), "{part}: {says}");
        }
        assert!(page.len() <= 60_000, "{part}: {}", page.len());
        assert_eq!(
            client.get(&format!("/tanks/9/water{part}")).await.status,
            StatusCode::NOT_FOUND
        );
    }
    let part = client.get("/tanks/1/water/outlook").await.text;
    assert!(
        part.contains("Nothing was read yet")
            && part.contains("In 60 days nitrate stands at")
            && part.contains("&#34;words&#34;:&#34;Water change, 20 %&#34;"),
        "{part}"
    );
    let supposed = client
        .get("/tanks/1/water/outlook?what=new-media&amount=100")
        .await
        .text;
    assert!(
        supposed.contains("Only if this happened now: Media replaced by new, 100 % of them"),
        "{supposed}"
    );
    assert_eq!(
        client
            .get("/tanks/1/water/outlook?what=new-media&amount=900")
            .await
            .status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert!(
        !client
            .get("/tanks/1/water/outlook")
            .await
            .text
            .contains("Only if"),
        "nothing was entered"
    );
    assert_eq!(
        client.get("/tanks/9/water/outlook").await.status,
        StatusCode::NOT_FOUND
    );
}

/// Readings tell: the part counts them and says how much they taught, in the keeper's units.
#[tokio::test]
async fn readings_are_entered_here_and_learned_from() {
    let client = Client::new();
    for (days, nitrate) in [(9, 6), (5, 8), (1, 9)] {
        let body = format!(
            "kit=nitrate-drops&value={nitrate}&spread=&taken_at=2026-03-{:02}T08:00",
            10 - days
        );
        let saved = client.post("/tanks/1/water/readings", &body).await;
        assert_eq!(saved.location, "/tanks/1/water#ahead", "{}", saved.text);
    }
    let refused = client
        .post(
            "/tanks/1/water/readings",
            "kit=nitrate-drops&value=much&spread=&taken_at=2026-03-09T08:00",
        )
        .await;
    assert!(
        refused.status == StatusCode::UNPROCESSABLE_ENTITY
            && refused.text.contains("value=\"much\""),
        "{}",
        refused.text
    );
    let part = client.get("/tanks/1/water/outlook").await.text;
    assert!(
        part.contains("3 readings of the last four months count")
            && part.contains("of the doubt taken by your readings"),
        "{part}"
    );
    let units = "%2Fvolume=us-gallons&%2Flength=inches&%2Ftemperature=fahrenheit&%2Fnitrogen=ion&%2Fhardness=calcium-carbonate";
    client.post("/settings", units).await;
    assert!(
        client
            .get("/tanks/1/water/outlook")
            .await
            .text
            .contains("Nitrate, mg/L NO₃")
    );
}

#[tokio::test]
async fn events_are_refused_with_what_was_typed_or_entered_moved_and_withdrawn() {
    let client = Client::new();
    for (body, says) in [
        (
            "what=nonsense&amount=1&at=2026-03-12T08:00",
            "Choose one from the list",
        ),
        (
            "what=change&amount=500&at=2026-03-12T08:00",
            "Give a number from 1 to 100 %",
        ),
        (
            "what=stop&amount=long&at=2026-03-12T08:00",
            "“long” is not accepted",
        ),
        ("what=change&amount=30&at=soon", "“8 pm”"),
        (
            "what=change&amount=30&at=2036-03-12T08:00",
            "no more than a year ahead",
        ),
    ] {
        let refused = client.post("/tanks/1/log", body).await;
        assert!(
            refused.status == StatusCode::UNPROCESSABLE_ENTITY && refused.text.contains(says),
            "{body}: {}",
            refused.text
        );
    }
    let kept = client
        .post(
            "/tanks/1/log",
            "what=stop&amount=long&at=2026-03-12T08:00&back=water",
        )
        .await
        .text;
    assert!(
        kept.contains("value=\"long\"")
            && kept.contains("value=\"2026-03-12T08:00\"")
            && kept.contains("<option value=\"stop\" data-unit=\"h\" selected>")
    );
    client
        .post(
            "/tanks/1/log",
            "what=new-media&amount=100&at=2026-03-12T08:00",
        )
        .await;
    let part = async || client.get("/tanks/1/water/outlook").await.text;
    let with = part().await;
    assert!(
        with.contains("Media replaced by new, 100 % of them, planned"),
        "{with}"
    );
    let number = |part: &str| -> String {
        let (_, rest) = part.split_once("/tanks/1/log/").expect("an entry");
        rest.chars().take_while(char::is_ascii_digit).collect()
    };
    let entry = number(&with);
    assert_eq!(
        client
            .post(
                &format!("/tanks/1/log/{entry}/move"),
                "to=2026-03-20T08:00&back=water"
            )
            .await
            .location,
        "/tanks/1/water#ahead"
    );
    assert!(part().await.contains("20 Mar"), "{}", part().await);
    let entry = number(&part().await);
    let send = async |what: &str| {
        let answer = client
            .post(&format!("/tanks/1/log/{entry}/{what}"), "back=water")
            .await;
        assert_eq!(answer.location, "/tanks/1/water#ahead");
    };
    send("strike").await;
    assert!(part().await.contains("Withdrawn."));
    send("restore").await;
    assert!(!part().await.contains("Withdrawn."));
    client
        .post(
            "/tanks/1/water/habit",
            "from=2026-03-13T20:30&to=2026-03-15T20:30",
        )
        .await;
    let moved = part().await;
    assert!(
        moved.contains("No change after all, planned")
            && moved.contains("Water change, 20 %, planned"),
        "{moved}"
    );
    assert_eq!(
        client
            .post("/tanks/1/log/99/move", "to=2026-03-20T08:00")
            .await
            .status,
        StatusCode::NOT_FOUND
    );
}

/// A tank set up last week: the stage of its cycle, when it is through, and what would speed it up.
#[tokio::test]
async fn a_new_tank_is_told_when_its_cycle_is_through() {
    let client = Client::new();
    let mut form = crate::form::Form::of(&client.get("/tanks/1/edit").await.text);
    assert_eq!(
        client
            .post(
                "/tanks/1",
                &form.set("/set_up", "2026-03-01").set("do", "save").sent()
            )
            .await
            .status,
        StatusCode::SEE_OTHER
    );
    let part = client.get("/tanks/1/water/outlook").await.text;
    for says in [
        "When it is through",
        "With a piece of mature media now",
        "Stage now: the first bacteria are growing",
        "Ammonia: due now",
        "2.6 mg/L NH₄ of ammonia gone within a day: not shown yet",
        "no medium or binder that hides it: shown",
    ] {
        assert!(part.contains(says), "{says}: {part}");
    }
    // Planned: doses, the last change and feeding in steps stand as events; a second plan takes the
    // place of the first; all is withdrawn at once.
    let planned = async || {
        client
            .get("/tanks/1/water/outlook")
            .await
            .text
            .matches(", planned</span>")
            .count()
    };
    let plan = async |start: &str| {
        client
            .post(
                "/tanks/1/water/cycle",
                &format!("start={start}&source=doses"),
            )
            .await
    };
    assert_eq!(plan("pinch").await.location, "/tanks/1/water#ahead");
    let part = client.get("/tanks/1/water/outlook").await.text;
    for says in [
        "Mature media added, 1 % of what the tank needs",
        "Ammonia dosed, 2.58 mg/L NH₄, planned",
        "Fed from then on, 1 times as much, planned",
    ] {
        assert!(part.contains(says), "{says}: {part}");
    }
    let first = planned().await;
    plan("piece").await;
    assert!(first > 6 && planned().await < first, "{first}");
    client.post("/tanks/1/water/planned/strike", "").await;
    assert_eq!(planned().await, 0);
    assert_eq!(
        plan("nonsense").await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert_eq!(
        client
            .post("/tanks/99/water/cycle", "start=piece&source=doses")
            .await
            .status,
        StatusCode::NOT_FOUND
    );
}

/// One problem, one medium, with what it wins here; what is in its way is said.
#[tokio::test]
async fn a_medium_is_picked_by_its_problem() {
    let client = Client::new();
    let pick = async |problem: &str| {
        client
            .get(&format!("/tanks/1/water/media?problem={problem}"))
            .await
            .text
    };
    let ammonia = pick("ammonia").await;
    for says in [
        "zeolite or ammonia resin",
        "if it gets all of it",
        "Last in the path",
        "says nothing about the bacteria",
        "Feed less and change water",
    ] {
        assert!(ammonia.contains(says), "{says}: {ammonia}");
    }
    assert!(
        pick("tint")
            .await
            .contains("out after two months at the latest")
            && pick("nonsense").await.contains("What would it do here?")
    );
    // While it is in, a zero says nothing.
    client
        .post(
            "/tanks/1/log",
            "what=ammonia-medium&amount=0.4&at=2026-03-01T08:00",
        )
        .await;
    client
        .post(
            "/tanks/1/water/readings",
            "kit=ammonia-drops&value=0&spread=&taken_at=2026-03-09T08:00",
        )
        .await;
    let part = client.get("/tanks/1/water/outlook").await.text;
    assert!(
        part.contains("Readings of ammonia say nothing here")
            && part.contains("Nothing was read yet"),
        "{part}"
    );
}

/// Changes are sized for a nitrate of the keeper's own, refused where it cannot be; what is to
/// spare is told in media.
#[tokio::test]
async fn changes_are_sized_for_a_target() {
    let client = Client::new();
    let page = async |target: &str| {
        client
            .get(&format!("/tanks/1/water/changes?target={target}"))
            .await
            .text
    };
    let (usual, low) = (page("").await, page("2").await);
    assert!(
        usual.contains("to stay under 40.0 mg/L NO₃")
            && low.contains("to stay under 2.0 mg/L NO₃")
            && low.contains("your own"),
        "{low}"
    );
    let typed = page("lots").await;
    assert!(
        typed.contains("value=\"lots\"") && typed.contains("“lots” is not accepted"),
        "{typed}"
    );
    let spare = client.get("/tanks/1/water/bacteria").await.text;
    assert!(
        spare.contains("To spare") && spare.contains("L of ceramic rings") && spare.contains("kg)"),
        "{spare}"
    );
}

/// pH and hardness, read, set the carbon dioxide of the day; general hardness is told with the
/// tap's.
#[tokio::test]
async fn ph_and_hardness_are_followed() {
    let client = Client::new();
    let read = async |kit: &str, value: &str| {
        let saved = client
            .post(
                "/tanks/1/water/readings",
                &format!("kit={kit}&value={value}&spread=&taken_at=2026-03-09T08:00"),
            )
            .await;
        assert_eq!(saved.status, StatusCode::SEE_OTHER, "{}", saved.text);
    };
    assert!(
        client
            .get("/tanks/1/water/ph")
            .await
            .text
            .contains("all of it is assumed")
    );
    for (kit, value) in [
        ("kh-drops", "12"),
        ("ph-drops", "6.4"),
        ("ph-drops", "6.4"),
        ("ph-drops", "6.4"),
        ("gh-drops", "9"),
    ] {
        read(kit, value).await;
    }
    let page = client.get("/tanks/1/water/ph").await.text;
    assert!(
        page.contains("3 readings of pH count") && page.contains("12.0 dKH, read"),
        "{page}"
    );
    assert!(
        page.contains("fish gasp whatever the oxygen"),
        "130 mg/L by pH and hardness"
    );
    assert!(
        client
            .get("/tanks/1/water/outlook")
            .await
            .text
            .contains("read the tap’s too")
    );
    read("tap-gh-drops", "4").await;
    assert!(
        client
            .get("/tanks/1/water/outlook")
            .await
            .text
            .contains("with the tap’s 4.0 dGH it comes to")
    );
    read("tap-kh-drops", "5").await;
    assert!(
        client
            .get("/tanks/1/water/changes")
            .await
            .text
            .contains("name=\"tap_kh\" value=\"5\"")
    );
}

/// What a form carries that was shown in nitrogen, °C and degrees of hardness.
const AS_NITROGEN: &str = "units=litres.centimetres.celsius.nitrogen.degrees";

#[tokio::test]
async fn an_emergency_change_is_sized_refused_where_it_harms_and_keeps_what_was_typed() {
    let client = Client::new();
    let size = async |query: &str| {
        client
            .get(&format!(
                "/tanks/1/water/changes?size=yes&{AS_NITROGEN}&{query}"
            ))
            .await
            .text
    };
    let answer =
        size("tan=1.1&nitrite=0.3&ph=7.6&kh=6&tap_tan=0&tap_ph=7.4&tap_kh=7&hot=55&cold=12").await;
    assert!(
        answer.contains("Change 50 % now")
            && answer.contains("that step by itself stresses or kills")
            && answer.contains("parts of hot to")
            && answer.contains("of the gas that this water can hold"),
        "{answer}"
    );
    let harm =
        size("tan=4&nitrite=0.15&ph=6.2&kh=0.6&tap_tan=0&tap_ph=8&tap_kh=12&hot=55&cold=12").await;
    assert!(harm.contains("Do not change water now"), "{harm}");
    let fine =
        size("tan=0.05&nitrite=0&ph=7&kh=6&tap_tan=0&tap_ph=7&tap_kh=6&hot=20&cold=12").await;
    assert!(fine.contains("No emergency change is needed"), "{fine}");
    let dosed = size("tan=1.1&nitrite=0.3&ph=7.6&kh=6&tap_tan=0&tap_ph=7.4&tap_kh=7&hot=55&cold=12&chloramine=2&conditioner=5").await;
    assert!(
        dosed.contains("One that says chloramine on it: it leaves 0.40 mg/L N")
            && dosed.contains(" mL for "),
        "{dosed}"
    );
    assert!(
        size(
            "tan=1&nitrite=0&ph=7&kh=6&tap_tan=0&tap_ph=7&tap_kh=6&hot=55&cold=12&chloramine=much"
        )
        .await
        .contains("or nothing.")
    );
    let typed =
        size("tan=lots&nitrite=0.3&ph=77&kh=6&tap_tan=&tap_ph=7&tap_kh=6&hot=55&cold=120").await;
    for says in [
        "value=\"lots\"",
        "value=\"77\"",
        "Ammonia: “lots” is not accepted",
        "pH: “77” is not accepted",
        "Give a temperature from 0 °C to 90 °C",
    ] {
        assert!(typed.contains(says), "{says}: {typed}");
    }
}

/// Limits stand on the charts in the keeper's units; ammonia that harms and pH have charts of their
/// own.
#[tokio::test]
async fn charts_carry_their_limits() {
    let client = Client::new();
    let charts = async || {
        let part = client.get("/tanks/1/water/outlook").await.text;
        part.split("<figure class=\"ahead-chart\"")
            .skip(1)
            .map(str::to_owned)
            .collect::<Vec<_>>()
    };
    let says = |chart: &str| {
        let (_, rest) = chart.split_once("<figcaption>").expect("a caption");
        rest.split('<').next().expect("it ends").to_owned()
    };
    let units = |form: &str, hardness: &str| {
        format!(
            "%2Fvolume=litres&%2Flength=centimetres&%2Ftemperature=celsius&%2Fnitrogen={form}&%2Fhardness={hardness}"
        )
    };
    client
        .post("/settings", &units("nitrogen", "degrees"))
        .await;
    let captions =
        async || -> Vec<String> { charts().await.iter().map(|chart| says(chart)).collect() };
    assert_eq!(
        captions().await,
        [
            "Ammonia, mg/L N",
            "Nitrite, mg/L N; dashed: act from 0.1",
            "Nitrate, mg/L N; dashed: stay under 9",
            "Carbonate hardness, dKH; dashed: bacteria falter below 3",
            "Poisonous part of the ammonia, mg/L N; dashed: harms from 0.021",
            "pH, mean of a day",
        ]
    );
    // A limit is a line where it lies; only pH, which has no zero, does not begin there.
    for (index, chart) in charts().await.iter().enumerate() {
        let is_limited = chart.contains("class=\"limit\"");
        assert_eq!(is_limited, ![0, 5].contains(&index), "{chart}");
        assert_eq!(
            chart.contains("text-anchor=\"end\">0</text>"),
            index != 5,
            "{chart}"
        );
    }
    client
        .post("/settings", &units("ion", "calcium-carbonate"))
        .await;
    let of_ions = captions().await;
    for (index, says) in [
        (1, "Nitrite, mg/L NO₂; dashed: act from 0.33"),
        (2, "Nitrate, mg/L NO₃; dashed: stay under 40"),
        (
            3,
            "Carbonate hardness, mg/L CaCO₃; dashed: bacteria falter below 54",
        ),
        (
            4,
            "Poisonous part of the ammonia, mg/L NH₃; dashed: harms from 0.026",
        ),
    ] {
        assert_eq!(of_ions[index], says);
    }
}

/// Devices that run on peroxide are told when they run out, and what then.
#[tokio::test]
async fn peroxide_runs_out_on_a_day() {
    let client = Client::new();
    let before = client.get("/tanks/1/water/oxygen").await.text;
    assert!(!before.contains("The peroxide runs out"));
    let mut form = crate::form::Form::of(&client.get("/tanks/1/edit").await.text);
    form.set("/peroxide_catalysts", "2")
        .set("/peroxide_each_g", "3")
        .set("/peroxide_filled", "2026-03-08");
    assert_eq!(
        client
            .post("/tanks/1", &form.set("do", "save").sent())
            .await
            .status,
        StatusCode::SEE_OTHER
    );
    let page = client.get("/tanks/1/water/oxygen").await.text;
    assert!(
        page.contains("Filled on 8 March, the peroxide lasts 9 days: until 17 March.")
            && page.contains("The peroxide runs out"),
        "{page}"
    );
    let mut form = crate::form::Form::of(&client.get("/tanks/1/edit").await.text);
    client
        .post(
            "/tanks/1",
            &form
                .set("/peroxide_filled", "2026-02-01")
                .set("do", "save")
                .sent(),
        )
        .await;
    assert!(
        client
            .get("/tanks/1/water/oxygen")
            .await
            .text
            .contains("the peroxide has run out since 10 February")
    );
}

/// An event that could do nothing in a tank is refused and says why; what was typed is still there.
#[tokio::test]
async fn events_that_could_do_nothing_are_refused() {
    use reed_core::units::Length;
    let client = Client::new();
    let bare =
        reed_core::tank::Tank::plain("Bare", Length::cm(60.0), Length::cm(30.0), Length::cm(30.0));
    let now = "2026-03-10T08:00:00Z".parse().expect("a moment");
    let bare = client
        .store
        .write(|db| reed_store::tanks::create(db, &bare, "First entry", now))
        .expect("written");
    let at = "at=2026-03-12T08:00";
    for (what, says) in [
        ("animals", "No animals are entered"),
        ("ammonia-medium", "no filter whose water"),
        ("tap-rinse", "No media are entered"),
    ] {
        let body = format!("what={what}&amount=6&{at}");
        let answer = client.post(&format!("/tanks/{bare}/log"), &body).await;
        assert!(
            answer.status == StatusCode::UNPROCESSABLE_ENTITY && answer.text.contains(says),
            "{what}: {}",
            answer.text
        );
        assert!(answer.text.contains("value=\"6\""), "{what}");
        let supposed = client
            .get(&format!("/tanks/{bare}/water/outlook?what={what}&amount=6"))
            .await;
        assert!(
            supposed.status == StatusCode::UNPROCESSABLE_ENTITY && supposed.text.contains(says),
            "{what}"
        );
        assert_eq!(
            client.post("/tanks/1/log", &body).await.status,
            StatusCode::SEE_OTHER,
            "{what}"
        );
    }
}

/// The form of a line of the rounds comes when it is opened; not for a tank that is not there.
#[tokio::test]
async fn a_line_of_the_rounds_gets_its_form() {
    let client = Client::new();
    let rounds = client.get("/").await.text;
    assert!(
        rounds.contains("data-fetch=\"/tanks/1/readings/new\"") && !rounds.contains("log-1-value")
    );
    let form = client.get("/tanks/1/readings/new").await.text;
    assert!(
        form.contains("id=\"log-1-value\"") && form.contains("action=\"/tanks/1/readings\""),
        "{form}"
    );
    assert_eq!(
        client.get("/tanks/99/readings/new").await.status,
        StatusCode::NOT_FOUND
    );
}
