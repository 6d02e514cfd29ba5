//! Better places for a thing: many looked at coarsely, the best of them solved like the tank
//! itself.

use std::ops::ControlFlow;

use reed_flow::Settings;

use super::{Facts, TankScene};
use crate::tank::thing::{Heading, Search};
use crate::tank::{Move, Moves, Serial, Tank, Thing, Weight};
use crate::units::{Angle, Units};

/// What a place can be good for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Goal {
    /// Intakes catch the muck.
    Muck,
    /// Bubbles stay out of intakes.
    Bubbles,
    /// The surface is renewed.
    Surface,
    /// Fish find calm water that does not stand.
    Gentle,
}

impl Goal {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Muck, Self::Bubbles, Self::Surface, Self::Gentle];

    /// Stable id.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Muck => "muck",
            Self::Bubbles => "bubbles",
            Self::Surface => "surface",
            Self::Gentle => "gentle",
        }
    }

    /// In words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Muck => "muck caught",
            Self::Bubbles => "bubbles kept out of intakes",
            Self::Surface => "surface moving",
            Self::Gentle => "calm water to rest in",
        }
    }

    /// How well it is met, 0 to 1.
    fn met(self, facts: &Facts) -> f64 {
        match self {
            Self::Muck => facts.caught().min(1.0),
            Self::Bubbles => {
                1.0 - facts
                    .intakes
                    .iter()
                    .map(|intake| intake.bubbles.likely)
                    .fold(0.0, f64::max)
            }
            Self::Surface => 1.0 - (-facts.surface_cm_s.likely / BRISK_CM_S).exp(),
            Self::Gentle => facts.gentle.likely,
        }
    }
}

/// A surface this fast is two thirds of what can be wished for, cm/s. A judgement.
const BRISK_CM_S: f64 = 5.0;

/// What matters, and how much: one weight to each goal in the order of [`Goal::ALL`].
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Goals(pub [f64; 4]);

impl Default for Goals {
    fn default() -> Self {
        Self([2.0, 1.0, 1.0, 0.0])
    }
}

impl Goals {
    /// How well a flow meets them, 0 to 1.
    pub fn score(&self, facts: &Facts) -> f64 {
        let sum: f64 = Goal::ALL
            .iter()
            .zip(self.0)
            .map(|(goal, weight)| weight * goal.met(facts))
            .sum();
        sum / self.0.iter().sum::<f64>().max(f64::MIN_POSITIVE)
    }
}

/// A place that was solved.
#[derive(Clone, Debug)]
pub struct Found {
    /// How the tank gets there.
    pub moves: Moves,
    /// Its flow.
    pub facts: Facts,
    /// How well it meets the goals.
    pub score: f64,
}

/// What a search found.
#[derive(Clone, Debug)]
pub struct Outcome {
    /// How well the tank as it stands meets the goals.
    pub present: f64,
    /// Places that are clearly better, best first; none when the present one is as good as any.
    pub better: Vec<Found>,
    /// How many places were looked at.
    pub looked_at: usize,
}

/// How far a search is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Progress {
    /// Share done.
    pub share: f32,
    /// Places looked at, and to look at.
    pub looked_at: [usize; 2],
    /// Places solved, and to solve.
    pub solved: [usize; 2],
}

/// A score must be so much higher to count as better: less is within what the coarse and the fine
/// grid differ by. A judgement.
pub const BETTER_BY: f64 = 0.03;
/// Places that are solved.
const FINALISTS: usize = 3;
/// Finalists are so far apart, cm, or turned by so many degrees against each other.
const APART_CM: f64 = 12.0;
const APART_DEGREES: f64 = 30.0;
/// Share of the work that the looking takes, as a rule.
const LOOKED_AT: f32 = 0.5;

/// Looks for better places for a thing. `present` is the flow of the tank as it stands; `solve`
/// gives the flow of a tank, from what is kept or by computing it, and `None` to break off;
/// `progress` is told how far it is and may break off.
///
/// Returns `None` when it was broken off.
pub fn search(
    tank: &Tank,
    thing: Serial,
    goals: &Goals,
    present: &Facts,
    mut solve: impl FnMut(&Tank) -> Option<Facts>,
    mut progress: impl FnMut(Progress) -> ControlFlow<()>,
) -> Option<Outcome> {
    let candidates = candidates(tank, thing, present);
    let looked_at = candidates.len();
    let mut seen: Vec<(f64, Moves, Tank)> = Vec::with_capacity(looked_at);
    for (index, (moves, tried)) in candidates.into_iter().enumerate() {
        let told = Progress {
            share: LOOKED_AT * share(index, looked_at),
            looked_at: [index, looked_at],
            solved: [0, FINALISTS],
        };
        progress(told).is_continue().then_some(())?;
        let drawn = TankScene::of(&tried);
        let glance = drawn
            .scene
            .glance(Settings::of(&drawn.scene), |_| ControlFlow::Continue(()))?;
        seen.push((
            goals.score(&Facts::of(&tried, &drawn, &glance)),
            moves,
            tried,
        ));
    }
    seen.sort_by(|one, other| other.0.total_cmp(&one.0));
    let finalists = apart(seen);
    let mut better = Vec::new();
    for (index, (moves, tried)) in finalists.iter().enumerate() {
        let done = LOOKED_AT + (1.0 - LOOKED_AT) * share(index, finalists.len());
        let told = Progress {
            share: done,
            looked_at: [looked_at; 2],
            solved: [index, finalists.len()],
        };
        progress(told).is_continue().then_some(())?;
        let facts = solve(tried)?;
        better.push(Found {
            moves: moves.clone(),
            score: goals.score(&facts),
            facts,
        });
    }
    let present = goals.score(present);
    better.retain(|found| found.score > present + BETTER_BY);
    better.sort_by(|one, other| other.score.total_cmp(&one.score));
    Some(Outcome {
        present,
        better,
        looked_at,
    })
}

fn share(done: usize, of: usize) -> f32 {
    done as f32 / of.max(1) as f32
}

/// The first few that differ in place or heading.
fn apart(best_first: Vec<(f64, Moves, Tank)>) -> Vec<(Moves, Tank)> {
    let mut chosen: Vec<(Moves, Tank)> = Vec::new();
    for (_, moves, tank) in best_first {
        let like = |other: &(Moves, Tank)| {
            moves
                .0
                .iter()
                .zip(&other.0.0)
                .all(|(one, other)| alike(one, other))
        };
        if chosen.len() < FINALISTS && !chosen.iter().any(like) {
            chosen.push((moves, tank));
        }
    }
    chosen
}

fn alike(one: &Move, other: &Move) -> bool {
    let far = (0..3)
        .map(|axis| (one.at[axis] - other.at[axis]).powi(2))
        .sum::<f64>()
        .sqrt();
    let turned = one.heading.zip(other.heading).map_or(0.0, |(one, other)| {
        (one.around.as_degrees() - other.around.as_degrees()).abs()
    });
    far < APART_CM && turned.min(360.0 - turned) < APART_DEGREES
}

/// Every place to look at that the tank's limits and other things leave free.
fn candidates(tank: &Tank, thing: Serial, present: &Facts) -> Vec<(Moves, Tank)> {
    let stands = tank.thing(thing);
    let searched = stands.and_then(|stands| Some((stands, stands.what.form().search()?)));
    let Some((stands, search)) = searched else {
        return Vec::new();
    };
    let free = |one: Move| {
        let moves = Moves(vec![one]);
        let tried = moves.applied_to(tank).ok()?;
        let blocked = tried
            .conflicts(&Units::BASE)
            .iter()
            .any(|found| found.weight == Weight::Impossible && found.things.contains(&thing));
        (!blocked).then_some((moves, tried))
    };
    let (bed, level) = heights(tank);
    let near_surface = tank.near_surface_cm();
    let z = stands.z.as_cm();
    let places = match search {
        Search::WhereMuckComes => intake_places(tank, present),
        Search::OnTheBed => on_the_bed(tank, stands),
        Search::AtTheSurface => streams(tank, &[(near_surface, 0.0), (near_surface, 15.0)]),
        Search::HighAndLower => {
            let lower = level - (level - bed) / 3.0;
            streams(tank, &[(near_surface, 0.0), (lower, 0.0)])
        }
        // It stands as high as it does: its pump and its mouth are one.
        Search::AtItsHeight => streams(tank, &[(z, 0.0), (z, 15.0)]),
    };
    places
        .into_iter()
        .filter_map(|(at, heading)| free(Move { thing, at, heading }))
        .collect()
}

type Spot = ([f64; 3], Option<Heading>);

/// Low, at a third and at half height along the walls, and where the most muck comes by now.
fn intake_places(tank: &Tank, present: &Facts) -> Vec<Spot> {
    let (bed, level) = heights(tank);
    let low = tank.low_cm();
    let at_walls = walls(tank).into_iter().flat_map(|(x, y, _)| {
        [low, bed + (level - bed) / 3.0, f64::midpoint(bed, level)].map(|z| ([x, y, z], None))
    });
    at_walls
        .chain(
            present
                .best
                .iter()
                .map(|spot| ([spot.x_cm, spot.y_cm, spot.z_cm], None)),
        )
        .collect()
}

/// Spread over the bed, at the height at which it stands.
fn on_the_bed(tank: &Tank, stands: &Thing) -> Vec<Spot> {
    let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
    let along = [0.1, 0.3, 0.5, 0.7, 0.9].map(|share| share * length);
    let across = [0.2, 0.5, 0.8].map(|share| share * width);
    along
        .into_iter()
        .flat_map(|x| across.map(|y| ([x, y, stands.z.as_cm()], None)))
        .collect()
}

/// Along the walls at these heights and tilts, straight from the wall and to either side.
fn streams(tank: &Tank, heights: &[(f64, f64)]) -> Vec<Spot> {
    let heading = |around: f64, up: f64| {
        Some(Heading {
            around: Angle::degrees(around.rem_euclid(360.0)),
            up: Angle::degrees(up),
        })
    };
    let turned = walls(tank)
        .into_iter()
        .flat_map(|(x, y, inwards)| [-40.0, 0.0, 40.0].map(|aside| (x, y, inwards + aside)));
    turned
        .flat_map(|(x, y, around)| {
            let spot = |(z, up): &(f64, f64)| ([x, y, *z], heading(around, *up));
            heights.iter().map(spot).collect::<Vec<_>>()
        })
        .collect()
}

/// Spots along both ends and the back, cm, each with the heading away from its wall, degrees.
fn walls(tank: &Tank) -> Vec<(f64, f64, f64)> {
    let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
    let off = tank.off_wall_cm();
    let ends = [off, width / 2.0, width - off]
        .into_iter()
        .flat_map(|y| [(off, y, 0.0), (length - off, y, 180.0)]);
    ends.chain([0.25, 0.5, 0.75].map(|share| (share * length, width - off, 270.0)))
        .collect()
}

/// Of the bed's surface and of the water's, cm.
fn heights(tank: &Tank) -> (f64, f64) {
    (tank.bed_level_cm(), tank.water_depth.as_cm())
}

#[cfg(test)]
mod tests {
    use super::{Goal, Goals, candidates};
    use crate::document::start;
    use crate::flow::{Facts, Intake, Range, Spot};
    use crate::tank::{Serial, Weight};
    use crate::units::Units;

    /// Every thing of every set-up that can be searched for finds places, all of them free and
    /// inside the tank.
    #[test]
    fn places_to_look_at_are_free() {
        let spot = Spot {
            x_cm: 10.0,
            y_cm: 10.0,
            z_cm: 12.0,
            muck: 0.2,
            bubbles: 0.0,
        };
        let present = Facts {
            best: vec![spot],
            ..Facts::default()
        };
        let mut kinds = std::collections::BTreeSet::new();
        for start in start::ALL {
            let tank = start.tank();
            for thing in &tank.things {
                let found = candidates(&tank, thing.number, &present);
                if thing.what.form().search().is_none() {
                    assert!(found.is_empty());
                    continue;
                }
                kinds.insert(thing.what.id());
                assert!(
                    !found.is_empty(),
                    "{}: nowhere for {}",
                    start.id,
                    thing.name
                );
                for (moves, tried) in found {
                    assert_eq!(moves.0.len(), 1);
                    let blocked = |weight| weight == Weight::Impossible;
                    let conflicts = tried.conflicts(&Units::BASE);
                    assert!(
                        !conflicts
                            .iter()
                            .any(|found| blocked(found.weight)
                                && found.things.contains(&thing.number)),
                        "{moves}"
                    );
                }
            }
        }
        assert!(kinds.len() >= 5, "{kinds:?}");
    }

    #[test]
    fn goals_weigh_what_they_are_told_to() {
        let likely = |likely: f64| Range {
            low: likely,
            likely,
            high: likely,
        };
        let intake = Intake {
            thing: Serial(1),
            name: "Intake".to_owned(),
            caught: likely(0.4),
            bubbles: likely(0.3),
        };
        let facts = Facts {
            intakes: vec![intake],
            surface_cm_s: likely(5.0),
            gentle: likely(0.6),
            ..Facts::default()
        };
        for (goals, score) in [
            ([1.0, 0.0, 0.0, 0.0], 0.4),
            ([0.0, 2.0, 0.0, 0.0], 0.7),
            ([0.0, 0.0, 1.0, 0.0], 1.0 - (-1.0_f64).exp()),
            ([0.0, 0.0, 0.0, 1.0], 0.6),
            ([1.0, 1.0, 0.0, 0.0], 0.55),
        ] {
            assert!(
                (Goals(goals).score(&facts) - score).abs() < 1e-9,
                "{goals:?}"
            );
        }
        assert_eq!(Goal::ALL.len(), Goals::default().0.len());
    }
}
