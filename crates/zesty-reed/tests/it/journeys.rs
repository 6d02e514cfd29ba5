//! A whole case from the first look to the proof, at the desk and at the tank; new tanks; readings
//! from the rounds.

use reed_core::diagnosis::check::Gives;
use reed_core::diagnosis::{Advice, Answer, Answered, Differential, finding};
use reed_core::document::Document;
use reed_core::remedy::{advice, offers};

use crate::app::App;
use crate::browser::{Page, Screen};

/// What the core says of the demo case once these were answered.
fn by_the_core(yes: &[&str], no: &[&str]) -> (Differential, f64) {
    let document = Document::read(&reed_fixtures::example("reading-room"))
        .expect("an example")
        .document;
    let mut case = document
        .case(document.as_of.expect("dated"))
        .expect("an example");
    for (ids, answer) in [(yes, Answer::Yes), (no, Answer::No)] {
        let finding = |id: &&str| finding::by_id(id).expect("listed");
        case.observed.answers.extend(
            ids.iter()
                .map(|id| Answered::new(finding(id), answer, document.as_of.expect("dated"))),
        );
    }
    let differential = Differential::of(&case);
    let (_, offers) = offers(&differential, &case.observed);
    (differential, offers[0].gain_mg_l)
}

/// What the core would look at first in the demo case: the questions of a round.
fn next_by_the_core() -> Vec<&'static str> {
    let (differential, _) = by_the_core(&[], &[]);
    let document = Document::read(&reed_fixtures::example("reading-room"))
        .expect("an example")
        .document;
    let case = document
        .case(document.as_of.expect("dated"))
        .expect("an example");
    let outlook = differential.outlook(&case);
    let Advice::Look { looks } = advice(
        &differential,
        &outlook,
        &offers(&differential, &case.observed).1,
    ) else {
        panic!("the demo case is not clear")
    };
    let asks = |place: usize| match &outlook.proposals[place].check.gives {
        Gives::Answer(finding) => finding.asks,
        Gives::Reading(_) | Gives::Repeat => panic!("the demo case begins with a round of glances"),
    };
    looks.into_iter().map(asks).collect()
}

async fn first_suspect(page: &Page) -> (String, String) {
    let id = page
        .script("return document.querySelector('.suspect').dataset.fault")
        .await;
    (
        id.as_str().expect("an id").to_owned(),
        page.text(".suspect .probability").await,
    )
}

fn printed(probability: f64) -> String {
    format!("{:.0} %", probability * 100.0)
}

/// Nonsense is refused with a sentence, and everything typed stays.
async fn nonsense_is_refused(page: &Page) {
    for (kit, value, moment, says) in [
        (
            "oxygen-drops",
            "-3",
            "",
            "Oxygen: “-3” is not accepted. Give a number from 0 to 20 mg/L.",
        ),
        (
            "oxygen-drops",
            "abc",
            "8:05",
            "Oxygen: “abc” is not accepted.",
        ),
        (
            "thermometer",
            "900",
            "yesterday 8 pm",
            "Water temperature: “900” is not accepted. Give a number from 0 to 45 °C",
        ),
        (
            "oxygen-drops",
            "",
            "an hour ago",
            "Oxygen: “nothing” is not accepted.",
        ),
        ("oxygen-drops", "5.5", "tomorrow", "That is in the future"),
        (
            "oxygen-drops",
            "5.5",
            "soon",
            "When: “soon” is not accepted.",
        ),
    ] {
        page.click(&format!("#reading-kit option[value={kit}]"))
            .await;
        page.write("#reading-value", value).await;
        page.write("#reading-spread", "0.7").await;
        page.write("#reading-taken", moment).await;
        page.click("#reading-save").await;
        page.until_says("#reading-form", says).await;
        let kept =
            page.script("return ['kit', 'value', 'spread', 'taken'].map(name => document.getElementById('reading-' + name).value)").await;
        assert_eq!(kept, serde_json::json!([kit, value, "0.7", moment]));
    }
}

/// A picture of what looks much the same on a phone.
async fn desk_picture(page: &Page, screen: Screen, name: &str) {
    if screen == Screen::Desk {
        page.picture(name).await;
    }
}

/// A look at a sign that has to be gone is the next thing to do.
async fn is_asked_to_look(page: &Page) -> bool {
    page.script("return document.getElementById('next-no') !== null")
        .await
        .as_bool()
        .expect("yes or no")
}

/// Waits until another question, or none, is the next thing to do.
async fn another_than(page: &Page, asked: &str) {
    page.until(
        "the answer to lead on",
        format!(
            "(document.querySelector('#next .asks') || {{ innerText: '' }}).innerText !== {asked:?}"
        ),
    )
    .await;
}

async fn whole_case(screen: Screen) {
    let mut app = App::start();
    let mut page = Page::open(&app.address, screen).await;
    let name = |view: &str| {
        if screen == Screen::Desk {
            view.to_owned()
        } else {
            format!("{view}-phone")
        }
    };

    page.go("/").await;
    page.until_says(".round.case", "Fish keep to the top").await;
    page.is_sound(screen).await;
    desk_picture(&page, screen, "rounds").await;
    page.click(".round.case .button.act").await;
    for asks in next_by_the_core() {
        page.until_says("#next .look legend", asks).await;
    }
    let (differential, _) = by_the_core(&[], &[]);
    assert_eq!(
        first_suspect(&page).await,
        (
            differential.first().fault.id.to_owned(),
            printed(differential.first().probability)
        )
    );
    page.is_sound(screen).await;
    page.picture(&name("case")).await;

    nonsense_is_refused(&page).await;
    page.is_sound(screen).await;

    // Of the round one thing is so, one cannot be looked at, and no more was looked at.
    page.click("#next label:has(input[name='surface-flat'][value=yes])")
        .await;
    page.click("#next label:has(input[name='surface-film'][value=cannot-look])")
        .await;
    page.click("#round-only").await;
    page.until_says("#noticed .given", "The surface is a mirror")
        .await;
    page.click("#declined summary").await;
    page.until_says("#declined", "Look for a film").await;
    // One more sign by tapping on the drawing.
    page.click(".pin-outlet").await;
    page.click("#noticed-outlet-off-its-mark-yes").await;
    page.until_says("#noticed .given", "The outlet sits lower or turned")
        .await;
    let (differential, gain) = by_the_core(&["surface-flat", "outlet-off-its-mark"], &[]);
    assert_eq!(
        first_suspect(&page).await,
        (
            "outlet-slipped".to_owned(),
            printed(differential.first().probability)
        )
    );
    page.until_says("#next", "Clear enough to act").await;
    page.until_says(
        "#next",
        &format!("{gain:+.1} mg/L at the lowest point of the day"),
    )
    .await;
    page.is_sound(screen).await;

    page.click("#next a[href='#plans']").await;
    page.click("#act-raise-or-aim-outlet").await;
    page.until_says("#doing", "Steps").await;
    for step in 0..4 {
        page.click(&format!("#step-{step}")).await;
        page.until(
            "the tick",
            format!(
                "document.getElementById('step-{step}').getAttribute('aria-pressed') === 'true'"
            ),
        )
        .await;
    }
    page.is_sound(screen).await;
    page.script("document.getElementById('doing').scrollIntoView({ behavior: 'instant' })")
        .await;
    desk_picture(&page, screen, "doing").await;
    page.click("#change-done").await;
    page.until_says("#next", "Read: Oxygen").await;

    page.write("#proof-value", "abc").await;
    page.click("#proof-save").await;
    page.until_says("#proof-form", "Oxygen: “abc” is not accepted.")
        .await;
    page.write("#proof-value", "7.4").await;
    page.click("#proof-save").await;
    page.until_says("#next", "Not all is shown yet").await;
    page.until_says("#proof", "So far it worked").await;
    page.until_says("#next", "Forecast for this hour was").await;
    page.until_says(
        "#next",
        "Before it can be closed, look again at what it began with",
    )
    .await;
    page.is_sound(screen).await;
    desk_picture(&page, screen, "proof").await;
    while is_asked_to_look(&page).await {
        let asked = page.text("#next .asks").await;
        page.click("#next-no").await;
        another_than(&page, &asked).await;
    }
    page.until_says("#next", "So far it worked").await;
    page.click("#close-early").await;
    page.until_says("#duties", "Glance at the surface when you feed")
        .await;
    page.until_says("#next", "Everything in it stays as it was")
        .await;

    app.kill_and_restart();
    page.moved_to(&app.address);
    page.go("/").await;
    page.until("no open case", "!document.querySelector('.round.case')")
        .await;
    page.go("/cases/1").await;
    page.until_says("#next", "So far it worked").await;
    page.until_says(".verdict.proved", "7.4 ± 0.5 mg/L").await;
    page.is_sound(screen).await;
    page.close().await;
}

#[tokio::test]
async fn a_case_from_noticing_to_proof_at_the_desk() {
    whole_case(Screen::Desk).await;
}

#[tokio::test]
async fn a_case_from_noticing_to_proof_on_a_phone() {
    whole_case(Screen::Phone).await;
}

#[tokio::test]
async fn a_tank_is_taken_ill_with_the_keyboard_alone() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1").await;
    page.is_sound(Screen::Desk).await;
    page.picture("tank").await;
    page.go("/tanks/2").await;
    page.until_says("#next", "expected lowest").await;
    page.is_sound(Screen::Desk).await;
    page.click("#next .button.act").await;
    page.until_says("#noticed", "Say what you see").await;
    page.is_sound(Screen::Desk).await;
    // With the keyboard alone: search, answer, and first aid comes first.
    page.script("document.activeElement.blur()").await;
    page.keys("f").await;
    page.keys("gulp").await;
    page.until(
        "its question has come",
        "document.getElementById('noticed-gasping-yes') !== null",
    )
    .await;
    tab_to(&page, "#noticed-gasping-yes").await;
    page.keys("\u{e007}").await;
    page.until_says(".urgent", "First, help them breathe").await;
    page.is_sound(Screen::Desk).await;
    page.go("/handbook").await;
    page.is_sound(Screen::Desk).await;
    page.picture("handbook").await;
    page.go("/nowhere").await;
    page.until_says("main", "There is no page at this address")
        .await;
    page.is_accessible().await;
    page.close().await;
}

#[tokio::test]
async fn a_reading_is_logged_from_the_rounds_in_two_taps() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/").await;
    page.click("#tank-2 .log summary").await;
    page.until(
        "the form has come",
        "document.querySelector('#log-2-value') !== null",
    )
    .await;
    page.write("#log-2-value", "elf").await;
    page.is_sound(Screen::Phone).await;
    page.click("#log-2-save").await;
    page.until_says("#tank-2", "Oxygen: “elf” is not accepted.")
        .await;
    // The fold comes open with the refusal: its form must not be fetched anew over what was typed.
    page.script(
        "window.fetched = 0; const fetch = window.fetch; window.fetch = (...all) => { window.fetched += 1; return fetch(...all); }",
    )
    .await;
    page.script("document.querySelector('#tank-2 .log').dispatchEvent(new Event('toggle'))")
        .await;
    let typed = "return [window.fetched, document.querySelector('#log-2-value').value, document.querySelectorAll('#tank-2 form.reading').length]";
    assert_eq!(page.script(typed).await, serde_json::json!([0, "elf", 1]));
    page.write("#log-2-value", "7.4").await;
    page.click("#log-2-save").await;
    page.until_says("#tank-2 .facts", "Oxygen read 7.4 ± 0.5 mg/L, just now")
        .await;
    page.is_sound(Screen::Phone).await;
    for path in [
        "/tanks/2",
        "/tanks/new",
        "/tanks/2/edit",
        "/import",
        "/settings",
        "/data",
        "/at-the-tank",
        "/offline",
        "/handbook",
        "/visit",
        "/visit/report",
        "/tanks/2/routine",
    ] {
        page.go(path).await;
        page.is_sound(Screen::Phone).await;
    }
    page.close().await;
}

#[tokio::test]
async fn a_weak_filter_is_found_out_and_proved_mended_by_looking_again() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/tanks/2").await;
    page.click("#next form .button.act").await;
    page.until_says("#noticed", "Say what you see").await;
    for (letters, finding, says) in [
        ("weaker", "flow-weak", "The outlet runs weaker"),
        ("older than two", "sponge-old", "The sponge is older"),
        ("clogged", "sponge-choked", "Squeezing no longer clears"),
    ] {
        page.write("#find", letters).await;
        page.click(&format!("#noticed-{finding}-yes")).await;
        page.until_says("#noticed .given", says).await;
    }
    page.until_says("h1", "The outlet runs weaker than it did")
        .await;
    page.until_says("#next", "Clear enough to act").await;
    assert_eq!(
        first_suspect(&page).await,
        (
            "clogged-biological-media".to_owned(),
            "over 99 %".to_owned()
        )
    );
    page.is_sound(Screen::Phone).await;
    page.click("#act-replace-sponge-in-halves").await;
    page.until_says("#doing", "Both lines shut, and seen dry")
        .await;
    page.click("#change-done").await;
    page.until_says("#next", "Look again").await;
    page.is_sound(Screen::Phone).await;
    page.click("#look-yes").await;
    page.until_says("#next", "Not proved").await;
    page.until_says(".verdict", "The outlet runs weaker than it did, as before.")
        .await;
    page.click("#look-no").await;
    page.until_says("#next", "So far it worked").await;
    page.is_sound(Screen::Phone).await;
    page.click("#close-early").await;
    page.until_says("#next", "Everything in it stays as it was")
        .await;
    page.close().await;
}

const TAB: &str = "\u{e004}";
const ENTER: &str = "\u{e007}";

/// Goes on from control to control until this one has the focus, as somebody without a mouse does.
pub(crate) async fn tab_to(page: &Page, css: &str) {
    for _ in 0..250 {
        page.keys(TAB).await;
        if page
            .script(&format!("return document.activeElement.matches({css:?})"))
            .await
            == serde_json::json!(true)
        {
            return;
        }
    }
    panic!("{css} cannot be reached by the keyboard");
}

/// The colony, by the keyboard alone: a reading brings first aid, a change is chosen, done, and
/// proved by a reading.
#[tokio::test]
async fn poisoned_water_is_found_out_and_cured_with_the_keyboard_alone() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/2").await;
    tab_to(&page, "#next .button.act").await;
    page.keys(ENTER).await;
    page.until_says("#noticed", "Say what you see").await;
    for (letters, finding, says) in [
        ("rub", "irritated", "Fish rub themselves"),
        ("cleaned", "filter-cleaned", "The filter had been cleaned"),
    ] {
        page.keys("f").await;
        page.until(
            "the search has the focus",
            "document.activeElement.id === 'find'",
        )
        .await;
        page.script("document.activeElement.value = ''").await;
        page.keys(letters).await;
        page.until(
            "its question has come",
            format!("document.getElementById('noticed-{finding}-yes') !== null"),
        )
        .await;
        tab_to(&page, &format!("#noticed-{finding}-yes")).await;
        page.keys(ENTER).await;
        if finding == "filter-cleaned" {
            // A happening asks when it was.
            tab_to(&page, "#noticed-filter-cleaned-today").await;
            page.keys(ENTER).await;
        }
        page.until_says("#noticed .given", says).await;
    }
    page.script("document.activeElement.blur()").await;
    page.keys("r").await;
    page.until(
        "the reading has the focus",
        "document.activeElement.id === 'reading-value'",
    )
    .await;
    page.keys("\u{e008}\u{e004}").await;
    page.script("document.getElementById('reading-kit').focus()")
        .await;
    page.keys("Nitrite").await;
    tab_to(&page, "#reading-value").await;
    page.keys("2").await;
    tab_to(&page, "#reading-save").await;
    page.keys(ENTER).await;
    page.until_says(".urgent", "First, thin out the poison")
        .await;
    page.until(
        "a change can be sized from here",
        "document.querySelector('.urgent a[href$=\"/water/changes#emergency\"]') !== null",
    )
    .await;
    page.is_sound(Screen::Desk).await;
    let (first, _) = first_suspect(&page).await;
    assert_eq!(first, "colony-hurt-by-cleaning");

    tab_to(&page, "#changes .others button").await;
    page.keys(ENTER).await;
    page.until_says("#doing", "Steps").await;
    tab_to(&page, "#change-done").await;
    page.keys(ENTER).await;
    page.until_says("#next", "Read: Nitrite").await;
    tab_to(&page, "#proof-value").await;
    page.keys("0").await;
    tab_to(&page, "#proof-save").await;
    page.keys(ENTER).await;
    page.until_says("#proof", "So far it worked").await;
    while is_asked_to_look(&page).await {
        let asked = page.text("#next .asks").await;
        tab_to(&page, "#next-no").await;
        page.keys(ENTER).await;
        another_than(&page, &asked).await;
    }
    page.until(
        "it may be closed",
        "document.getElementById('close-early') !== null",
    )
    .await;
    tab_to(&page, "#close-early").await;
    page.keys(ENTER).await;
    page.until_says("#next", "Everything in it stays as it was")
        .await;
    page.is_sound(Screen::Desk).await;
    page.close().await;
}

/// Evidence that contradicts itself, by touch: it is named, nothing is hidden, and striking out the
/// wrong one settles it.
#[tokio::test]
async fn two_readings_that_hardly_go_together_are_named_until_one_is_struck_out() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/cases/1").await;
    page.write("#reading-value", "8.5").await;
    page.click("#reading-save").await;
    page.until_says(".misfit", "Which of the two do you trust?")
        .await;
    page.until_says(".misfit", "Oxygen 8.5").await;
    page.until_says(".misfit", "Oxygen 4.5").await;
    page.is_sound(Screen::Phone).await;
    page.click("#read .given [aria-label^='Strike out: Oxygen 4.5']")
        .await;
    page.until_says("#read .given .struck", "4.5").await;
    page.until(
        "nothing contradicts any more",
        "!document.querySelector('.misfit')",
    )
    .await;

    // Why not something else; every past state; the summary.
    page.script("document.getElementById('why-not').open = true")
        .await;
    page.click("#why option[value=chlorine-exposure]").await;
    page.click("#why-not .button").await;
    page.until_says("#why-not", "likely, by everything that is known")
        .await;
    page.is_sound(Screen::Phone).await;
    page.go("/cases/1/past/4").await;
    page.until_says("h1", "Oxygen 4.5").await;
    page.is_sound(Screen::Phone).await;
    page.click("[rel=next]").await;
    page.until_says("h1", "Oxygen 8.5").await;
    page.click("[rel=next]").await;
    page.until_says("h1", "Struck out: Oxygen 4.5").await;
    page.is_sound(Screen::Phone).await;
    page.picture("case-past-phone").await;
    page.go("/cases/1").await;
    page.click("#summary > summary").await;
    page.until_says("#summary pre", "Oxygen 8.5").await;
    page.close().await;
}

/// A look that takes its time has a clock beside it.
#[tokio::test]
async fn a_clock_counts_down_beside_a_look_of_a_minute() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/cases/1").await;
    page.go("/cases/1?check=look-outlet-bubbles-constant").await;
    page.until_says("#next h2", "Watch the outlet for a minute")
        .await;
    let whole = page.text("#next .clock output").await;
    page.click("#next .clock .button").await;
    page.until(
        "it counts down",
        format!("document.querySelector('#next .clock output').textContent < {whole:?}"),
    )
    .await;
    page.until_says("#next .clock .button", "Start again").await;
    // Bucket and watch, where that kit is chosen: the flow goes into the form.
    page.click("#reading-kit option[value=bucket]").await;
    page.click("#reading-form .clock .button").await;
    page.until_says("#reading-form .clock .button", "Stop: the bucket is full")
        .await;
    page.click("#reading-form .clock .button").await;
    page.until_says("#reading-form .clock output", "10 L in")
        .await;
    page.until(
        "the flow is in the form",
        "Number(document.getElementById('reading-value').value) > 1000",
    )
    .await;
    page.is_sound(Screen::Phone).await;
    page.close().await;
}
