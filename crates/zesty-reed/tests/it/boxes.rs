//! Every page at three widths, with names that do not break: nothing overlaps, is cut off, lies
//! outside its sheet, is too small for a finger or wider than its screen; so that a rule for one
//! page cannot break another unseen. And every page says which it is.

use std::collections::{BTreeMap, BTreeSet};

use crate::app::App;
use crate::browser::{Page, Screen};

/// Widths of a small phone, a phone and a desk, px.
const WIDTHS: [(u32, u32); 3] = [(320, 700), (390, 844), (1280, 800)];

/// A name of so many letters without a place to break.
fn unbroken(letters: usize) -> String {
    "Wwasseraufbereitungsanlagenbetreiberverband"
        .chars()
        .cycle()
        .take(letters)
        .collect()
}

/// Opens what is folded, so that a page shows all it has.
const UNFOLD: &str =
    "document.querySelectorAll('main details').forEach(fold => { fold.open = true; })";

/// Gives the demo what is awkward: long names, a case with everything in it, a closed one, an empty
/// tank, one put away, a kept try.
async fn awkward(page: &Page) {
    let post = |path: &str, body: String| {
        format!(
            "return fetch({path:?}, {{ method: 'POST', headers: {{ 'content-type': 'application/x-www-form-urlencoded' }}, body: {body:?} }}).then(r => [r.status, r.url])"
        )
    };
    page.go("/").await;
    let long = unbroken(59);
    for (path, body) in [
        (
            "/tanks/new/large-sump",
            format!("name={long}&animals=set-up"),
        ),
        ("/tanks/new/sponge-cube", "name=Put+away".to_owned()),
        ("/tanks/4/put-away", String::new()),
        ("/tanks/3/cases", String::new()),
        ("/cases/2/answers", "finding=gasping&answer=yes".to_owned()),
        (
            "/cases/2/answers",
            "finding=soap-near-tank&when=today".to_owned(),
        ),
        ("/cases/2/close", format!("words={}", unbroken(480))),
        ("/tanks/3/cases", String::new()),
        (
            "/tanks/3/log",
            "what=new-media&amount=50&at=in+3+days".to_owned(),
        ),
        ("/tanks/3/tries", format!("moves=1:1,0,0&name={long}")),
    ] {
        let answer = page.script(&post(path, body.clone())).await;
        assert!(
            answer[0].as_u64().is_some_and(|status| status < 400),
            "{path} {body}: {answer}"
        );
    }
}

/// Every page: its address, and what it has to show before it is looked at.
const PAGES: &[(&str, &str)] = &[
    ("/", ""),
    ("/handbook", ""),
    ("/settings", ""),
    ("/prices", ""),
    ("/data", ""),
    ("/at-the-tank", ""),
    ("/offline", ""),
    ("/visit", ""),
    ("/visit/report", ""),
    ("/tanks/2/routine", ""),
    ("/tanks/2/devices", ""),
    ("/tanks/3/routine", ""),
    ("/import", ""),
    ("/nowhere", ""),
    ("/tanks/new", ""),
    ("/tanks/new/community-internal", ""),
    ("/tanks/3", ""),
    ("/tanks/3/edit", ""),
    ("/tanks/3/revisions/3", ""),
    ("/tanks/4", ""),
    (
        "/tanks/2/log",
        "(document.getElementById('entry-what').value = 'filter-opened', document.getElementById('entry-what').dispatchEvent(new Event('change')), !document.querySelector('[data-for=filter-opened]').hidden)",
    ),
    ("/tanks/3/log", ""),
    ("/tanks/2/charts", ""),
    (
        "/tanks/2/charts?read=nitrate&span=own&from=soon&to=&beside=1",
        "",
    ),
    ("/log", ""),
    ("/tanks/2/case", ""),
    ("/cases/1?place=surface", ""),
    ("/cases/1?why=chlorine-exposure&find=noise", ""),
    ("/cases/2", ""),
    ("/cases/3", ""),
    ("/cases/1/past/3", ""),
    (
        "/cases/1/mix?change=raise-or-aim-outlet&change=clean-mechanical",
        "",
    ),
    ("/cases/1/mix?change=nonsense", ""),
    ("/cases/1/report", ""),
    (
        "/tanks/3/water",
        "document.querySelector('#outlook') && document.querySelector('#outlook').dataset.ready === 'yes'",
    ),
    ("/tanks/3/water/changes?size=yes&tan=lots", ""),
    ("/tanks/3/water/bacteria", ""),
    ("/tanks/3/water/oxygen", ""),
    ("/tanks/3/water/ph", ""),
    ("/tanks/3/water/media?problem=ammonia", ""),
    ("/tanks/3/water/tests", ""),
    ("/tanks/1/filter", ""),
    ("/tanks/1/filter/air", ""),
    ("/tanks/1/filter/hoses", ""),
    ("/tanks/1/filter/service", ""),
    ("/tanks/3/filter", ""),
    ("/tanks/3/filter/kinds", ""),
    ("/tanks/3/drift", ""),
    ("/tanks/3/tries/1", ""),
    // The last: from then on it stands in the way of all others.
    ("/login", ""),
];

/// The check itself can fail: faults that are planted are found.
async fn finds_what_is_planted(page: &Page) {
    page.go("/settings").await;
    page.resize(390, 844).await;
    assert_eq!(page.boxes(390).await, Vec::<String>::new());
    for (fault, says) in [
        ("save.style.marginTop = '-110px'", "overlap"),
        (
            "save.style.minHeight = '20px'; save.style.height = '20px'; save.style.padding = '0'",
            "px high",
        ),
        (
            "document.querySelector('.sheet').style.width = '500px'",
            "px wide",
        ),
        ("save.style.marginLeft = '-40px'", "lies outside"),
        (
            "const p = document.querySelector('.lede'); p.style.height = '10px'; p.style.overflow = 'hidden'",
            "is cut off",
        ),
    ] {
        page.go("/settings").await;
        page.script(&format!(
            "const save = document.getElementById('save-units'); {fault}"
        ))
        .await;
        let found = page.boxes(390).await;
        assert!(
            found.iter().any(|words| words.contains(says)),
            "{fault}: {found:?}"
        );
    }
}

#[tokio::test]
async fn every_page_fits_at_every_width_and_says_which_it_is() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    finds_what_is_planted(&page).await;
    awkward(&page).await;
    let mut wrong = Vec::new();
    let mut titles: BTreeMap<String, &str> = BTreeMap::new();
    let mut rooms = BTreeSet::new();
    for (path, ready) in PAGES {
        if *path == "/login" {
            app.guard("three plain words");
        }
        page.go(path).await;
        if !ready.is_empty() {
            page.until(format!("{path} is ready"), ready).await;
        }
        page.script(UNFOLD).await;
        let title = page
            .script("return document.title")
            .await
            .as_str()
            .unwrap_or_default()
            .to_owned();
        rooms.insert(
            page.script("return document.querySelector('main').className.replace('-page', '')")
                .await
                .as_str()
                .unwrap_or_default()
                .to_owned(),
        );
        if let Some(other) = titles
            .insert(title.clone(), path)
            .filter(|other| other.split('?').next() != path.split('?').next())
        {
            wrong.push(format!("{path} and {other} are both called “{title}”"));
        }
        let lost = page
            .script("return [...document.querySelectorAll(\"main a[href^='#'], main .way a\")].map(a => a.getAttribute('href')).filter(place => !document.getElementById(place.slice(1)))")
            .await;
        if lost != serde_json::json!([]) {
            wrong.push(format!("{path}: links to what is not there: {lost}"));
        }
        for (wide, high) in WIDTHS {
            page.resize(wide, high).await;
            wrong.extend(
                page.boxes(wide)
                    .await
                    .into_iter()
                    .map(|words| format!("{path} at {wide}: {words}")),
            );
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    // No page is forgotten: each has a style of its own.
    let styles = std::fs::read_dir(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../reed-web/assets/css/pages"
    ))
    .expect("the styles");
    let styles: BTreeSet<String> = styles
        .map(|file| {
            file.expect("a file")
                .path()
                .file_stem()
                .expect("a name")
                .to_string_lossy()
                .into_owned()
        })
        .collect();
    assert_eq!(rooms, styles);
    page.close().await;
}
