//! Visits in a browser: a round of three tanks on a phone whose network goes away in the middle, and
//! a sheet that is printed and typed in afterwards.

use jiff::ToSpan;

use crate::app::{self, App};
use crate::browser::{Page, Screen};

/// Whose heaters were looked at two months ago; the third tank is a new one.
async fn three_tanks(page: &Page) {
    let day = app::now().date().saturating_sub(60.days());
    page.go("/").await;
    let mut forms = vec![(
        "/tanks/new/sponge-cube".to_owned(),
        "name=Study&animals=set-up".to_owned(),
    )];
    for tank in 1..=3 {
        forms.push((
            format!("/tanks/{tank}/log"),
            format!("what=heaters-looked-at&at={day}+10:00"),
        ));
    }
    for (path, body) in forms {
        let sent = page
            .script(&format!(
                "return fetch({path:?}, {{ method: 'POST', headers: {{ 'content-type': 'application/x-www-form-urlencoded' }}, body: {body:?} }}).then(r => r.status)"
            ))
            .await;
        assert!(
            sent.as_u64().is_some_and(|status| status < 400),
            "{path}: {sent}"
        );
    }
}

#[tokio::test]
async fn a_round_of_three_tanks_goes_on_while_the_network_is_away() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    three_tanks(&page).await;
    page.go("/visit?minutes=120").await;
    for tank in 1..=3 {
        page.until_says(&format!("#task-{tank}-look-at-heaters"), "late by")
            .await;
    }
    page.is_sound(Screen::Phone).await;
    page.is_accessible().await;
    page.click("#done-1-look-at-heaters").await;
    page.until(
        "it is off the sheet",
        "!document.querySelector('#task-1-look-at-heaters')",
    )
    .await;
    page.offline(true).await;
    for tank in 2..=3 {
        page.click(&format!("#done-{tank}-look-at-heaters")).await;
        page.until_says(
            &format!("#task-{tank}-look-at-heaters"),
            "Kept on this device",
        )
        .await;
    }
    page.until_says("[data-outbox]", "2 things are not sent yet")
        .await;
    page.offline(false).await;
    page.until(
        "all of it is sent",
        "document.querySelector('[data-outbox]').hidden",
    )
    .await;
    page.until(
        "what is done is off the sheet",
        "!document.querySelector('.task-kept, [id$=look-at-heaters]')",
    )
    .await;
    for tank in 1..=3 {
        page.go(&format!("/tanks/{tank}/log")).await;
        page.until_says(".lines", "Heaters, leads and lids looked at")
            .await;
        page.go(&format!("/tanks/{tank}/routine")).await;
        page.until_says(&format!("#task-{tank}-look-at-heaters"), "last today")
            .await;
    }
    page.go("/visit/report").await;
    page.until_says("main", "Heaters, leads and lids looked at")
        .await;
    page.close().await;
}

#[tokio::test]
async fn a_sheet_is_printed_with_room_to_write_and_typed_in_afterwards() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    three_tanks(&page).await;
    // How they are fed is said once, and stands on the plan and on the sheet for whoever stands in.
    page.go("/tanks/1/routine").await;
    page.choose("#feeding-amount", "5").await;
    page.click("#feeding-days button").await;
    page.until(
        "Wednesday and Sunday are days without feed",
        "[...document.querySelectorAll('.feeding-week .is-fast')].map(d => d.textContent.slice(0, 3)).join() === 'Wed,Sun'",
    )
    .await;
    page.until_says("#task-1-fast-day", "on Wednesday and Sunday, your school")
        .await;
    page.go("/visit?minutes=120").await;
    page.until_says("#stop-1", "nothing on Wednesday and Sunday")
        .await;
    page.is_sound(Screen::Desk).await;
    page.as_printed(true).await;
    let shown = "return [...document.querySelectorAll('.visit-write, .visit-stop button, .visit-rules, .visit-stop .task-caution')].filter(e => e.getClientRects().length > 0).map(e => e.className.split(' ')[0])";
    let printed = page.script(shown).await;
    let of = |name: &str| {
        let all = printed.as_array().expect("a list");
        all.iter().filter(|class| *class == name).count()
    };
    assert_eq!(
        of("visit-write"),
        3,
        "room to write for each tank: {printed}"
    );
    assert_eq!(
        of("button") + of("visit-rules"),
        0,
        "nothing to press: {printed}"
    );
    assert!(of("task-caution") > 0, "the cautions are on the paper too");
    page.as_printed(false).await;
    // At the desk: what was read on the walk, and a task that was left.
    page.go("/tanks/2/routine").await;
    page.write("#do-2-test-nitrate input[name=value]", "elf")
        .await;
    page.click("#done-2-test-nitrate").await;
    page.until_says("#task-2-test-nitrate", "is not accepted")
        .await;
    page.write("#do-2-test-nitrate input[name=value]", "11")
        .await;
    page.click("#done-2-test-nitrate").await;
    page.until_says("#task-2-test-nitrate", "last today").await;
    page.click("#task-2-look-at-heaters summary").await;
    page.write("#reason-2-look-at-heaters", "behind the shelf")
        .await;
    page.click("#task-2-look-at-heaters button[value=skip]")
        .await;
    page.until_says(
        "#task-2-look-at-heaters",
        "Skipped this time: behind the shelf",
    )
    .await;
    page.close().await;
}
