//! A filter of a tank as its pump and its hoses: what would flow through it while it is clean.

use super::hose::fitting;
use super::{Hose, Operating, Pump, System, Water, operating_point};
use crate::tank::Filter;

/// Sharp bends of a usual run: at the rim, at the bottom of the cabinet and at the filter. A judgement.
const BENDS: f64 = 3.0;

/// The flow through a clean canister between two ends under water, from its label and its hoses; none
/// where the greatest head, the bore or both lengths are not known, or it is no canister. A clean bed
/// of coarse media takes millimetres and is left out: what flows less is deposit, a bend, air or the
/// pump.
pub fn clean_flow(filter: &Filter, water: &Water) -> Option<Operating> {
    if !filter.kind.design().is_canister {
        return None;
    }
    let length = match (filter.suction_hose, filter.return_hose) {
        (Some(suction), Some(back)) => (suction.as_cm() + back.as_cm()) / 100.0,
        _ => return None,
    };
    let pump = Pump::Label {
        most_head: filter.head?.as_cm() / 100.0,
        most_flow: filter.rated.as_litres_per_hour(),
    };
    // In at the strainer and out of the outlet, and once more through the housing.
    let fittings =
        2.0 * (fitting::ENTRANCE + fitting::EXIT) + BENDS * fitting::ELBOW + 2.0 * fitting::VALVE;
    let system = System {
        hoses: vec![Hose {
            bore: filter.hose_bore?.as_mm() / 1000.0,
            length,
            fittings,
            roughness: 0.0,
        }],
        ..System::default()
    };
    operating_point(&pump, &system, water)
}
