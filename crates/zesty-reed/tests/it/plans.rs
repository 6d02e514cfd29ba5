//! Plans in a browser: one's own mixed and followed through a restart and an outage, proved beside a
//! sister tank and printed; and a change that did not work, after which the case goes on.

use jiff::SignedDuration;

use crate::app::{App, now};
use crate::browser::{Page, Screen};

pub(crate) async fn post(page: &Page, path: &str, body: &str) {
    let answer = page
        .script(&format!(
            "return fetch({path:?}, {{ method: 'POST', headers: {{ 'content-type': 'application/x-www-form-urlencoded' }}, body: {body:?} }}).then(r => r.status)"
        ))
        .await;
    assert!(
        answer.as_u64().is_some_and(|status| status < 400),
        "{path} {body}: {answer}"
    );
}

async fn is_ticked(page: &Page, step: usize) {
    page.until(
        "the tick",
        format!("document.getElementById('step-{step}')?.getAttribute('aria-pressed') === 'true'"),
    )
    .await;
}

#[tokio::test]
async fn ones_own_plan_is_mixed_followed_proved_beside_a_sister_tank_and_printed() {
    for screen in [Screen::Desk, Screen::Phone] {
        let mut app = App::start();
        let mut page = Page::open(&app.address, screen).await;
        page.go("/cases/1").await;
        page.until_says("#plans", "Best on the whole").await;
        page.is_sound(screen).await;
        if screen == Screen::Desk {
            page.script("document.getElementById('plans').scrollIntoView({ behavior: 'instant' })")
                .await;
            page.picture("plans").await;
        }
        // The sister tank, before: at the same hour, since oxygen rises and falls with the light.
        let yesterday = now() - SignedDuration::from_hours(24);
        let at = yesterday.strftime("%Y-%m-%dT%H:%M");
        post(
            &page,
            "/tanks/2/water/readings",
            &format!("kit=oxygen-drops&value=7.0&taken_at={at}"),
        )
        .await;

        // What is picked is reckoned at once, without another page.
        page.go("/cases/1/mix").await;
        page.is_sound(screen).await;
        page.click("label:has([value=raise-or-aim-outlet])").await;
        page.until_says("#mixed", "Oxygen stays out of danger")
            .await;
        page.click("label:has([value=clean-mechanical])").await;
        page.until_says("#mixed", "Rinse the mechanical stages")
            .await;
        page.click("label:has([value=replace-floss])").await;
        page.until_says("#mixed", "do the same or undo each other")
            .await;
        page.click("label:has([value=replace-floss])").await;
        page.until_says("#mixed", "Follow this plan").await;
        page.is_sound(screen).await;
        if screen == Screen::Desk {
            page.picture("mix").await;
        }
        page.click("#follow-mix").await;
        page.until_says("#planned", "under way").await;

        // A clock runs on while the page is away.
        page.click("#doing .clock button").await;
        page.go("/cases/1").await;
        page.until(
            "the clock runs on",
            "document.querySelector('#doing .clock output').textContent.startsWith('14:')",
        )
        .await;
        page.click("#step-0").await;
        is_ticked(&page, 0).await;
        app.kill_and_restart();
        page.moved_to(&app.address);
        page.go("/cases/1").await;
        is_ticked(&page, 0).await;
        page.click("#change-done").await;
        page.until_says("#planned", "made").await;
        page.is_sound(screen).await;

        // Beside a sister tank; one that nobody read again is asked for, and nothing is lost.
        page.choose("#proof-control", "2").await;
        page.write("#proof-value", "7.9").await;
        page.click("#proof-save").await;
        page.until_says("#proof-form", "now, too, within 6 hours")
            .await;
        post(
            &page,
            "/tanks/2/water/readings",
            "kit=oxygen-drops&value=7.1",
        )
        .await;
        page.click("#proof-save").await;
        page.until_says("#next", "left alone").await;
        page.is_sound(screen).await;

        page.click("#planned a[href$='/report']").await;
        page.until_says("main", "Left for next time").await;
        page.is_sound(screen).await;
        page.as_printed(true).await;
        page.until_says("main", "Rinse the mechanical stages").await;
        page.as_printed(false).await;

        // The next stage, though it is early: a tick without a connection is sent when there is one
        // again.
        page.go("/cases/1").await;
        page.until_says("#planned", "Better not before").await;
        page.click("#next-stage").await;
        page.until_says("#doing", "Rinse the mechanical stages")
            .await;
        page.offline(true).await;
        page.click("#step-1").await;
        page.until_says("body", "kept on this device").await;
        page.offline(false).await;
        page.go("/cases/1").await;
        is_ticked(&page, 1).await;
        page.close().await;
    }
}

/// The outlet still draws air after its trimming: the case says so and looks on; tried again, it is
/// gone, and the case is closed.
#[tokio::test]
async fn a_change_that_did_not_work_is_said_so_and_the_case_goes_on() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/").await;
    post(&page, "/tanks/2/cases", "").await;
    post(
        &page,
        "/cases/2/answers",
        "finding=outlet-draws-air&answer=yes",
    )
    .await;
    for (answer, says) in [("yes", "Not proved"), ("no", "Proved: it worked")] {
        post(
            &page,
            "/cases/2/answers",
            "finding=outlet-draws-air&answer=yes",
        )
        .await;
        post(&page, "/cases/2/choices", "change=trim-outlet").await;
        page.go("/cases/2").await;
        page.click("#change-done").await;
        page.until_says("#next", "Look again").await;
        page.click(&format!("#next-{answer}")).await;
        page.until_says("main", says).await;
        page.is_sound(Screen::Phone).await;
        if answer == "yes" {
            page.until_says(".verdict.not-proved", "The case looks on from here")
                .await;
        }
    }
    page.click("#close-proved").await;
    page.until_says("#next", "Everything in it stays as it was")
        .await;
    page.close().await;
}
