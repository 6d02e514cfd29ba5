//! Filter: what is in it and in which order, what is measured, the sheet, sumps and hoses.

use axum::http::StatusCode;
use reed_core::document::start;
use reed_core::tank::{Filter, FilterKind, Medium, Portion, Sump, Tank, Tray};
use reed_core::units::{FlowRate, Length, Volume};
use reed_store::{TankId, service, tanks};

use crate::client::Client;

/// A tank of its own with filters made up for it.
async fn tank_with(client: &Client, filters: Vec<Filter>) -> TankId {
    let mut tank = start::by_id("planted-canister").expect("a set-up").tank();
    tank.filters = Vec::new();
    for filter in filters {
        tank.add_filter(filter);
    }
    let now = jiff::Timestamp::UNIX_EPOCH;
    client
        .store
        .write(|db| tanks::create(db, &tank, "Made up", now))
        .expect("stored")
}

fn latest(client: &Client, id: TankId) -> Tank {
    client
        .store
        .read(|db| tanks::latest(db, id))
        .expect("there")
        .tank
}

fn tray(medium: Medium, litres: f64) -> Tray {
    Tray {
        media: vec![Portion {
            medium,
            litres: Volume::litres(litres),
            ..Portion::default()
        }],
        ..Tray::default()
    }
}

fn of_kind(kind: FilterKind, trays: Vec<Tray>) -> Filter {
    Filter {
        name: kind.words().chars().take(30).collect(),
        kind,
        trays,
        ..Filter::default()
    }
}

/// Every page of every kind of filter answers, is light, and has its own words; a tank without one
/// says what to do.
#[tokio::test]
async fn every_part_answers_for_every_kind() {
    let client = Client::new();
    let trays = || {
        vec![
            tray(Medium::FoamMedium, 1.0),
            tray(Medium::Floss, 0.2),
            tray(Medium::Sintered, 1.5),
        ]
    };
    let mut filters: Vec<Filter> = FilterKind::ALL
        .iter()
        .map(|kind| of_kind(*kind, trays()))
        .collect();
    for filter in filters
        .iter_mut()
        .filter(|filter| filter.kind == FilterKind::Sump)
    {
        filter.sump = Some(Sump::default());
        filter.trays.clear();
    }
    let id = tank_with(&client, filters).await;
    for (number, kind) in FilterKind::ALL.iter().enumerate() {
        for part in ["", "/air", "/hoses", "/service", "/kinds"] {
            let page = client
                .get(&format!("/tanks/{id}/filter{part}?f={}", number + 1))
                .await;
            assert_eq!(
                page.status,
                StatusCode::OK,
                "{kind:?} {part}: {}",
                page.text
            );
            assert!(
                page.text.len() < 90_000,
                "{kind:?} {part}: {}",
                page.text.len()
            );
        }
        let inside = client
            .get(&format!("/tanks/{id}/filter?f={}", number + 1))
            .await
            .text;
        assert!(
            inside.contains("class=\"cutaway\"") && inside.contains(kind.words()),
            "{kind:?}"
        );
    }
    for path in [
        "/tanks/9/filter".to_owned(),
        format!("/tanks/{id}/filter?f=99"),
    ] {
        assert_eq!(
            client.get(&path).await.status,
            StatusCode::NOT_FOUND,
            "{path}"
        );
    }
    let none = tank_with(&client, Vec::new()).await;
    for part in ["", "/air", "/hoses", "/service", "/kinds"] {
        let page = client.get(&format!("/tanks/{none}/filter{part}")).await;
        assert_eq!(page.status, StatusCode::OK, "{part}");
        assert!(
            page.text.contains("No filter yet") || part == "/kinds",
            "{part}"
        );
    }
}

#[tokio::test]
async fn a_wrong_order_is_named_and_mended_in_one_tap() {
    let client = Client::new();
    let wrong = vec![
        tray(Medium::AmmoniaResin, 0.5),
        tray(Medium::Sintered, 2.0),
        tray(Medium::Floss, 0.3),
        tray(Medium::FoamCoarse, 1.0),
    ];
    let id = tank_with(
        &client,
        vec![of_kind(FilterKind::RisingBasketCanister, wrong)],
    )
    .await;
    let page = client.get(&format!("/tanks/{id}/filter")).await.text;
    for says in [
        "comes before the media for bacteria",
        "A fine stage comes before a coarse one",
        "the bacteria get",
        "Put them in order",
    ] {
        assert!(page.contains(says), "{says}");
    }
    let mended = client
        .post(&format!("/tanks/{id}/filter/1/order"), "")
        .await;
    assert_eq!(mended.location, format!("/tanks/{id}/filter?f=1#inside"));
    let met: Vec<Medium> = latest(&client, id).filters[0]
        .media()
        .map(|portion| portion.medium)
        .collect();
    let mut in_order = met.clone();
    in_order.dedup();
    assert_eq!(
        in_order,
        [
            Medium::FoamCoarse,
            Medium::Floss,
            Medium::Sintered,
            Medium::AmmoniaResin
        ]
    );
    let page = client.get(&format!("/tanks/{id}/filter")).await.text;
    assert!(!page.contains("Put them in order"));
    // It is a revision like any other: what it was before is still there.
    let history = client.get(&format!("/tanks/{id}")).await.text;
    assert!(history.contains("Media in the order of the water"));
    // Moved by hand, and nonsense is refused in a sentence.
    let moved = client
        .post(
            &format!("/tanks/{id}/filter/1/media"),
            "from=tray-0-0&to=tray-3-0",
        )
        .await;
    assert_eq!(moved.status, StatusCode::SEE_OTHER);
    for body in [
        "from=tray-9-0&to=tray-0-0",
        "from=tray-0-0&to=chamber-0-0",
        "from=lid&to=tray-0-0",
        "from=tray-0-0&to=tray-0-0-1",
    ] {
        let refused = client
            .post(&format!("/tanks/{id}/filter/1/media"), body)
            .await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
        assert!(
            refused
                .text
                .contains("is no place of a medium in this filter"),
            "{body}: {}",
            refused.text
        );
    }
}

#[tokio::test]
async fn a_bucket_test_is_the_flow_of_its_filter_everywhere() {
    let client = Client::new();
    let filter = of_kind(
        FilterKind::RisingBasketCanister,
        vec![tray(Medium::FoamFine, 1.0)],
    );
    let id = tank_with(&client, vec![filter.clone(), filter]).await;
    for (body, says) in [
        (
            "litres=10&run-1=0&run-2=&run-3=",
            "Run 1: “0” is not accepted. Give seconds, 1 to 3600.",
        ),
        (
            "litres=ten&run-1=60",
            "Bucket: “ten” is not accepted. Give its litres, 0.2 to 1000.",
        ),
        ("litres=10&run-1=&run-2=&run-3=", "Time at least one bucket"),
    ] {
        let refused = client
            .post(&format!("/tanks/{id}/filter/2/bucket"), body)
            .await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
        assert!(refused.text.contains(says), "{body}: {}", refused.text);
    }
    let refused = client
        .post(
            &format!("/tanks/{id}/filter/2/bucket"),
            "litres=12&run-1=61.5&run-2=x",
        )
        .await;
    assert!(
        refused.text.contains("value=\"61.5\"") && refused.text.contains("value=\"12\""),
        "what was typed is still there"
    );
    let entered = client
        .post(
            &format!("/tanks/{id}/filter/2/bucket"),
            "litres=10&run-1=72&run-2=75&run-3=80",
        )
        .await;
    assert_eq!(entered.location, format!("/tanks/{id}/filter?f=2#bucket"));
    let tank = latest(&client, id);
    assert_eq!(
        (tank.filters[0].measured, tank.filters[1].measured),
        (None, Some(FlowRate::litres_per_hour(477.0)))
    );
    let page = client.get(&format!("/tanks/{id}/filter?f=2")).await.text;
    assert!(
        page.contains("477 L/h") && page.contains("Runs: 500, 480, 450 L/h"),
        "{page}"
    );
    assert!(
        client
            .get(&format!("/tanks/{id}"))
            .await
            .text
            .contains("1 of 2 measured")
    );
}

/// Ticks stay; an opening that is entered ends the sheet, moves the next opening and leads back.
#[tokio::test]
async fn a_sheet_is_ticked_and_ends_as_an_entry() {
    let client = Client::new();
    let trays = vec![
        tray(Medium::FoamCoarse, 1.0),
        tray(Medium::Floss, 0.3),
        tray(Medium::Sintered, 2.0),
    ];
    let id = tank_with(
        &client,
        vec![of_kind(FilterKind::RisingBasketCanister, trays)],
    )
    .await;
    let at = format!("/tanks/{id}/filter/service");
    let tick = |step: &str, done: &str| format!("step={step}&done={done}");
    for step in ["unplug", "taps-shut"] {
        let ticked = client
            .post(&format!("/tanks/{id}/filter/1/steps"), &tick(step, "yes"))
            .await;
        assert_eq!(ticked.location, format!("{at}?f=1"));
    }
    let done = |page: &str| page.matches("aria-pressed=\"true\"").count();
    assert_eq!(done(&client.get(&at).await.text), 2);
    client
        .post(
            &format!("/tanks/{id}/filter/1/steps"),
            &tick("unplug", "no"),
        )
        .await;
    assert_eq!(done(&client.get(&at).await.text), 1);
    let refused = client
        .post(
            &format!("/tanks/{id}/filter/1/steps"),
            &tick("juggle", "yes"),
        )
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("“juggle” is no step of this sheet"));
    let page = client.get(&format!("/tanks/{id}/filter")).await.text;
    assert!(page.contains("Enter when you opened it last"));
    let opening = "what=filter-opened&on=filter-1&in_tank=yes&back=filter-1&grade-floss=4&at=yesterday&units=";
    let entered = client.post(&format!("/tanks/{id}/log"), opening).await;
    assert_eq!(
        entered.location,
        format!("/tanks/{id}/filter?f=1#record"),
        "{}",
        entered.text
    );
    let page = client.get(&format!("/tanks/{id}/filter")).await.text;
    assert!(
        page.contains("Open it between") && page.contains("Floss 4 of 5"),
        "{page}"
    );
    client
        .post(
            &format!("/tanks/{id}/filter/1/steps"),
            &tick("grade", "yes"),
        )
        .await;
    assert_eq!(
        client
            .post(&format!("/tanks/{id}/filter/1/anew"), "")
            .await
            .status,
        StatusCode::SEE_OTHER
    );
    assert_eq!(done(&client.get(&at).await.text), 0);
    let one = reed_core::tank::Serial(1);
    let ticked = client
        .store
        .read(|db| service::ticked(db, id, one, jiff::civil::DateTime::MIN));
    assert!(ticked.expect("read").is_empty());
}

#[tokio::test]
async fn an_overfull_sump_is_told_with_litres_and_a_mark() {
    let client = Client::new();
    let sump = |breaks: f64| Filter {
        sump: Some(Sump {
            siphon_break: Some(Length::cm(breaks)),
            ..Sump::default()
        }),
        ..of_kind(FilterKind::Sump, Vec::new())
    };
    let id = tank_with(&client, vec![sump(2.0), sump(15.0)]).await;
    let fits = client
        .get(&format!("/tanks/{id}/filter/hoses?f=1"))
        .await
        .text;
    assert!(
        fits.contains("are left.") && fits.contains("above its floor on the return chamber"),
        "{fits}"
    );
    let over = client
        .get(&format!("/tanks/{id}/filter/hoses?f=2"))
        .await
        .text;
    assert!(
        over.contains("Too full: when the pump stops") && over.contains("onto the floor"),
        "{over}"
    );
}
