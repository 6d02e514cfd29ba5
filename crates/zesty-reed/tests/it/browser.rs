//! A headless browser as a keeper's hands and eyes.

use std::path::PathBuf;
use std::sync::{Mutex, OnceLock};
use std::time::{Duration, Instant};

use fantoccini::actions::{
    InputSource, KeyAction, KeyActions, MOUSE_BUTTON_LEFT, MouseActions, PointerAction,
    TouchActions,
};
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder, Locator};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::{Value, json};

use crate::watch::Watched;

/// How long anything on a page may take to appear.
const PATIENCE: Duration = Duration::from_secs(15);

/// The size of the screen.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Screen {
    /// 1280 × 800, mouse and keyboard.
    Desk,
    /// 390 × 844, touch.
    Phone,
}

struct Driver {
    address: String,
    scratch: PathBuf,
    _process: Watched,
}

/// One driver for all tests of this binary; never dropped, its watchdog ends it with the test
/// process.
fn driver() -> &'static Driver {
    static DRIVER: OnceLock<Driver> = OnceLock::new();
    DRIVER.get_or_init(|| {
        let scratch = tempfile::TempDir::new().expect("a folder").keep();
        let program = std::env::var("CHROMEDRIVER").unwrap_or_else(|_| "chromedriver".to_owned());
        let (process, port) = Watched::start(
            &PathBuf::from(program),
            &["--port=0".to_owned()],
            "UTC",
            &scratch,
            |line| {
                let port = line.strip_prefix("ChromeDriver was started successfully on port ")?;
                Some(port.trim_end_matches('.').to_owned())
            },
        );
        Driver {
            address: format!("http://127.0.0.1:{port}"),
            scratch,
            _process: process,
        }
    })
}

/// A command of the browser that WebDriver does not know.
#[derive(Debug)]
struct Custom {
    path: &'static str,
    body: Value,
}

impl WebDriverCompatibleCommand for Custom {
    fn endpoint(
        &self,
        base: &url::Url,
        session: Option<&str>,
    ) -> Result<url::Url, url::ParseError> {
        base.join(&format!(
            "session/{}/{}",
            session.unwrap_or_default(),
            self.path
        ))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(self.body.to_string()))
    }
}

/// An open page.
pub(crate) struct Page {
    client: Client,
    address: String,
    screen: Screen,
    /// When it was clicked last.
    clicked: Mutex<Instant>,
}

/// Two clicks that come faster are a double click, to the pages as to people.
const BETWEEN_CLICKS: Duration = Duration::from_millis(360);

impl Page {
    /// Opens a browser on an application.
    pub(crate) async fn open(address: &str, screen: Screen) -> Self {
        let driver = driver();
        let profile = tempfile::TempDir::new_in(&driver.scratch)
            .expect("a folder")
            .keep();
        let binary = std::env::var("CHROMIUM").unwrap_or_else(|_| "/usr/bin/chromium".to_owned());
        let mut options = json!({ "binary": binary, "args": [
            // Root, as in containers, cannot have the sandbox; the pages are our own.
            "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--no-default-browser-check",
            "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-extensions", "--hide-scrollbars",
            "--force-color-profile=srgb", "--lang=en-US", format!("--user-data-dir={}", profile.display()),
        ] });
        if screen == Screen::Phone {
            let metrics = json!({ "width": 390, "height": 844, "pixelRatio": 2, "touch": true, "mobile": true });
            options["mobileEmulation"] = json!({ "deviceMetrics": metrics });
        }
        let capabilities = json!({ "browserName": "chrome", "goog:loggingPrefs": { "browser": "ALL" }, "goog:chromeOptions": options });
        let client = ClientBuilder::new(HttpConnector::new())
            .capabilities(capabilities.as_object().expect("an object").clone())
            .connect(&driver.address)
            .await
            .expect("a browser; run ./test, which installs one");
        let page = Self {
            client,
            address: address.to_owned(),
            screen,
            clicked: Mutex::new(Instant::now()),
        };
        if screen == Screen::Desk {
            page.resize(1280, 800).await;
        }
        // Colours that are still on their way from one theme to the other have no contrast to
        // judge.
        page.as_printed(false).await;
        page
    }

    async fn devtools(&self, command: &str, parameters: Value) -> Value {
        let custom = Custom {
            path: "goog/cdp/execute",
            body: json!({ "cmd": command, "params": parameters }),
        };
        self.client
            .issue_cmd(custom)
            .await
            .unwrap_or_else(|error| panic!("{command}: {error}"))
    }

    /// Cuts the connection, or mends it.
    pub(crate) async fn offline(&self, is: bool) {
        let body =
            json!({ "network_conditions": { "offline": is, "latency": 0, "throughput": -1 } });
        self.client
            .issue_cmd(Custom {
                path: "chromium/network_conditions",
                body,
            })
            .await
            .expect("the connection can be cut");
    }

    /// The browser's clock is that of this time zone.
    pub(crate) async fn sits_in(&self, zone: &str) {
        self.devtools(
            "Emulation.setTimezoneOverride",
            json!({ "timezoneId": zone }),
        )
        .await;
    }

    /// Makes the window so large.
    pub(crate) async fn resize(&self, width: u32, height: u32) {
        self.devtools(
            "Emulation.setDeviceMetricsOverride",
            json!({ "width": width, "height": height, "deviceScaleFactor": 1, "mobile": false }),
        )
        .await;
    }

    /// Shows the page as it is printed, or on the screen again.
    pub(crate) async fn as_printed(&self, printed: bool) {
        let media = if printed { "print" } else { "" };
        self.devtools(
            "Emulation.setEmulatedMedia",
            json!({ "media": media, "features": [{ "name": "prefers-reduced-motion", "value": "reduce" }] }),
        )
        .await;
    }

    /// The same pages at another address, after a restart.
    pub(crate) fn moved_to(&mut self, address: &str) {
        address.clone_into(&mut self.address);
    }

    /// Goes to a path.
    pub(crate) async fn go(&self, path: &str) {
        self.client
            .goto(&format!("{}{path}", self.address))
            .await
            .unwrap_or_else(|error| panic!("{path}: {error}"));
    }

    /// Runs a script that returns a value.
    pub(crate) async fn script(&self, script: &str) -> Value {
        self.client
            .execute(script, Vec::new())
            .await
            .unwrap_or_else(|error| panic!("{script}: {error}"))
    }

    /// Runs a script that says by itself when it is done.
    pub(crate) async fn script_async(&self, script: &str, arguments: Vec<Value>) -> Value {
        self.client
            .execute_async(script, arguments)
            .await
            .unwrap_or_else(|error| panic!("{error}"))
    }

    /// Waits until a script returns true.
    #[track_caller]
    pub(crate) fn until(
        &self,
        what: impl Into<String>,
        script: impl std::fmt::Display,
    ) -> impl Future<Output = ()> {
        let place = std::panic::Location::caller();
        let (what, script): (String, _) = (what.into(), format!("return Boolean({script})"));
        async move {
            let started = Instant::now();
            while self.script(&script).await != Value::Bool(true) {
                if started.elapsed() > PATIENCE {
                    let text = self
                        .script("return document.querySelector('main').innerText.slice(0, 1500)")
                        .await;
                    panic!(
                        "{place}: never came: {what}. The page says: {text}. The console: {:?}",
                        self.console().await
                    );
                }
                tokio::time::sleep(Duration::from_millis(30)).await;
            }
        }
    }

    /// Waits until an element says something.
    #[track_caller]
    pub(crate) fn until_says(&self, css: &str, words: &str) -> impl Future<Output = ()> {
        self.until(
            format!("“{words}” in {css}"),
            format!("[...document.querySelectorAll({css:?})].some(e => (e.innerText ?? e.textContent).includes({words:?}))"),
        )
    }

    /// Clicks or taps an element, scrolled into view, once the page has come to rest under it.
    pub(crate) async fn click(&self, css: &str) {
        self.client
            .wait()
            .at_most(PATIENCE)
            .for_element(Locator::Css(css))
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
        let rests = format!(
            "return new Promise(done => {{
                let before = null, left = 120;
                const look = () => {{
                    const e = document.querySelector({css:?});
                    e?.scrollIntoView({{ block: 'center', behavior: 'instant' }});
                    const b = e?.getBoundingClientRect(), now = b && [b.x, b.y, b.width].join();
                    if ((now && now === before && document.readyState === 'complete') || left-- === 0) return done();
                    before = now;
                    requestAnimationFrame(look);
                }};
                look();
            }})"
        );
        self.script(&rests).await;
        let element = self.client.find(Locator::Css(css)).await;
        let element = element.unwrap_or_else(|error| panic!("{css}: {error}"));
        let since = self.clicked.lock().expect("nobody panicked").elapsed();
        tokio::time::sleep(BETWEEN_CLICKS.saturating_sub(since)).await;
        element
            .click()
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
        *self.clicked.lock().expect("nobody panicked") = Instant::now();
    }

    /// Takes hold of the middle of an element with the mouse or a finger and carries it so many
    /// pixels; it is still held.
    pub(crate) async fn carry(&self, css: &str, by: (f64, f64)) {
        let middle = format!(
            "const e = document.querySelector({css:?}); e.scrollIntoView({{ block: 'center', behavior: 'instant' }});
             const b = e.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"
        );
        let at = self.script(&middle).await;
        let (x, y) = (
            at[0].as_f64().expect("a number"),
            at[1].as_f64().expect("a number"),
        );
        let to = |share: f64| PointerAction::MoveTo {
            duration: Some(Duration::from_millis(40)),
            x: (x + by.0 * share).round(),
            y: (y + by.1 * share).round(),
        };
        self.pointer(vec![
            to(0.0),
            PointerAction::Down {
                button: MOUSE_BUTTON_LEFT,
            },
            to(0.3),
            to(0.7),
            to(1.0),
        ])
        .await;
    }

    /// Lets go of what is held.
    pub(crate) async fn let_go(&self) {
        self.client
            .release_actions()
            .await
            .expect("something is held");
    }

    /// Clicks or taps so many pixels right of and below the left upper corner of an element.
    pub(crate) async fn tap_at(&self, css: &str, (right, down): (f64, f64)) {
        let corner = format!(
            "const b = document.querySelector({css:?}).getBoundingClientRect(); return [b.x, b.y]"
        );
        let at = self.script(&corner).await;
        let (x, y) = (
            at[0].as_f64().expect("a number") + right,
            at[1].as_f64().expect("a number") + down,
        );
        let to = PointerAction::MoveTo {
            duration: None,
            x: x.round(),
            y: y.round(),
        };
        self.pointer(vec![
            to,
            PointerAction::Down {
                button: MOUSE_BUTTON_LEFT,
            },
            PointerAction::Up {
                button: MOUSE_BUTTON_LEFT,
            },
        ])
        .await;
    }

    /// Clicks twice, as fast as people do.
    pub(crate) async fn double_click(&self, css: &str) {
        let middle = format!(
            "const e = document.querySelector({css:?}); e.scrollIntoView({{ block: 'center', behavior: 'instant' }});
             const b = e.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"
        );
        let at = self.script(&middle).await;
        let [x, y] = [0, 1].map(|side| at[side].as_f64().expect("a number").round());
        let (down, up) = (
            PointerAction::Down {
                button: MOUSE_BUTTON_LEFT,
            },
            PointerAction::Up {
                button: MOUSE_BUTTON_LEFT,
            },
        );
        let pause = PointerAction::Pause {
            duration: Duration::from_millis(120),
        };
        self.pointer(vec![
            PointerAction::MoveTo {
                duration: None,
                x,
                y,
            },
            down.clone(),
            up.clone(),
            pause,
            down,
            up,
        ])
        .await;
    }

    async fn pointer(&self, actions: Vec<PointerAction>) {
        let done = match self.screen {
            Screen::Desk => {
                self.client
                    .perform_actions(
                        actions
                            .into_iter()
                            .fold(MouseActions::new("mouse".to_owned()), InputSource::then),
                    )
                    .await
            }
            Screen::Phone => {
                self.client
                    .perform_actions(
                        actions
                            .into_iter()
                            .fold(TouchActions::new("finger".to_owned()), InputSource::then),
                    )
                    .await
            }
        };
        done.unwrap_or_else(|error| panic!("pointer: {error}"));
    }

    /// Chooses a file in a file field.
    pub(crate) async fn choose_file(&self, css: &str, path: &std::path::Path) {
        let field = self
            .client
            .find(Locator::Css(css))
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
        field
            .send_keys(&path.display().to_string())
            .await
            .expect("a file field");
    }

    /// Chooses an entry of a list by its value.
    pub(crate) async fn choose(&self, css: &str, value: &str) {
        let element = self
            .client
            .find(Locator::Css(css))
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
        element
            .select_by_value(value)
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
    }

    /// Replaces the text of a field, key by key.
    pub(crate) async fn write(&self, css: &str, text: &str) {
        let element = self
            .client
            .find(Locator::Css(css))
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
        self.script(&format!(
            "const e = document.querySelector({css:?}); e.value = ''; e.scrollIntoView({{ block: 'center', behavior: 'instant' }})"
        ))
        .await;
        element
            .send_keys(text)
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
    }

    /// Sets a date field, whose keys depend on the locale.
    pub(crate) async fn set_date(&self, css: &str, value: &str) {
        self.script(&format!(
            "document.querySelector({css:?}).value = {value:?}"
        ))
        .await;
    }

    /// Presses keys, one after the other, as a keyboard does: whatever has the focus gets them.
    /// (Keys that are sent to an element focus it anew, so that a tab never leaves a field of
    /// several parts, such as a date.)
    pub(crate) async fn keys(&self, keys: &str) {
        // Shift and Ctrl are held until the last key.
        let (held, struck): (Vec<char>, Vec<char>) = keys
            .chars()
            .partition(|key| matches!(key, '\u{e008}' | '\u{e009}'));
        let mut actions = KeyActions::new("keyboard".to_owned());
        for value in &held {
            actions = actions.then(KeyAction::Down { value: *value });
        }
        for value in struck {
            actions = actions
                .then(KeyAction::Down { value })
                .then(KeyAction::Up { value });
        }
        for value in held {
            actions = actions.then(KeyAction::Up { value });
        }
        self.client.perform_actions(actions).await.expect("keys");
    }

    /// Text of an element as shown.
    pub(crate) async fn text(&self, css: &str) -> String {
        let element = self
            .client
            .find(Locator::Css(css))
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"));
        element
            .text()
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"))
    }

    /// Keeps a picture, if the environment names a folder for them.
    pub(crate) async fn picture(&self, name: &str) {
        if let Ok(folder) = std::env::var("ZESTY_REED_PICTURES") {
            // The caret blinks and pictures should not change without reason.
            self.script("document.activeElement.blur()").await;
            let png = self.client.screenshot().await.expect("a picture");
            // Tests run in their package's folder; the name is meant from the project's.
            let project = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../..");
            std::fs::write(project.join(folder).join(format!("{name}.png")), png)
                .expect("the folder exists");
        }
    }

    /// What is wrong with the boxes of the page on a screen so wide; see the script.
    pub(crate) async fn boxes(&self, wide: u32) -> Vec<String> {
        // Fonts change every width.
        self.until("the fonts are there", "document.fonts.status === 'loaded'")
            .await;
        let script = include_str!("boxes.js").replace("arguments[0]", &wide.to_string());
        let found = self.script(&script).await;
        found
            .as_array()
            .into_iter()
            .flatten()
            .map(|words| words.as_str().unwrap_or_default().to_owned())
            .collect()
    }

    /// The page is sound: nothing in the console, nothing that axe finds, nothing that lies on
    /// another thing or is cut off.
    pub(crate) async fn is_sound(&self, screen: Screen) {
        let place = self.script("return location.pathname").await;
        let wide = if screen == Screen::Phone { 390 } else { 1280 };
        assert_eq!(
            self.script("return window.innerWidth").await,
            json!(wide),
            "{place} is zoomed out to fit"
        );
        let wrong = self.boxes(wide).await;
        assert!(wrong.is_empty(), "{place}: {}", wrong.join("\n"));
        self.is_accessible().await;
        let complaints = self.console().await;
        assert!(complaints.is_empty(), "{place}: {complaints:?}");
    }

    /// Axe finds nothing, in either theme.
    pub(crate) async fn is_accessible(&self) {
        let place = self.script("return location.pathname").await;
        for theme in ["light", "dark"] {
            self.script(&format!(
                "document.documentElement.dataset.theme = {theme:?}"
            ))
            .await;
            let found = self.axe().await;
            assert_eq!(found, json!([]), "{place} in the {theme} theme");
        }
        self.script("delete document.documentElement.dataset.theme")
            .await;
    }

    /// What the browser complained of since it was last asked. A refused form is answered with 422,
    /// which the browser notes as a failed load: that is the application at work. A program that was
    /// stopped is noted in the same way.
    async fn console(&self) -> Vec<String> {
        let log = self
            .client
            .issue_cmd(Custom {
                path: "se/log",
                body: json!({ "type": "browser" }),
            })
            .await
            .expect("the console");
        let messages = log
            .as_array()
            .into_iter()
            .flatten()
            .filter_map(|entry| entry["message"].as_str());
        messages
            .filter(|message| {
                !message.contains("422") && !message.contains("ERR_CONNECTION_REFUSED")
            })
            .map(str::to_owned)
            .collect()
    }

    async fn axe(&self) -> Value {
        self.script(include_str!("../vendor/axe-4.14.1.min.js"))
            .await;
        let run = "const done = arguments[arguments.length - 1];
            axe.run(document, { resultTypes: ['violations'] }).then(result => done(result.violations.map(
                violation => violation.id + ': ' + violation.nodes.slice(0, 3).map(node => node.target.join(' ') + ' ' + node.failureSummary).join('; '))));";
        self.client
            .execute_async(run, Vec::new())
            .await
            .expect("axe runs")
    }

    /// Ends the browser.
    pub(crate) async fn close(self) {
        self.client.close().await.expect("it was open");
    }
}
