//! Simulated keepers play their cases to the end in a browser: a truth answers the page's own
//! questions.

use reed_core::diagnosis::check;
use reed_core::diagnosis::finding::{self, Kind};
use reed_core::diagnosis::{self, Hindrance};
use reed_core::document::Document;
use reed_fixtures::keepers::{self, Keeper};
use serde_json::Value;

use crate::app::App;
use crate::browser::{Page, Screen};
use crate::journeys::tab_to;

/// So many taps until the right change is offered, what was noticed not counted.
const MOST_TAPS: usize = 12;

/// How a keeper presses things.
#[derive(Clone, Copy, PartialEq)]
enum Hand {
    Pointer(Screen),
    Keyboard,
}

/// A keeper at a page.
struct Case<'a> {
    keeper: &'a Keeper,
    page: Page,
    hand: Hand,
    taps: usize,
}

impl Case<'_> {
    /// Presses a button or a link.
    async fn press(&mut self, css: &str) {
        self.taps += 1;
        match self.hand {
            Hand::Pointer(_) => self.page.click(css).await,
            Hand::Keyboard => {
                tab_to(&self.page, css).await;
                self.page.keys("\u{e007}").await;
            }
        }
    }

    /// Picks one answer of a question of a round.
    async fn pick(&mut self, finding: &str, value: &str) {
        let radio = format!("#next input[name='{finding}'][value='{value}']");
        match self.hand {
            Hand::Pointer(_) => {
                self.taps += 1;
                self.page
                    .click(&format!(
                        "#next label:has(input[name='{finding}'][value='{value}'])"
                    ))
                    .await;
            }
            Hand::Keyboard => {
                self.taps += 1;
                let group =
                    format!("[...document.querySelectorAll(\"#next input[name='{finding}']\")]");
                let place = self
                    .page
                    .script(&format!(
                        "return {group}.findIndex(e => e.value === '{value}')"
                    ))
                    .await;
                tab_to(&self.page, &format!("#next input[name='{finding}']")).await;
                self.page.keys(" ").await;
                self.page
                    .keys(&"\u{e014}".repeat(
                        usize::try_from(place.as_i64().expect("a place")).expect("it is there"),
                    ))
                    .await;
            }
        }
        self.page
            .until(
                "it is picked",
                format!("document.querySelector(\"{radio}\").checked"),
            )
            .await;
    }

    async fn ids(&self, css: &str, of: &str) -> Vec<String> {
        let ids = self
            .page
            .script(&format!(
                "return [...document.querySelectorAll({css:?})].map(e => e.{of})"
            ))
            .await;
        ids.as_array()
            .expect("a list")
            .iter()
            .filter_map(Value::as_str)
            .map(str::to_owned)
            .collect()
    }

    /// What the keeper says to a question; `None` where it is not so.
    fn says(&self, finding: &str) -> Option<&'static str> {
        let happened = self
            .keeper
            .happened
            .iter()
            .find(|(id, _)| *id == finding)
            .map(|(_, when)| *when);
        let is_event = matches!(
            finding::by_id(finding).expect("listed").kind,
            Kind::Event { .. }
        );
        happened.or_else(|| {
            (self.keeper.so.contains(&finding)).then_some(if is_event { "today" } else { "yes" })
        })
    }

    /// Presses what ends a step and waits for the next.
    async fn goes_on(&mut self, css: &str) {
        let words = "document.getElementById('next').innerText";
        let before = self.page.script(&format!("return {words}")).await;
        self.press(css).await;
        self.page
            .until("the next step has come", format!("{words} !== {before}"))
            .await;
    }

    /// One step of looking; the change that is offered once acting is due.
    async fn step(&mut self) -> Option<String> {
        if let Some(offered) = self.ids("#next [id^='act-']", "id").await.pop() {
            return Some(offered["act-".len()..].to_owned());
        }
        let asked = self.ids("#next .look-round [name=asked]", "value").await;
        if !asked.is_empty() {
            for finding in asked {
                match self.says(&finding) {
                    Some("half-year") => {
                        self.pick(&finding, "longer").await;
                        self.page
                            .choose(&format!("#when-{finding}"), "half-year")
                            .await;
                        self.taps += 1;
                    }
                    Some(value) => self.pick(&finding, value).await,
                    None => {}
                }
            }
            self.goes_on("#round-rest-no").await;
            return None;
        }
        if let Some(finding) = self
            .ids("#next form.answer [name=finding]", "value")
            .await
            .pop()
        {
            match self.says(&finding) {
                Some("half-year") => {
                    self.press(&format!("#next-{finding}-longer")).await;
                    self.goes_on(&format!("#next-{finding}-half-year")).await;
                }
                value => {
                    self.goes_on(&format!("#next-{finding}-{}", value.unwrap_or("no")))
                        .await;
                }
            }
            return None;
        }
        let id = self
            .ids("#next .hindrances [name=check]", "value")
            .await
            .pop()
            .expect("something is asked");
        let check = check::by_id(&id).expect("listed");
        let shown = check
            .reads()
            .and_then(|analyte| self.keeper.reads.iter().find(|(id, _)| *id == analyte.id));
        match shown {
            Some((_, value)) => {
                self.page.write("#reading-value", value).await;
                self.taps += 1;
                self.goes_on("#reading-save").await;
            }
            None => {
                self.goes_on(&format!("#decline-{}", Hindrance::of(check)[0].id()))
                    .await;
            }
        }
        None
    }

    /// The change is made and nothing has become better: whatever is asked for the proof shows what
    /// it showed before.
    async fn is_never_proved_by_nothing(&mut self, change: &str) {
        self.press(&format!("#act-{change}")).await;
        self.page.until_says("#doing", "Steps").await;
        self.press("#change-done").await;
        self.page
            .until(
                "the proof is asked for",
                "document.querySelector('#proof form') !== null",
            )
            .await;
        let looks = self
            .page
            .script("return document.getElementById('look-yes') !== null")
            .await;
        if looks == Value::Bool(true) {
            self.press("#look-yes").await;
        } else {
            let kit = self
                .page
                .script("return document.querySelector('#proof-kit').value")
                .await;
            let analyte = reed_core::tank::kit::by_id(kit.as_str().expect("a kit"))
                .expect("listed")
                .analyte;
            let value = self
                .keeper
                .reads
                .iter()
                .find(|(id, _)| *id == analyte.id)
                .map_or("5", |(_, value)| value);
            self.page.write("#proof-value", value).await;
            self.press("#proof-save").await;
        }
        self.page
            .until(
                "it is judged",
                "document.querySelector('.verdict') !== null",
            )
            .await;
        let judged = self.page.text("main").await;
        // To watch is proved by oxygen that stays good: there is nothing else that could become
        // better.
        let watched = change == "observe" || change == "none-needed";
        assert!(
            watched || !(judged.contains("it worked") || judged.contains("So far it worked")),
            "{}: {judged}",
            self.keeper.name
        );
    }
}

async fn plays(keeper: &Keeper, hand: Hand) {
    let app = App::start_empty();
    let screen = if let Hand::Pointer(screen) = hand {
        screen
    } else {
        Screen::Desk
    };
    let page = Page::open(&app.address, screen).await;
    let now = crate::app::now();
    let tank = keeper.tank(now.date());
    let file = Document {
        as_of: None,
        ..Document::of(&diagnosis::Case::new(tank, now))
    }
    .write();
    page.go("/import").await;
    page.script(&format!(
        "document.getElementById('text').value = {}",
        Value::String(file)
    ))
    .await;
    page.click("#look-at-file").await;
    page.click("#take-new").await;
    page.until("the tank stands", "location.pathname === '/tanks/1'")
        .await;
    page.click("#next form .button.act").await;
    page.until_says("#noticed", "Say what you see").await;
    page.click(&format!(
        ".pin-{}",
        finding::by_id(keeper.noticed).expect("listed").place.id()
    ))
    .await;
    page.click(&format!("#noticed-{}-yes", keeper.noticed))
        .await;
    page.until(
        "the next step has come",
        "document.getElementById('next') !== null",
    )
    .await;
    let mut case = Case {
        keeper,
        page,
        hand,
        taps: 0,
    };
    let change = loop {
        assert!(
            case.taps <= MOST_TAPS,
            "{}: not in {MOST_TAPS} taps",
            keeper.name
        );
        if let Some(change) = case.step().await {
            break change;
        }
    };
    case.page.is_sound(screen).await;
    let first = case
        .page
        .script("return document.querySelector('.suspect').dataset.fault")
        .await;
    assert_eq!(first.as_str(), Some(keeper.fault), "{}", keeper.name);
    assert!(
        keeper.right.contains(&change.as_str()) && case.taps <= MOST_TAPS,
        "{}: {change} after {} taps",
        keeper.name,
        case.taps
    );
    case.is_never_proved_by_nothing(&change).await;
    case.page.close().await;
}

fn keeper(name: &str) -> &'static Keeper {
    keepers::ALL
        .iter()
        .find(|keeper| keeper.name == name)
        .expect("a keeper")
}

#[tokio::test]
async fn an_outlet_that_slipped_is_found_with_the_keyboard_alone() {
    plays(keeper("an outlet that slipped"), Hand::Keyboard).await;
}

#[tokio::test]
async fn keepers_at_a_phone_come_to_cause_and_change_in_a_dozen_taps() {
    for name in [
        "an intake where no dirt comes by",
        "a choked pad",
        "a tank of nine days",
    ] {
        plays(keeper(name), Hand::Pointer(Screen::Phone)).await;
    }
}

#[tokio::test]
async fn keepers_at_a_desk_come_to_cause_and_change_in_a_dozen_taps() {
    for name in ["fish that were startled", "too little room for bacteria"] {
        plays(keeper(name), Hand::Pointer(Screen::Desk)).await;
    }
}
