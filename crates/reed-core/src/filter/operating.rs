//! The flow at which what a pump gives is what the way takes.

use super::{Bed, Hose, Pump, Water};

/// The way that the water of a filter takes.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct System {
    /// Hoses, one after the other.
    pub hoses: Vec<Hose>,
    /// Trays, in-line chambers, pads: one after the other.
    pub beds: Vec<Bed>,
    /// Height to which the water is lifted above where it is taken, m; 0 for a closed loop whose ends
    /// both lie under water, however far down the filter stands.
    pub lift: f64,
}

impl System {
    /// Head that the way takes at a flow in L/h, m.
    pub fn loss(&self, l_per_h: f64, water: &Water) -> f64 {
        let hoses = self.hoses.iter().map(|hose| hose.loss(l_per_h, water));
        let beds = self.beds.iter().map(|bed| bed.loss(l_per_h, water));
        self.lift + hoses.chain(beds).sum::<f64>()
    }
}

/// Where a pump and its way meet.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Operating {
    /// L/h.
    pub flow: f64,
    /// What the pump holds there, m.
    pub head: f64,
}

/// The flow through a way; none where the pump cannot lift the water so high. What a pump gives falls
/// and what a way takes rises with the flow, so they meet once; where the friction of a hose jumps as
/// the stream begins to whirl, they meet at the jump.
pub fn operating_point(pump: &Pump, system: &System, water: &Water) -> Option<Operating> {
    let spare = |flow: f64| pump.head(flow) - system.loss(flow, water);
    let flow = where_spent(spare, pump.most_flow())?;
    Some(Operating {
        flow,
        head: pump.head(flow),
    })
}

/// The flow up to a most at which what is spare of a drive is spent; none where even at rest nothing
/// is. It has to fall as the flow rises.
pub(super) fn where_spent(spare: impl Fn(f64) -> f64, most: f64) -> Option<f64> {
    /// Halvings, numeric: to a 10⁻¹² of the most.
    const HALVINGS: usize = 40;
    if spare(0.0) <= 0.0 {
        return None;
    }
    let (mut less, mut more) = (0.0, most);
    for _ in 0..HALVINGS {
        let middle = f64::midpoint(less, more);
        if spare(middle) > 0.0 {
            less = middle;
        } else {
            more = middle;
        }
    }
    Some(less)
}
