//! What to cut hoses to: by where the filter stands and where its fittings sit.

use super::Plumbing;
use super::plumbed::BORES_MM;
use crate::tank::thing::Pipe;
use crate::tank::{Filter, Tank};

/// Added to each run for the coupling and a bend, cm. A judgement.
const SPARE_CM: f64 = 10.0;
/// Slack over the straight way, as a factor: cut long, trim later. A judgement.
const SLACK: f64 = 1.1;
/// A little flow that a wider hose may leave on the table. A judgement.
const WORTH_IT: f64 = 1.05;

/// A run of hose.
#[derive(Clone, Debug, PartialEq)]
pub struct CutRun {
    /// From the filter to which fitting.
    pub to: String,
    /// Straight up and over, cm.
    pub way_cm: f64,
    /// To cut, cm.
    pub cut_cm: f64,
}

/// What to cut.
#[derive(Clone, Debug, PartialEq)]
pub struct Cuts {
    /// To each intake and each outlet.
    pub runs: Vec<CutRun>,
    /// All of it, cm.
    pub all_cm: f64,
    /// Where the filter stands was told, not taken as the middle.
    pub stands_is_told: bool,
}

impl Cuts {
    /// How much longer the longest run is than the shortest, as a share of the shortest.
    pub fn uneven(&self) -> f64 {
        let cuts = || self.runs.iter().map(|run| run.cut_cm);
        let (least, most) = (
            cuts().fold(f64::INFINITY, f64::min),
            cuts().fold(0.0, f64::max),
        );
        if least > 0.0 && least.is_finite() {
            most / least - 1.0
        } else {
            0.0
        }
    }

    /// How much the longest run would be short by if all the hose were cut into equal pieces, cm.
    pub fn short_if_equal_cm(&self) -> f64 {
        let longest = self.runs.iter().map(|run| run.cut_cm).fold(0.0, f64::max);
        longest - self.all_cm / self.runs.len().max(1) as f64
    }

    /// What is left of a piece of this length, cm; none where it does not do.
    pub fn offcut_cm(&self, stock_cm: f64) -> Option<f64> {
        (stock_cm >= self.all_cm).then_some(stock_cm - self.all_cm)
    }
}

/// Of a filter with hoses; none where its pipes are not drawn.
pub fn cuts(tank: &Tank, filter: &Filter, plumbing: &Plumbing) -> Option<Cuts> {
    plumbing.back?;
    let middle = tank.glass.length.as_cm() / 2.0;
    let stands = filter.stands.map_or(middle, |stands| stands.as_cm());
    let down = 100.0 * (plumbing.rim_height + plumbing.pump_depth);
    let fittings = tank.things.iter().filter(|thing| {
        let form = thing.what.form();
        let is_end = match form.pipe() {
            Pipe::Outlet => true,
            Pipe::Intake => plumbing.suction.is_some(),
            Pipe::None | Pipe::Overflow => false,
        };
        is_end && thing.is_of(filter.number)
    });
    let runs: Vec<CutRun> = fittings
        .map(|thing| {
            let way_cm = down + (thing.x.as_cm() - stands).abs();
            CutRun {
                to: thing.name.clone(),
                way_cm,
                cut_cm: (way_cm * SLACK + SPARE_CM).ceil(),
            }
        })
        .collect();
    (!runs.is_empty()).then(|| Cuts {
        all_cm: runs.iter().map(|run| run.cut_cm).sum(),
        runs,
        stands_is_told: filter.stands.is_some(),
    })
}

/// What a clean filter would move with hoses of each bore that is sold, L/h, by bore in mm.
pub fn by_bore(plumbing: &Plumbing) -> Vec<(f64, f64)> {
    let with = |bore_mm: f64| {
        let mut other = plumbing.clone();
        for hose in [&mut other.suction, &mut other.back].into_iter().flatten() {
            hose.bore = bore_mm / 1000.0;
        }
        other.clean().map(|met| (bore_mm, met.flow))
    };
    BORES_MM.into_iter().filter_map(with).collect()
}

/// The narrowest bore of those that a wider one hardly betters.
pub fn enough(by_bore: &[(f64, f64)]) -> Option<f64> {
    let most = by_bore.iter().map(|(_, flow)| *flow).fold(0.0, f64::max);
    by_bore
        .iter()
        .find(|(_, flow)| flow * WORTH_IT >= most)
        .map(|(bore, _)| *bore)
}
