//! A probe in a browser: let in, alive, silent and noticed.

use std::process::Command;

use crate::app::App;
use crate::browser::{Page, Screen};

/// A simulated device sends something.
async fn simulate(app: &App, device: &str, token: &str, more: &[&str]) {
    let arguments = ["simulate", device, "--token", token, "--to", &app.address];
    let arguments: Vec<String> = arguments
        .iter()
        .chain(more)
        .map(|it| (*it).to_owned())
        .collect();
    let sent = tokio::task::spawn_blocking(move || {
        Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
            .args(arguments)
            .output()
            .expect("it runs")
    });
    let sent = sent.await.expect("it ends");
    assert!(
        sent.status.success(),
        "{}",
        String::from_utf8_lossy(&sent.stderr)
    );
}

async fn let_in(page: &Page, name: &str) -> String {
    page.go("/tanks/2/devices").await;
    page.write("#device-name", name).await;
    page.click(".device-new button").await;
    page.until_says("#next", "may send now").await;
    let token = page
        .script("return document.querySelector('#token').value")
        .await;
    token.as_str().expect("shown").to_owned()
}

#[tokio::test]
async fn a_probe_comes_alive_goes_silent_and_is_noticed() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    let token = let_in(&page, "Probe by the outlet").await;
    page.is_sound(Screen::Phone).await;
    page.is_accessible().await;
    simulate(&app, "probe", &token, &["--every=1", "--readings=1"]).await;
    page.go("/tanks/2/devices").await;
    page.until_says(".device-values", "mg/L").await;
    let shown = "document.querySelector('[data-live-of$=\"-flow\"]').textContent";
    let before = page.script(&format!("return {shown}")).await;
    // While the page stands open what comes is shown.
    simulate(
        &app,
        "probe",
        &token,
        &["--every=1", "--readings=2", "--seed=7"],
    )
    .await;
    // A laboratory reports what it found two days ago.
    for written in ["--as=csv", "--as=json"] {
        simulate(&app, "lab", &token, &[written]).await;
    }
    page.until("what came is shown", format!("{shown} !== {before}"))
        .await;
    // Another sent its last reading an hour ago.
    let silent = let_in(&page, "Old probe").await;
    let post = format!(
        "const at = (minutes) => new Date(Date.now() - minutes * 60000).toISOString();
         const readings = [70, 65, 60].map((minutes) => ({{ analyte: 'ph', value: 7.2, unit: '', at: at(minutes) }}));
         return fetch('/api/v1/readings', {{ method: 'POST', headers: {{ authorization: 'Bearer {silent}', 'content-type': 'application/json' }}, body: JSON.stringify({{ readings }}) }}).then(r => r.json())"
    );
    let answer = page.script(&post).await;
    assert_eq!(answer["stored"], 3, "{answer}");
    page.go("/tanks/2/devices").await;
    page.until_says(".device-trouble", "Silent for 60 minutes")
        .await;
    page.is_sound(Screen::Phone).await;
    page.go("/tanks/2/log").await;
    page.until_says(".lines", "Oxygen").await;
    page.until_says(".lines", "Phosphate").await;
    page.close().await;
}

/// On whatever page stands open an alarm comes up by itself, and goes when the water is well again.
#[tokio::test]
async fn an_alarm_comes_up_where_somebody_looks_and_goes_by_itself() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Phone).await;
    let token = let_in(&page, "Probe by the outlet").await;
    let post = async |value: f64, minutes: [u32; 2]| {
        let post = format!(
            "const at = (minutes) => new Date(Date.now() - minutes * 60000).toISOString();
             const readings = {minutes:?}.map((minutes) => ({{ analyte: 'oxygen', value: {value}, unit: 'mg/L', at: at(minutes) }}));
             return fetch('/api/v1/readings', {{ method: 'POST', headers: {{ authorization: 'Bearer {token}', 'content-type': 'application/json' }}, body: JSON.stringify({{ readings }}) }}).then(r => r.json())"
        );
        let answer = page.script(&post).await;
        assert_eq!(answer["stored"], 2, "{answer}");
    };
    page.go("/tanks/2/water/oxygen").await;
    post(7.5, [9, 8]).await;
    post(2.5, [7, 6]).await;
    page.until_says("[role=alert]", "Oxygen 2.5 mg/L").await;
    page.until_says(".live-values", "2.5 mg/L").await;
    page.is_sound(Screen::Phone).await;
    page.is_accessible().await;
    page.go("/").await;
    page.until_says("[role=alert]", "start an air stone").await;
    page.until("the title tells it", "document.title.startsWith('(1) ')")
        .await;
    page.is_sound(Screen::Phone).await;
    page.click("[role=alert] form button").await;
    page.until_says("[role=alert]", "Seen to").await;
    post(7.5, [3, 2]).await;
    page.until("it is gone", "!document.querySelector('[role=alert]')")
        .await;
    page.close().await;
}
