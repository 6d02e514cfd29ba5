//! The scripts' own arithmetic, each file of `tests/scripts` run in the browser against the modules
//! that the program serves.

use std::fs;
use std::path::Path;

use crate::app::App;
use crate::browser::{Page, Screen};

/// Loads modules by their path, collects what is not as it should be.
const HARNESS: &str = r"
const [base, text] = arguments;
const done = arguments[arguments.length - 1];
const wrong = [];
let checks = 0;
const load = (path) => import(base + path);
const is = (got, wanted, what) => {
  checks += 1;
  if (!Object.is(got, wanted)) wrong.push(what + ': ' + got + ' is not ' + wanted);
};
const Run = Object.getPrototypeOf(async () => {}).constructor;
new Run('load', 'is', text)(load, is).then(
  () => done({ wrong, checks }),
  (error) => done({ wrong: [String(error)], checks }),
);
";

#[tokio::test]
async fn scripts_reckon_rightly() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/handbook").await;
    let base = page
        .script("return document.querySelector('script[type=module]').src.replace(/app\\.js$/, '')")
        .await;
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/scripts");
    let mut files = 0;
    for entry in fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        let text = fs::read_to_string(&path).expect("a script");
        let outcome = page
            .script_async(HARNESS, vec![base.clone(), text.into()])
            .await;
        assert_eq!(
            outcome["wrong"],
            serde_json::json!([]),
            "{}",
            path.display()
        );
        assert!(
            outcome["checks"].as_u64() >= Some(5),
            "{}: {outcome}",
            path.display()
        );
        files += 1;
    }
    assert!(files >= 4);
    page.close().await;
}
