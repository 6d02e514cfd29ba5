//! Filter in a browser: a wrong order mended, a bucket timed, a sheet that outlives a restart, an
//! opening that moves the next one.

use crate::app::App;
use crate::browser::{Page, Screen};

#[tokio::test]
async fn a_filter_is_put_in_order_measured_serviced_and_reckoned_anew() {
    for screen in [Screen::Desk, Screen::Phone] {
        let mut app = App::start();
        let mut page = Page::open(&app.address, screen).await;
        page.go("/tanks/1/filter").await;
        page.until_says("#due", "due since").await;
        page.is_sound(screen).await;
        if screen == Screen::Desk {
            page.picture("filter").await;
        }
        let due = page.text(".due").await;

        // A medium is carried to the front of the way, which is wrong, and one tap mends it.
        let hold = ".stop:last-child .medium-hold";
        let by = page
            .script("const a = document.querySelector('.stop:last-child .medium-hold'); const b = document.querySelector('.stop .medium-hold'); a.scrollIntoView({ block: 'center', behavior: 'instant' }); const [p, q] = [a, b].map(e => e.getBoundingClientRect()); return q.y + q.height / 2 - p.y - p.height / 2")
            .await;
        page.carry(hold, (0.0, by.as_f64().expect("a number")))
            .await;
        page.let_go().await;
        page.until_says("#order", "A fine stage comes before a coarse one")
            .await;
        page.click("#mend-order").await;
        page.until(
            "the order is mended",
            "!document.querySelector('#mend-order')",
        )
        .await;

        // Three runs by the watch; a nonsense is named and nothing is lost.
        for _ in 0..2 {
            page.click("#bucket-press").await;
            tokio::time::sleep(std::time::Duration::from_millis(1200)).await;
            page.click("#bucket-press").await;
        }
        page.until(
            "two runs are timed",
            "Number(document.querySelector('#bucket-2').value) > 1",
        )
        .await;
        page.write("#bucket-3", "never").await;
        page.write("#bucket-litres", "0.5").await;
        page.click("#bucket-save").await;
        page.until_says("#bucket", "Run 3: “never” is not accepted. Give seconds")
            .await;
        page.write("#bucket-3", "2").await;
        page.click("#bucket-save").await;
        page.until_says("#record", "Flow by bucket").await;

        // The sheet outlives a restart.
        page.click("#to-service").await;
        page.click("#step-heaters-off").await;
        page.until(
            "it is ticked",
            "document.querySelector('#step-heaters-off').getAttribute('aria-pressed') === 'true'",
        )
        .await;
        page.is_sound(screen).await;
        app.kill_and_restart();
        page.moved_to(&app.address);
        page.go("/tanks/1/filter/service").await;
        page.until_says(".service", "1 of").await;
        if screen == Screen::Desk {
            page.as_printed(true).await;
            page.until(
                "paper has room to write",
                "getComputedStyle(document.querySelector('.paper')).display === 'block'",
            )
            .await;
            page.as_printed(false).await;
        }
        page.click("#finish input[name=grade-floss][value='5']")
            .await;
        page.write("#finish [name=note]", "Closed, brown, sagging")
            .await;
        page.click("#entry-save").await;
        page.until_says("#record", "Floss 5 of 5").await;
        assert_ne!(page.text(".due").await, due, "the day has moved");
        page.go("/tanks/1/filter/service").await;
        page.until_says(".service", "0 of").await;
        page.close().await;
    }
}
