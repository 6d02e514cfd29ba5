//! Drift: the water of a tank, computed while the page waits for it, and watched.

use reed_core::diagnosis::Case;
use reed_core::document::Document;
use reed_core::tank::thing::{FilterRef, Intake, Outlet, Rock, ThingKind};
use reed_core::tank::{Filter, FilterKind, Tank};
use reed_core::units::{FlowRate, Length, SmallLength};
use serde_json::{Value, json};

use crate::app::App;
use crate::browser::{Page, Screen};
use crate::plans::post;

/// A flow takes seconds where nothing else runs, and a minute where every processor is busy.
async fn computed(page: &Page, script: &str) {
    for _ in 0..120 {
        if page.script(&format!("return Boolean({script})")).await == json!(true) {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_secs(1)).await;
    }
    panic!("never came: {script}");
}

const LOOSE: &str =
    "document.querySelector('.drift') && document.querySelector('.drift').dataset.ready === 'yes'";

/// Pixels of a canvas that are painted: that over the drawing has what drifts, that under it a map.
async fn painted(page: &Page, canvas: &str) -> u64 {
    // Read from a copy: a canvas that is read often is slow to paint, and Chromium says so.
    let script = format!(
        "const c = document.querySelector('.drift canvas.{canvas}'), copy = new OffscreenCanvas(c.width, c.height).getContext('2d', {{ willReadFrequently: true }});
         copy.drawImage(c, 0, 0);
         return copy.getImageData(0, 0, c.width, c.height).data.filter((value, index) => index % 4 === 3 && value > 0).length"
    );
    page.script(&script).await.as_u64().expect("a count")
}

#[tokio::test]
async fn the_water_is_computed_while_the_page_waits_and_drifts_until_it_is_stopped() {
    let app = App::start_with_flow();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    page.until_says(".drift-side", "the loop turns clockwise")
        .await;
    assert!(
        painted(&page, "over").await > 2_000,
        "water, muck and bubbles are painted"
    );
    page.is_sound(Screen::Desk).await;
    // The browser of the tests asks for less motion.
    page.until_says(".drift-run", "Let it move").await;
    let picture = "return document.querySelector('.drift canvas.over').toDataURL()";
    let begun: Value = page.script(picture).await;
    assert_eq!(
        page.script(picture).await,
        begun,
        "nothing moves for whoever asks for that"
    );
    page.click(".drift-run button").await;
    page.until_says(".drift-run", "Stop").await;
    page.until(
        "it moves",
        format!("document.querySelector('.drift canvas.over').toDataURL() !== {begun}"),
    )
    .await;
    page.click(".drift-run button").await;
    page.until_says(".drift-run", "Let it move").await;
    let still: Value = page.script(picture).await;
    assert_eq!(
        page.script(picture).await,
        still,
        "nothing moves that was stopped"
    );
    page.click(".layers label:nth-of-type(2) input").await;
    assert_ne!(page.script(picture).await, still, "the muck is gone");
    page.click(".layers label:nth-of-type(4) input").await;
    let rests = "return getComputedStyle(document.querySelector('[data-layer=rests]')).display";
    assert_eq!(page.script(rests).await, json!("none"));
    maps_are_cut_and_printed(&page).await;
    a_pinch_of_food_is_held_against_the_model(&page).await;
    two_pages_watch_the_same_tank(&app, &page).await;
    page.go("/tanks/1").await;
    computed(
        &page,
        "document.querySelector('#water-goes a[href$=drift]')",
    )
    .await;
    the_demo_case_is_not_misled_by_its_drawing(&page).await;
    page.close().await;
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    page.is_sound(Screen::Phone).await;
    let beside = "return document.querySelector('.drift-side').getBoundingClientRect().top > document.querySelector('.drift-picture').getBoundingClientRect().bottom";
    assert_eq!(
        page.script(beside).await,
        json!(true),
        "what belongs to the picture stands below it"
    );
    page.close().await;
}

/// Every map is painted under the drawing with a legend in its unit; the cut is moved by keys, the
/// picture follows its window, and what is printed are both views with the map and what it means.
/// With the flow settled the case still leads with what left the drawing, and nobody stands among
/// its suspects for whom nothing speaks.
async fn the_demo_case_is_not_misled_by_its_drawing(page: &Page) {
    page.go("/cases/1").await;
    page.until(
        "suspects are listed",
        "document.querySelector('.suspects .suspect') !== null",
    )
    .await;
    let suspects = "return [...document.querySelectorAll('.suspects .suspect')].map(suspect => suspect.dataset.fault)";
    let listed: Vec<String> = serde_json::from_value(page.script(suspects).await).expect("ids");
    assert!(
        ["still-surface", "outlet-slipped"].contains(&listed[0].as_str()),
        "{listed:?}"
    );
    assert!(
        ["self-purge", "animals-drawn-in", "clogged-fine-media"]
            .iter()
            .all(|bystander| !listed.contains(&(*bystander).to_owned())),
        "{listed:?}"
    );
    page.until_says("#suspects", "I do not know yet").await;
    page.until_says(
        "#suspects .healthy",
        "It would leave unexplained: Fish keep to the top",
    )
    .await;
}

async fn maps_are_cut_and_printed(page: &Page) {
    assert_eq!(painted(page, "under").await, 0);
    for (map, unit) in [
        ("age", "min"),
        ("bubbles", "% pass by"),
        ("places", "% of the muck"),
        ("speed", "cm/s"),
    ] {
        page.choose(".map-choice select", map).await;
        page.until_says(".map-legend", unit).await;
        assert!(painted(page, "under").await > 10_000, "{map}");
    }
    page.is_sound(Screen::Desk).await;
    page.picture("drift-map").await;
    let map = "return document.querySelector('.drift canvas.under').toDataURL()";
    let before = page.script(map).await;
    page.script("document.querySelector('[data-cut=z]').focus()")
        .await;
    page.keys("\u{e00e}").await;
    page.until_says(".map-choice", "From above: 31 cm above the floor")
        .await;
    assert_ne!(
        page.script(map).await,
        before,
        "cut elsewhere it is another map"
    );
    assert_eq!(
        page.script("return document.querySelector('[data-cut=z]').getAttribute('aria-valuetext')")
            .await,
        json!("31 cm above the floor")
    );
    page.resize(900, 700).await;
    page.until("the map follows its window", "document.querySelector('.drift canvas.under').width === Math.round(document.querySelector('.drift-picture').getBoundingClientRect().width)").await;
    assert!(painted(page, "under").await > 5_000);
    page.resize(1280, 800).await;
    page.as_printed(true).await;
    let shown = |css: &str| {
        format!("[...document.querySelectorAll('{css}')].some(e => e.offsetParent !== null)")
    };
    page.until(
        "the controls are gone",
        format!(
            "!({}) && !({})",
            shown(".drift-run button"),
            shown("#search")
        ),
    )
    .await;
    page.until("the legend stays", shown(".map-legend li"))
        .await;
    assert!(painted(page, "under").await > 5_000, "and the map");
    page.as_printed(false).await;
    page.choose(".map-choice select", "").await;
    assert_eq!(painted(page, "under").await, 0);
}

/// The places are tapped on the drawing; what the real water did is judged and can be withdrawn.
async fn a_pinch_of_food_is_held_against_the_model(page: &Page) {
    page.click("#tap-from").await;
    page.tap_at("[data-view=above] .water", (60.0, 40.0)).await;
    page.click("#tap-to").await;
    page.tap_at("[data-view=front] .water", (300.0, 60.0)).await;
    page.tap_at("[data-view=above] .water", (300.0, 50.0)).await;
    let typed = "return [...document.querySelectorAll('.drift-test-fields input')].every(field => Number(field.value) > 0)";
    assert_eq!(
        page.script(typed).await,
        json!(true),
        "every place was tapped"
    );
    page.write("#drift-test [name=seconds]", "5").await;
    page.click("#keep-test").await;
    page.until_says("#drift-test .refused", "10 to 600 seconds can be compared")
        .await;
    assert_eq!(page.script(typed).await, json!(true), "and is still there");
    page.write("#drift-test [name=seconds]", "30").await;
    page.click("#keep-test").await;
    page.until_says("#drift-test .given", "fine food, after 30 s")
        .await;
    page.is_sound(Screen::Desk).await;
    page.click("#drift-test .given button").await;
    page.until_says("#drift-test .given", "Withdrawn.").await;
}

/// A second page on the same tank moves something too: each sees its own water.
async fn two_pages_watch_the_same_tank(app: &App, page: &Page) {
    let other = Page::open(&app.address, Screen::Desk).await;
    other.go("/tanks/1/drift").await;
    computed(&other, LOOSE).await;
    computed(page, LOOSE).await;
    for (page, key) in [(page, "t"), (&other, "u")] {
        page.script("document.querySelector('[data-view=front] [data-thing=\"1\"]').focus()")
            .await;
        page.keys(key).await;
    }
    for page in [page, &other] {
        page.until(
            "its water follows",
            "Number(document.querySelector('.drift').dataset.live) > 3",
        )
        .await;
        page.until_says("#try", "If it stood so").await;
    }
    let turned = "return document.querySelector('[data-view=above] [data-thing=\"1\"]').getAttribute('transform')";
    assert_ne!(
        page.script(turned).await,
        other.script(turned).await,
        "one was turned, the other tilted"
    );
    other.close().await;
}

/// The intake is dragged from the outlet's end, to which the loop brings the muck, to the far end:
/// the water follows while it is dragged, and then less is caught. The line is cut on the way: it
/// goes on without. It is kept there; a better place is looked for, found, compared, and taken as
/// the change of the open case.
#[tokio::test]
async fn an_intake_dragged_to_the_far_end_catches_less_and_is_led_back_by_a_search() {
    let app = App::start_with_flow();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    // To cut the line later.
    page.script("window.WebSocket = class extends WebSocket { constructor(address) { super(address); window.line = this; } }").await;
    let intake = format!(
        "[data-view=front] [data-thing='{}']",
        thing(&page, "Intake, intake").await
    );
    let cm = page.script(CM).await.as_f64().expect("a number");
    page.carry(&format!("{intake} .hand"), (70.0 * cm, 0.0))
        .await;
    page.until(
        "the water follows while it is held",
        "Number(document.querySelector('.drift').dataset.live) > 3",
    )
    .await;
    page.script("window.line.close()").await;
    page.let_go().await;
    computed(&page, "document.querySelector('#try table')").await;
    assert!(verdict(&page, "Intake catches").await.contains("less"));
    page.picture("drift").await;
    page.is_sound(Screen::Desk).await;
    page.click("#keep-so").await;
    computed(
        &page,
        &format!("{LOOSE} && !document.querySelector('#try')"),
    )
    .await;

    page.choose(".better-form [name=thing]", "2").await;
    page.click("#search").await;
    page.until_says(".better", "Looking at place").await;
    page.click("[x-ref=searching] button").await;
    page.until(
        "it stops when told to",
        "document.querySelector('[x-ref=searching]').hidden",
    )
    .await;
    page.click("#search").await;
    computed(&page, "document.querySelector('#found li')").await;
    page.is_sound(Screen::Desk).await;
    page.click("#found li button").await;
    computed(&page, "document.querySelector('#try table')").await;
    assert!(verdict(&page, "Intake catches").await.contains("more"));
    page.write("#try [name=name]", "Led back").await;
    page.click("#keep-try").await;
    computed(&page, "document.querySelector('.compare') && document.querySelector('.compare').dataset.ready === 'yes'").await;
    for map in ["age", "rests", "speed"] {
        page.choose(".map-choice select", map).await;
        let painted = "document.querySelector('[data-of=difference] canvas').toDataURL() !== document.querySelector('[data-of=now] canvas').toDataURL()";
        page.until(map, painted).await;
    }
    page.is_sound(Screen::Desk).await;
    page.picture("try").await;
    page.click("#adopt").await;
    page.until_says("#doing", "as tried in the water").await;
    page.click("#change-done").await;
    page.until_says("#doing", "The tank is saved as it stands now")
        .await;
    page.go("/tanks/1").await;
    page.until_says(".history", "Tried in Drift and kept: Intake moved")
        .await;
    page.close().await;
}

/// The number of the thing whose name begins so.
async fn thing(page: &Page, name: &str) -> String {
    let find = format!(
        "return [...document.querySelectorAll('[data-view=front] [data-thing]')].find(e => e.getAttribute('aria-label').startsWith({name:?})).dataset.thing"
    );
    page.script(&find)
        .await
        .as_str()
        .expect("a number")
        .to_owned()
}

/// Pixels to a centimetre.
const CM: &str = "return document.querySelector('[data-view=front]').getScreenCTM().a";

/// The line of a comparison that begins so.
async fn verdict(page: &Page, what: &str) -> String {
    let row = format!(
        "return [...document.querySelectorAll('.compared tr')].find(row => row.innerText.startsWith({what:?})).innerText"
    );
    page.script(&row).await.as_str().expect("text").to_owned()
}

/// A tank of 120 × 50 × 50 cm with filters of 600 L/h: for each the places of its outlet along the
/// surface and of its intake.
fn with_filters(name: &str, each: &[([f64; 3], [f64; 3])]) -> Tank {
    let mut tank = Tank::plain(name, Length::cm(120.0), Length::cm(50.0), Length::cm(50.0));
    for (index, ([x, y, z], intake)) in each.iter().enumerate() {
        let filter = Filter {
            name: format!("Canister {}", index + 1),
            kind: FilterKind::RisingBasketCanister,
            measured: Some(FlowRate::litres_per_hour(600.0)),
            ..Filter::default()
        };
        let filter = Some(FilterRef(tank.add_filter(filter).0));
        let outlet = Outlet {
            bore: SmallLength::mm(14.6),
            filter,
            ..Outlet::default()
        };
        tank.add_thing(
            &format!("Outlet {}", index + 1),
            (*x, *y, *z),
            ThingKind::Outlet(outlet),
        );
        let [x, y, z] = *intake;
        tank.add_thing(
            &format!("Intake {}", index + 1),
            (x, y, z),
            ThingKind::Intake(Intake {
                filter,
                ..Intake::default()
            }),
        );
    }
    tank
}

/// Brings a tank in as a keeper would, and opens Drift on it.
async fn brought_in(app: &App, page: &Page, tank: &Tank) {
    let case = Case::new(tank.clone(), jiff::civil::date(2026, 3, 10).at(8, 0, 0, 0));
    let path = app.folder().join("tank.reed.json");
    std::fs::write(&path, Document::of(&case).write()).expect("written");
    page.go("/import").await;
    page.choose_file("#file", &path).await;
    page.click("#look-at-file").await;
    page.click("#take-new").await;
    page.until("it is there", "/^.tanks.[0-9]+/.test(location.pathname) || document.querySelector('a[href^=\"/tanks/\"]')").await;
    let address = "const here = location.pathname.match(/^.tanks.[0-9]+/); return here ? here[0] : document.querySelector('a[href^=\"/tanks/\"]').getAttribute('href')";
    let address = page
        .script(address)
        .await
        .as_str()
        .expect("an address")
        .to_owned();
    page.go(&format!("{address}/drift")).await;
    computed(page, LOOSE).await;
}

/// Two filters blow from the left end, one intake sits at either end. Brought to the end to which
/// the current over the bed returns, the second catches more.
#[tokio::test]
async fn a_second_intake_brought_to_the_end_to_which_the_bed_current_returns_catches_more() {
    let app = App::start_empty_with_flow();
    let page = Page::open(&app.address, Screen::Desk).await;
    let tank = with_filters(
        "Two canisters",
        &[
            ([3.0, 15.0, 47.0], [5.0, 25.0, 8.0]),
            ([3.0, 35.0, 47.0], [115.0, 25.0, 8.0]),
        ],
    );
    brought_in(&app, &page, &tank).await;
    let cm = page.script(CM).await.as_f64().expect("a number");
    let intake = format!(
        "[data-view=above] [data-thing='{}'] .hand",
        thing(&page, "Intake 2").await
    );
    page.carry(&intake, (-110.0 * cm, -10.0 * cm)).await;
    page.let_go().await;
    computed(&page, "document.querySelector('#try table')").await;
    assert!(
        verdict(&page, "Intake 2 catches").await.contains("more"),
        "{}",
        verdict(&page, "Intake 2 catches").await
    );
    page.close().await;
}

/// From a back corner the stream leaves muck around a rock in the middle. From the middle of the
/// end wall it sweeps round both sides.
#[tokio::test]
async fn an_outlet_brought_to_the_middle_of_the_end_clears_the_lee_of_a_rock() {
    let app = App::start_empty_with_flow();
    let page = Page::open(&app.address, Screen::Desk).await;
    let mut tank = with_filters("Behind a rock", &[([3.0, 46.0, 45.0], [5.0, 25.0, 8.0])]);
    let rock = Rock {
        length: Length::cm(20.0),
        width: Length::cm(20.0),
        height: Length::cm(20.0),
        ..Rock::default()
    };
    tank.add_thing("Rock", (60.0, 25.0, 0.0), ThingKind::Rock(rock));
    brought_in(&app, &page, &tank).await;
    let cm = page.script(CM).await.as_f64().expect("a number");
    let outlet = format!(
        "[data-view=above] [data-thing='{}'] .hand",
        thing(&page, "Outlet").await
    );
    page.carry(&outlet, (0.0, 21.0 * cm)).await;
    page.let_go().await;
    computed(&page, "document.querySelector('#try table')").await;
    assert!(
        verdict(&page, "Muck beside rock").await.contains("less"),
        "{}",
        verdict(&page, "Muck beside rock").await
    );

    // The same as a plan of a case: the card's places are tried in the water, and go with the plan.
    post(&page, "/tanks/1/cases", "").await;
    let sign = "finding=muck-behind-structure&answer=yes";
    post(&page, "/cases/1/answers", sign).await;
    page.go("/cases/1/mix?change=outlet-to-end-middle").await;
    page.click(".in-water button").await;
    page.until_says(".in-water", "Looking at place").await;
    page.is_sound(Screen::Desk).await;
    computed(&page, "document.querySelector('.currents')").await;
    page.until_says(".currents", "By this tank’s own flow it helps")
        .await;
    page.is_sound(Screen::Desk).await;
    page.picture("in-water").await;
    page.click("#follow-mix").await;
    page.until_says("#doing", "as tried in the water").await;
    page.click("#change-done").await;
    page.until_says("#doing", "The tank is saved as it stands now")
        .await;
    page.go("/tanks/1").await;
    page.until_says(".history", "Move the outlet to the middle of the end wall")
        .await;
    page.close().await;
}
