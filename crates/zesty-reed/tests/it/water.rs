//! Water: readings tighten what is ahead, events are moved, an emergency change is sized.

use serde_json::json;

use crate::app::App;
use crate::browser::{Page, Screen};

const READY: &str = "document.querySelector('#outlook') && document.querySelector('#outlook').dataset.ready === 'yes'";

/// Width of the band of nitrate on the twentieth day.
async fn width(page: &Page) -> f64 {
    let script = "const cell = document.querySelectorAll('#outlook details tbody tr')[2].cells[3].textContent; const [low, high] = cell.split('(')[1].split('–').map(parseFloat); return high - low";
    page.script(script).await.as_f64().expect("a number")
}

#[tokio::test]
async fn readings_tighten_the_band_events_move_and_a_change_is_sized() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1").await;
    page.click(".tank-tabs a[href$='/water']").await;
    page.until("the outlook is there", READY).await;
    page.is_sound(Screen::Desk).await;
    let before = width(&page).await;
    for (kit, value, says) in [
        ("nitrate-drops", "24", "One reading of the last"),
        ("kh-drops", "5", "2 readings"),
    ] {
        page.go("/tanks/1/water/tests").await;
        page.choose("#reading-kit", kit).await;
        page.write("#reading-value", value).await;
        page.click("#reading-save").await;
        page.until_says("#outlook", says).await;
    }
    page.until("the outlook is there", READY).await;
    assert!(
        width(&page).await < 0.8 * before,
        "{} from {before}",
        width(&page).await
    );

    // A guided test: the steps of the kit, its clock, and a value between two patches.
    page.go("/tanks/1/water/tests").await;
    page.is_sound(Screen::Desk).await;
    page.choose("#reading-kit", "oxygen-drops").await;
    page.until_says(".guide", "Second reagent").await;
    page.write(".guide [data-kit=oxygen-drops] .clock input", "1")
        .await;
    page.click(".guide [data-kit=oxygen-drops] .clock button")
        .await;
    page.until_says(".guide [data-kit=oxygen-drops] .clock", "Time is up")
        .await;
    page.write(".guide [data-kit=oxygen-drops] [data-low]", "4")
        .await;
    page.write(".guide [data-kit=oxygen-drops] [data-high]", "6")
        .await;
    page.choose(".guide [data-kit=oxygen-drops] [data-closer]", "0.75")
        .await;
    page.click(".guide [data-kit=oxygen-drops] .patches button")
        .await;
    let taken = "return [document.querySelector('#reading-value').value, document.querySelector('#reading-spread').value]";
    assert_eq!(
        page.script(taken).await,
        json!(["5.5", "0.5"]),
        "half a step"
    );

    page.go("/tanks/1/water").await;
    page.until("the outlook is there", READY).await;
    page.choose("#event-what", "new-media").await;
    page.write("#event-amount", "100").await;
    page.click("#what-if").await;
    page.until_says("#outlook", "Only if this happened now")
        .await;
    page.choose("#event-what", "change").await;
    page.write("#event-amount", "900").await;
    page.click("#add-event").await;
    page.until_says("#event-no", "Give a number from 1 to 100 %")
        .await;
    assert_eq!(
        page.script("return document.querySelector('#event-amount').value")
            .await,
        json!("900"),
        "what was typed is still there"
    );
    page.until("the outlook is there again", READY).await;
    // The next change by habit, a day later: by keys, then another by the mouse.
    let first = "return document.querySelector('.event-mark').title";
    let stood = page.script(first).await;
    page.script("document.querySelector('.event-mark').focus()")
        .await;
    page.keys("\u{e014}").await;
    page.until_says("#outlook .given", "No change after all, planned")
        .await;
    page.until("the outlook is there again", READY).await;
    assert_ne!(page.script(first).await, stood);
    page.carry(".event-mark:nth-of-type(3)", (60.0, 0.0)).await;
    page.let_go().await;
    page.until(
        "two were moved",
        "document.querySelectorAll('#outlook .given li').length === 4",
    )
    .await;
    page.is_sound(Screen::Desk).await;
    page.script("document.querySelector('#ahead').scrollIntoView()")
        .await;
    page.picture("water").await;

    page.go("/tanks/1/water/changes").await;
    page.is_sound(Screen::Desk).await;
    // Hardness was read: what is known is folded away, and can be corrected.
    page.click(".sizing .part summary").await;
    for (field, value) in [
        ("tan", "1.4"),
        ("nitrite", "1"),
        ("ph", "7.6"),
        ("kh", "6"),
        ("tap_ph", "7.4"),
        ("tap_kh", "wet"),
    ] {
        page.write(&format!(".sizing [name={field}]"), value).await;
    }
    page.click("#size-it").await;
    page.until_says("#emergency", "“wet” is not accepted").await;
    page.is_sound(Screen::Desk).await;
    page.write(".sizing [name=tap_kh]", "7").await;
    page.click("#size-it").await;
    page.until_says("#sized", "Change 50 % now").await;
    page.is_sound(Screen::Desk).await;
    page.close().await;

    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/tanks/2/water").await;
    page.until("the outlook is there", READY).await;
    page.is_sound(Screen::Phone).await;
    page.close().await;
}

/// A new tank: its cycle is planned, followed by events on the chart, and withdrawn; a reading that
/// surprises is tested again; a medium is picked; numbers open to where they come from.
#[tokio::test]
async fn a_cycle_is_planned_a_surprise_repeated_and_a_medium_picked() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/2/edit").await;
    let last_week = crate::app::now()
        .date()
        .saturating_sub(jiff::Span::new().days(6))
        .to_string();
    page.set_date("[name='/set_up']", &last_week).await;
    page.click("button[value=save]").await;
    page.until_says("main", "Waiting room").await;
    page.go("/tanks/2/water").await;
    page.until("the outlook is there", READY).await;
    page.until_says("#cycle", "Stage now: the first bacteria are growing")
        .await;
    page.choose("#plan-cycle [name=start]", "pinch").await;
    page.click("#plan-cycle button").await;
    page.until_says(
        "#outlook .given",
        "Fed from then on, 1 times as much, planned",
    )
    .await;
    page.until("the outlook is there again", READY).await;
    page.is_sound(Screen::Desk).await;
    page.click("#outlook form[action$='planned/strike'] button")
        .await;
    page.until_says("#outlook .given", "Withdrawn.").await;

    page.go("/tanks/2/water/tests").await;
    page.choose("#reading-kit", "nitrite-drops").await;
    page.write("#reading-value", "30").await;
    // Asked once, at the first reading of nitrogen; what the card says is the unit from then on.
    page.until_says("#reading-form", "What does your kit’s card say?")
        .await;
    page.click("#reading-form [name=card][value=nitrogen]")
        .await;
    page.until_says("#reading-form .in-unit", "mg/L N").await;
    page.write("#reading-value", "9").await;
    page.click("#reading-save").await;
    page.until_says("#outlook .caution", "Test again now, and the tap water too")
        .await;
    page.until_says("#outlook", "mg/L N").await;
    page.click("#outlook .caution a").await;
    page.until_says("h1", "Test, and enter what it shows").await;
    assert!(
        !page.text("#reading-form").await.contains("card say"),
        "asked once"
    );
    assert_eq!(
        page.script("return document.querySelector('#reading-kit').value")
            .await,
        json!("nitrite-drops")
    );
    page.until_says(".guide [data-kit=nitrite-drops]", "Nitrite drop kit")
        .await;
    page.go("/tanks/2/water").await;
    page.until("the outlook is there", READY).await;

    page.choose("#event-what", "tap-rinse").await;
    page.choose("#event-part", "100").await;
    assert_eq!(
        page.script("return document.querySelector('#event-amount').value")
            .await,
        json!("100")
    );
    page.go("/tanks/2/water/media").await;
    page.choose("#problem", "ammonia").await;
    page.click("#pick-medium").await;
    page.until_says("#media", "The colony is new").await;
    page.is_sound(Screen::Desk).await;
    page.go("/tanks/2/water/bacteria").await;
    page.click("#capacity .opened summary").await;
    page.until_says("#capacity .opened", "effective m² per litre")
        .await;
    page.is_sound(Screen::Desk).await;
    page.close().await;
}
