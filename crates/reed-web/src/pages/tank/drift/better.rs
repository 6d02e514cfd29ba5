//! Finding better places: the search, told as it goes by server-sent events.

use askama::Template;
use axum::extract::{Query, State};
use reed_core::flow::search::{Goal, Goals, Outcome, Progress, search};
use reed_core::flow::{Facts, Verdict, compared};
use reed_core::tank::{Serial, Tank};
use reed_core::units::Units;
use reed_store::{TankId, settings, tanks};

use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::telling::{self, Heard};

/// For which thing, and how much each goal matters: 0 not, 1 some, 2 much.
#[derive(serde::Deserialize)]
pub(super) struct Wish {
    thing: u32,
    muck: u8,
    bubbles: u8,
    surface: u8,
    gentle: u8,
}

impl Wish {
    fn goals(&self) -> Result<Goals, PageError> {
        let weights = [self.muck, self.bubbles, self.surface, self.gentle];
        if weights.iter().all(|weight| *weight == 0) {
            return Err(PageError::Refused(
                "Nothing matters: give at least one goal some weight.".to_owned(),
            ));
        }
        if weights.iter().any(|weight| *weight > 2) {
            return Err(PageError::Refused(
                "A goal matters not (0), some (1) or much (2).".to_owned(),
            ));
        }
        Ok(Goals(weights.map(f64::from)))
    }
}

/// What came out, as the page shows it.
#[derive(Template)]
#[template(path = "parts/better.html")]
struct BetterPart {
    name: String,
    looked_at: usize,
    cards: Vec<Card>,
}

/// A better place.
struct Card {
    moves: String,
    words: Vec<String>,
    /// What would be otherwise: what, now, tried, so.
    differences: Vec<(String, String, String, &'static str)>,
}

impl BetterPart {
    fn of(tank: &Tank, thing: Serial, now: &Facts, outcome: Outcome, units: &Units) -> Self {
        let card = |found: reed_core::flow::search::Found| Card {
            words: found.moves.words(tank, units),
            differences: compared(now, &found.facts)
                .into_iter()
                .filter(|row| row.verdict != Verdict::Same)
                .map(|row| (row.what, row.now, row.tried, row.verdict.words()))
                .collect(),
            moves: found.moves.to_string(),
        };
        Self {
            name: tank
                .thing(thing)
                .map_or_else(String::new, |thing| thing.name.clone()),
            looked_at: outcome.looked_at,
            cards: outcome.better.into_iter().map(card).collect(),
        }
    }
}

/// What is being done, in words.
fn words(progress: Progress) -> String {
    let [looked_at, to_look_at] = progress.looked_at;
    let [solved, to_solve] = progress.solved;
    if looked_at < to_look_at {
        format!("Looking at place {} of {to_look_at}", looked_at + 1)
    } else {
        format!("Solving the best: {} of {to_solve}", solved + 1)
    }
}

/// Searches while the page listens; when it stops listening the search stops.
pub(super) async fn listen(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(wish): Query<Wish>,
) -> Result<Heard, PageError> {
    let goals = wish.goals()?;
    let flows = app
        .flows()
        .ok_or_else(|| PageError::Refused("The program runs without its flow model.".to_owned()))?;
    let (tank, units) = app
        .read(move |db| Ok((tanks::latest(db, id)?.tank, settings::units(db)?)))
        .await?;
    let thing = Serial(wish.thing);
    if tank
        .thing(thing)
        .is_none_or(|thing| thing.what.form().search().is_none())
    {
        return Err(PageError::Refused(format!(
            "Thing {thing} of this tank is none that places can be looked for."
        )));
    }
    Ok(telling::search(&app, move |telling| {
        let go_on = || telling.go_on();
        let now = flows.solve(&tank, &go_on)?;
        let outcome = search(
            &tank,
            thing,
            &goals,
            &now,
            |tried| flows.solve(tried, &go_on),
            |progress| telling.progress(progress.share, &words(progress)),
        )?;
        BetterPart::of(&tank, thing, &now, outcome, &units)
            .render()
            .ok()
    }))
}

/// How much a goal can matter.
pub(super) const WEIGHTS: [(u8, &str); 3] =
    [(0, "does not matter"), (1, "matters"), (2, "matters most")];

/// What the form asks, with how much each goal matters at first.
pub(super) fn goals() -> Vec<(&'static str, &'static str, u8)> {
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "0 to 2"
    )]
    let weights = Goals::default().0.map(|weight| weight as u8);
    Goal::ALL
        .iter()
        .zip(weights)
        .map(|(goal, weight)| (goal.id(), goal.words(), weight))
        .collect()
}
