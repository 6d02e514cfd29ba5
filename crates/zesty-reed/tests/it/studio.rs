//! A tank built on its drawing: with the mouse, by touch, with the keyboard; broken, undone, saved,
//! restored, carried to another program.

use serde_json::{Value, json};

use crate::app::App;
use crate::browser::{Page, Screen};

/// What a field of the form holds.
async fn field(page: &Page, pointer: &str) -> String {
    let value = page
        .script(&format!(
            "return document.querySelector('[name=\"{pointer}\"]').value"
        ))
        .await;
    value
        .as_str()
        .unwrap_or_else(|| panic!("{pointer}"))
        .to_owned()
}

async fn number(page: &Page, pointer: &str) -> f64 {
    field(page, pointer).await.parse().expect("a number")
}

/// Waits until a field holds something else than it did.
async fn until_changed(page: &Page, pointer: &str, was: &str) {
    page.until(
        format!("{pointer} changes"),
        format!("document.querySelector('[name=\"{pointer}\"]').value !== {was:?}"),
    )
    .await;
}

/// The drawing is the one that the server made of what the form says now.
async fn until_drawn(page: &Page) {
    page.until("the drawing is new", "!document.querySelector('.thing[transform]') && !document.querySelector('.guides.distances')").await;
}

/// The grip of a thing on one of the views.
fn grip(view: &str, thing: u32) -> String {
    format!("[data-view={view}] [data-thing='{thing}'] .hand")
}

/// Pixels for a centimetre.
async fn scale(page: &Page) -> f64 {
    page.script("return document.querySelector('[data-view=front]').getScreenCTM().a")
        .await
        .as_f64()
        .expect("a number")
}

async fn built(screen: Screen) {
    let app = App::start();
    let page = Page::open(&app.address, screen).await;
    page.go("/tanks/new").await;
    page.until_says("main", "Which is most like yours?").await;
    page.is_sound(screen).await;
    if screen == Screen::Desk {
        page.picture("tank-start").await;
    }
    page.click("#start-planted-canister").await;
    page.until_says("h1", "Tell what you know").await;
    page.is_sound(screen).await;
    if screen == Screen::Desk {
        page.picture("tank-new").await;
    }
    page.click("#draw-new").await;
    page.until_says("h1", "New tank").await;
    page.is_sound(screen).await;
    page.write("#f-name", "Stairwell").await;

    // A stone is carried, with its free distances shown, and stays where it was put.
    let cm = scale(&page).await;
    let (x, y) = (
        number(&page, "/things/3/x_cm").await,
        number(&page, "/things/3/y_cm").await,
    );
    page.carry(&grip("above", 4), (8.0 * cm, -6.0 * cm)).await;
    page.until(
        "distances are shown",
        "document.querySelectorAll('.guides.distances text').length >= 4",
    )
    .await;
    page.let_go().await;
    until_drawn(&page).await;
    let (new_x, new_y) = (
        number(&page, "/things/3/x_cm").await,
        number(&page, "/things/3/y_cm").await,
    );
    assert!(
        (new_x - x - 8.0).abs() <= 1.5 && (new_y - y - 6.0).abs() <= 1.5,
        "{x} {y} → {new_x} {new_y}"
    );

    // It grows by its corner, at both ends, and a number typed in the list moves it on the drawing.
    let length = field(&page, "/things/3/is/rock/length_cm").await;
    page.carry("[data-view=above] [data-handle=size]", (2.0 * cm, 0.0))
        .await;
    page.let_go().await;
    until_changed(&page, "/things/3/is/rock/length_cm", &length).await;
    until_drawn(&page).await;
    let grown = number(&page, "/things/3/is/rock/length_cm").await
        - length.parse::<f64>().expect("a number");
    assert!(
        (2.0..=5.0).contains(&grown),
        "2 cm along a side turned by 30° is 3.5 cm more: {grown}"
    );
    page.click("[data-tool=undo]").await;
    page.until(
        "small again",
        format!(
            "document.querySelector('[name=\"/things/3/is/rock/length_cm\"]').value === {length:?}"
        ),
    )
    .await;
    page.script("const part = document.querySelector('[data-thing-fields=\"4\"]'); part.open = true; part.closest('.chapter').open = true")
        .await;
    page.write("#f-things-3-z_cm", "5.5").await;
    page.keys(TAB).await;
    page.until(
        "moved on the drawing",
        "document.querySelector(\"[data-view=front] [data-thing='4']\").dataset.bounds.split(' ')[4] === '5.50'",
    )
    .await;

    // The outlet is turned by its handle.
    page.carry(&grip("above", 1), (0.0, 0.0)).await;
    page.let_go().await;
    page.carry(
        "[data-view=above] [data-handle=turn]",
        (-6.0 * cm, 9.0 * cm),
    )
    .await;
    page.let_go().await;
    until_changed(&page, "/things/0/is/outlet/heading_deg", "345").await;
    until_drawn(&page).await;
    assert!((250.0..345.0).contains(&number(&page, "/things/0/is/outlet/heading_deg").await));

    // The intake above the water: told in words, at its place; undone.
    let z = field(&page, "/things/1/z_cm").await;
    page.carry(&grip("front", 2), (0.0, -36.0 * cm)).await;
    page.let_go().await;
    page.until_says("#findings", "above the water and draws air. Lower it.")
        .await;
    page.until(
        "marked",
        "document.querySelector(\"[data-view=front] .impossible[data-thing='2']\")",
    )
    .await;
    page.is_sound(screen).await;
    page.picture(if screen == Screen::Desk {
        "tank-change"
    } else {
        "tank-change-phone"
    })
    .await;
    page.click("[data-tool=undo]").await;
    page.until(
        "undone",
        "!document.querySelector('#findings').innerText.includes('draws air')",
    )
    .await;
    assert_eq!(field(&page, "/things/1/z_cm").await, z);
    page.click("[data-tool=redo]").await;
    page.until_says("#findings", "draws air").await;
    page.click("[data-tool=undo]").await;
    page.until(
        "undone again",
        "!document.querySelector('#findings').innerText.includes('draws air')",
    )
    .await;

    // A thing is put in, doubled, locked.
    page.click("#kind option[value=air-stone]").await;
    page.click("#add-thing").await;
    page.until(
        "it is there",
        "document.querySelector(\"[data-view=front] [data-thing='6'].is-chosen\")",
    )
    .await;
    page.click("[data-tool=copy]").await;
    page.until(
        "two of them",
        "document.querySelector(\"[data-view=front] [data-thing='7'].is-chosen\")",
    )
    .await;
    page.click("[data-tool=lock]").await;
    page.until(
        "locked",
        "document.querySelector(\"[data-view=front] [data-thing='7'].locked\")",
    )
    .await;
    let held = field(&page, "/things/6/x_cm").await;
    page.carry(&grip("above", 7), (-20.0, 0.0)).await;
    page.let_go().await;
    assert_eq!(
        field(&page, "/things/6/x_cm").await,
        held,
        "locked in place"
    );

    // Nonsense is named and kept.
    page.click("#section-water > summary").await;
    page.write("#f-temperature_c", "warm").await;
    page.click("#save-tank").await;
    page.until_says(".refused", "Water temperature: “warm” is not accepted.")
        .await;
    assert_eq!(field(&page, "/name").await, "Stairwell");
    page.is_sound(screen).await;
    page.write("#f-temperature_c", "24,5").await;
    page.write("#note", "As it stands in the stairwell").await;
    page.click("#save-tank").await;
    page.until_says(".history", "As it stands in the stairwell")
        .await;
    page.is_sound(screen).await;
    if screen == Screen::Desk {
        carried_on(&page, &app, new_x).await;
    }
    page.close().await;
}

/// What becomes of a tank that was saved: reloaded, changed, left unsaved, restored, carried to
/// another program.
async fn carried_on(page: &Page, app: &App, x: f64) {
    page.go("/tanks/3/edit").await;
    let saved = number(page, "/things/3/x_cm").await;
    assert!((saved - x).abs() < 1e-9, "saved as {saved}, not {x}");
    page.script("document.querySelector(\"[data-view=front] [data-thing='4']\").focus()")
        .await;
    page.keys("\u{e012}\u{e012}").await;
    page.until(
        "moved",
        format!(
            "document.querySelector('[name=\"/things/3/x_cm\"]').value === {:?}",
            (x - 2.0).to_string()
        ),
    )
    .await;
    until_drawn(page).await;
    page.go("/tanks/3/edit").await;
    assert!(
        (number(page, "/things/3/x_cm").await - x).abs() < 1e-9,
        "not saved"
    );
    page.click("[data-restore-draft]").await;
    until_changed(page, "/things/3/x_cm", &x.to_string()).await;
    page.click("#save-tank").await;
    page.until_says(".history", "Stone, from the left").await;

    page.click(".history li:last-child a").await;
    page.until_says("main", "Restoring it would change").await;
    page.is_sound(Screen::Desk).await;
    page.click("#restore").await;
    page.until_says(".history", "Restored as of").await;

    let drawing = "return document.querySelector('.sheet-drawing').outerHTML";
    let here = page.script(drawing).await;
    let file = page.script("return (async () => await (await fetch(location.pathname + '/tank.reed.json')).text())()").await;
    let path = app.folder().join("stairwell.reed.json");
    std::fs::write(&path, file.as_str().expect("text")).expect("written");
    let other = App::start_empty();
    let there = Page::open(&other.address, Screen::Desk).await;
    there.go("/").await;
    there.until_says("main", "Enter the tank").await;
    there.go("/import").await;
    there.choose_file("#file", &path).await;
    there.click("#look-at-file").await;
    there.until_says("#found", "Stairwell").await;
    there.is_sound(Screen::Desk).await;
    there.click("#take-new").await;
    there.until_says("#next", "expected lowest").await;
    assert_eq!(there.script(drawing).await, here, "the same drawing");
    there.close().await;
}

#[tokio::test]
async fn a_tank_is_built_broken_mended_and_carried_to_another_program_with_the_mouse() {
    built(Screen::Desk).await;
}

#[tokio::test]
async fn a_tank_is_built_broken_and_mended_by_touch() {
    built(Screen::Phone).await;
}

const TAB: &str = "\u{e004}";
const ENTER: &str = "\u{e007}";
const LEFT: &str = "\u{e012}";
const UP: &str = "\u{e013}";
const SHIFT: &str = "\u{e008}";

/// Tabs until the focus is on something.
async fn tab_to(page: &Page, css: &str) {
    for _ in 0..300 {
        if page
            .script(&format!("return document.activeElement.matches({css:?})"))
            .await
            == Value::Bool(true)
        {
            return;
        }
        page.keys(TAB).await;
    }
    panic!("{css} is not reached with Tab");
}

#[tokio::test]
async fn a_tank_is_changed_with_the_keyboard_alone() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/").await;
    tab_to(&page, "a[href='/tanks/2']").await;
    page.keys(ENTER).await;
    page.until_says("h1", "Waiting room").await;
    tab_to(&page, "a[href='/tanks/2/edit']").await;
    page.keys(ENTER).await;
    page.until_says("h1", "Change Waiting room").await;
    let x = number(&page, "/things/1/x_cm").await;
    tab_to(&page, "[data-view=front] [data-thing='2']").await;
    page.keys(LEFT).await;
    page.keys(&format!("{SHIFT}{LEFT}")).await;
    page.until(
        "nudged",
        format!(
            "document.querySelector('[name=\"/things/1/x_cm\"]').value === {:?}",
            format!("{:.1}", x - 1.1)
        ),
    )
    .await;
    until_drawn(&page).await;
    assert_eq!(
        page.script("return document.activeElement.dataset.thing")
            .await,
        "2",
        "the focus stays on what is moved"
    );
    page.keys(&UP.repeat(3)).await;
    page.until_says("#findings", "hangs 2.5 cm above what is under it")
        .await;
    page.keys("\u{e009}z").await;
    page.until(
        "undone",
        "!document.querySelector('#findings').innerText.includes('hangs')",
    )
    .await;
    let angle = number(&page, "/things/1/is/rock/turn_deg").await;
    tab_to(&page, "[data-view=above] [data-thing='2']").await;
    page.keys("]").await;
    until_changed(&page, "/things/1/is/rock/turn_deg", &angle.to_string()).await;
    page.keys(ENTER).await;
    page.until(
        "its numbers are open",
        "document.activeElement.name === '/things/1/name'",
    )
    .await;
    page.is_sound(Screen::Desk).await;
    page.script("document.getElementById('note').focus()").await;
    page.keys("By keyboard").await;
    tab_to(&page, "#save-tank").await;
    page.keys(ENTER).await;
    page.until_says(".history", "By keyboard").await;
    page.close().await;
}

#[tokio::test]
async fn units_are_chosen_and_read_everywhere() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/settings").await;
    page.is_sound(Screen::Phone).await;
    for choice in ["us-gallons", "inches", "fahrenheit"] {
        page.click(&format!("option[value={choice}]")).await;
    }
    page.click("#save-units").await;
    page.until_says("main", "These units are used from now on.")
        .await;
    page.go("/tanks/1/edit").await;
    assert_eq!(
        json!([
            field(&page, "/glass/length_cm").await,
            field(&page, "/temperature_c").await
        ]),
        json!(["39.37", "77"])
    );
    page.until_says(".sheet-drawing", "39.4 in").await;
    page.is_sound(Screen::Phone).await;
    page.go("/tanks/1").await;
    page.until_says(".numbers", "45 US gal").await;
    page.close().await;
}
