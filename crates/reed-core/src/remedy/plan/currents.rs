//! What a plan makes of the water's ways: of the places that its cards mean, the flow model looks at
//! each coarsely and solves the best; the same flow as that of the tank as it stands is compared
//! with.

use std::ops::ControlFlow;

use reed_flow::Settings;

use super::after;
use crate::diagnosis::finding::{current, filter};
use crate::flow::search::{BETTER_BY, Goals};
use crate::flow::{Facts, TankScene, key};
use crate::remedy::change::{Acts, Change, MOST_PLACES, Wanted};
use crate::tank::{Move, Moves, Tank, Weight};
use crate::units::Units;

/// What this tank's own flow says of a plan.
#[derive(Clone, Debug)]
pub enum Tried {
    /// Nothing in the plan alters where the water goes.
    Same,
    /// Every place that its cards mean is taken or outside the tank.
    NoRoom,
    /// It was solved.
    Solved(Box<Currents>),
}

/// The water's ways with a plan.
#[derive(Clone, Debug)]
pub struct Currents {
    /// Where its cards' things stand best; empty where no card moves anything.
    pub moves: Moves,
    /// The flow then.
    pub facts: Facts,
    /// How well what the plan is for is met, as things stand and with it: 0 to 1.
    pub met: [f64; 2],
    /// So many sets of places were looked at.
    pub looked_at: usize,
}

/// How a plan's flow stands to that of the tank as it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Helps {
    /// What it is for is met clearly better.
    Yes,
    /// Within what the coarse and the fine grid differ by.
    NoClearDifference,
    /// It is met worse.
    No,
}

impl Currents {
    /// Whether the plan helps the water where it has to.
    pub fn helps(&self) -> Helps {
        match self.met[1] - self.met[0] {
            gained if gained > BETTER_BY => Helps::Yes,
            gained if gained < -BETTER_BY => Helps::No,
            _ => Helps::NoClearDifference,
        }
    }
}

/// How far a trial is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Step {
    /// This place of so many is looked at, counted from one.
    Looking(usize, usize),
    /// The best is solved.
    Solving,
}

/// These changes have a say in where the water goes: something of them moves, or is added, or turned.
pub fn alters_flow(changes: &[&'static Change], tank: &Tank) -> bool {
    let moves = |change: &&Change| matches!(change.acts, Acts::Moves(_));
    changes.iter().any(moves) || {
        let made = after(changes, tank);
        key(&made, &TankScene::of(&made)) != key(tank, &TankScene::of(tank))
    }
}

/// How well a flow meets what these changes are for, 0 to 1: by where their proof is seen.
fn met(changes: &[&'static Change], facts: &Facts) -> f64 {
    let shown_by = |wanted| changes.iter().any(|change| change.proof.wanted == wanted);
    if shown_by(Wanted::Gone(&current::MUCK_BEHIND_STRUCTURE)) {
        // A half where as much rests beside the rock as on open bed.
        let lee = 1.0 / (1.0 + facts.shadow.likely);
        return f64::midpoint(lee, Goals::default().score(facts));
    }
    let goals = if shown_by(Wanted::Gone(&current::PUSHED_BY_CURRENT)) {
        Goals([0.0, 0.0, 1.0, 2.0])
    } else if shown_by(Wanted::Gone(&filter::OUTLET_BUBBLES_CONSTANT)) {
        Goals([1.0, 2.0, 1.0, 0.0])
    } else if shown_by(Wanted::OxygenAsForecast) {
        Goals([1.0, 0.0, 2.0, 0.0])
    } else {
        Goals::default()
    };
    goals.score(facts)
}

/// The first sets of places that the cards mean together and that are free, with the tank that the
/// plan makes of each. A thing that two cards move stands where the first means it.
fn places(changes: &[&'static Change], made: &Tank) -> Vec<(Moves, Tank)> {
    let mut sets = vec![Vec::<Move>::new()];
    for change in changes {
        let Acts::Moves(places) = change.acts else {
            continue;
        };
        let meant = places(made);
        sets = sets
            .iter()
            .flat_map(|so_far| {
                meant.iter().map(|places| {
                    let is_new = |one: &&Move| so_far.iter().all(|other| other.thing != one.thing);
                    let others = places.0.iter().filter(is_new);
                    so_far.iter().chain(others).cloned().collect()
                })
            })
            .collect();
    }
    let free = |moves: Vec<Move>| {
        let moves = Moves(moves);
        let tried = moves.applied_to(made).ok()?;
        let is_moved = |things: &[_]| moves.0.iter().any(|one| things.contains(&one.thing));
        let blocked = tried
            .conflicts(&Units::BASE)
            .iter()
            .any(|found| found.weight == Weight::Impossible && is_moved(&found.things));
        (!blocked).then_some((moves, tried))
    };
    sets.into_iter()
        .filter_map(free)
        .take(MOST_PLACES)
        .collect()
}

/// Tries a plan in the water. `present` is the flow of the tank as it stands; `solve` gives the flow
/// of a tank, from what is kept or by computing it, and `None` to break off; `progress` is told how
/// far it is and may break off.
///
/// Returns `None` when it was broken off.
pub fn try_in_water(
    changes: &[&'static Change],
    tank: &Tank,
    present: &Facts,
    solve: impl FnOnce(&Tank) -> Option<Facts>,
    mut progress: impl FnMut(Step) -> ControlFlow<()>,
) -> Option<Tried> {
    if !alters_flow(changes, tank) {
        return Some(Tried::Same);
    }
    let mut places = places(changes, &after(changes, tank));
    let looked_at = places.len();
    let mut scores = Vec::with_capacity(looked_at);
    for (index, (_, tried)) in places.iter().enumerate() {
        if looked_at == 1 {
            scores.push(0.0);
            break;
        }
        progress(Step::Looking(index + 1, looked_at))
            .is_continue()
            .then_some(())?;
        let drawn = TankScene::of(tried);
        let glance = drawn
            .scene
            .glance(Settings::of(&drawn.scene), |_| ControlFlow::Continue(()))?;
        scores.push(met(changes, &Facts::of(tried, &drawn, &glance)));
    }
    // Cards name first what is least work: of about as good places it is that.
    let best = scores.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let first = scores.iter().position(|score| *score >= best - BETTER_BY);
    let Some(index) = first else {
        return Some(Tried::NoRoom);
    };
    progress(Step::Solving).is_continue().then_some(())?;
    let (moves, tried) = places.swap_remove(index);
    let facts = solve(&tried)?;
    Some(Tried::Solved(Box::new(Currents {
        moves,
        met: [present, &facts].map(|facts| met(changes, facts)),
        facts,
        looked_at,
    })))
}
