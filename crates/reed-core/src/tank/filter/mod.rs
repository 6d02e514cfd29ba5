//! Filters: how they are built, what is in them in the order the water meets it, how they are
//! plumbed.

mod chemical;
mod kind;
mod medium;
mod order;
mod path;
mod sump;
mod tray;

pub use chemical::{PerSpecies, Species, Takes};
pub use kind::{FilterDesign, FilterKind};
pub use medium::{Medium, Stage};
pub(super) use order::PACKED_OVER;
pub use order::{Misplaced, NoSuchPlace, Wrong};
pub use path::{At, Stop};
pub use sump::{Sump, SumpChamber, SumpRole};
pub use tray::{Portion, Tray, TrayPlace};

use super::Serial;
use crate::figure::Figure;
use crate::units::{FlowRate, Hours, Length, SmallLength};

/// What is left of the rated flow with media and hose: 50 to 70 %.
pub const REAL_SHARE_OF_RATED: Figure = Figure::common_practice(0.6);

described! {
    /// A point of a pump's curve.
    #[derive(Copy)]
    CurvePoint {
        /// What it moves.
        flow: FlowRate = "flow_l_per_h", "Flow", 0.0..=100000.0;
        /// How high it lifts that.
        head: Length = "head_cm", "Head", 0.0..=2000.0;
    }
}

impl Default for CurvePoint {
    fn default() -> Self {
        Self {
            flow: FlowRate::litres_per_hour(0.0),
            head: Length::cm(100.0),
        }
    }
}

described! {
    /// A filter.
    Filter {
        /// Given by the program.
        number: Serial = "number", "Number";
        /// What you call it.
        name: String = "name", "Name", 1..=40;
        /// Sets the way the water takes.
        kind: FilterKind = "kind", "Built as";
        /// As its label says, without media; of a sponge on air, the water it lifts.
        rated: FlowRate = "rated_l_per_h", "Rated flow", 10.0..=100000.0;
        /// With a bucket and a watch; the label's figure is half as much again or more.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        measured: Option<FlowRate> = "measured_l_per_h", "Measured flow", 1.0..=100000.0;
        /// The day it was measured: what clogs since is not in it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        measured_on: Option<jiff::civil::Date> = "measured_on", "Measured on";
        /// Measured the same way just after it was opened; what it has lost since is judged by this.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        clean: Option<FlowRate> = "clean_l_per_h", "Flow when clean", 1.0..=100000.0;
        /// Highest that its pump can lift, as its label says.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        head: Option<Length> = "head_cm", "Greatest head", 5.0..=2000.0;
        /// Points of its pump's curve, from no flow to the most, if you have it; they take the place of label and head.
        #[serde(default)]
        curve: Vec<CurvePoint> = "curve", "Point of the pump's curve", 0..=12;
        /// How deep its pump sits under the water surface; a canister in the cabinet is about a metre down.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        pump_depth: Option<Length> = "pump_below_surface_cm", "Pump below the surface", -100.0..=400.0;
        /// Where it stands, from the left end of the tank; with its depth it gives the lengths of its hoses.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        stands: Option<Length> = "stands_cm", "Stands, from the left", -300.0..=1300.0;
        /// Inside width of its hoses.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        hose_bore: Option<SmallLength> = "hose_bore_mm", "Hose bore", 2.0..=150.0;
        /// From the intake to the filter.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        suction_hose: Option<Length> = "suction_hose_cm", "Suction hose", 5.0..=3000.0;
        /// From the filter to the outlet.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        return_hose: Option<Length> = "return_hose_cm", "Return hose", 5.0..=3000.0;
        /// Some canisters stop and restart by themselves to shed air.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        purges_every: Option<Hours> = "purges_every_h", "Purges itself every", 0.5..=336.0;
        /// The day it was last opened.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        opened: Option<jiff::civil::Date> = "opened", "Last opened";
        /// The day its seals were last replaced.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        seals_renewed: Option<jiff::civil::Date> = "seals_renewed", "Seals renewed";
        /// In the order in which the water meets them, in-line chambers too.
        #[serde(default)]
        trays: Vec<Tray> = "trays", "Tray", 0..=30;
        /// Of a sump.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        sump: Option<Sump> = "sump", "Sump";
    }
}

impl Default for Filter {
    fn default() -> Self {
        Self {
            number: Serial::default(),
            name: String::new(),
            kind: FilterKind::default(),
            rated: FlowRate::litres_per_hour(700.0),
            measured: None,
            measured_on: None,
            clean: None,
            head: None,
            curve: Vec::new(),
            pump_depth: None,
            stands: None,
            hose_bore: None,
            suction_hose: None,
            return_hose: None,
            purges_every: None,
            opened: None,
            seals_renewed: None,
            trays: vec![Tray::default()],
            sump: None,
        }
    }
}

impl Filter {
    /// Flow to reckon with: as measured since it was opened, as measured clean, or the usual share of
    /// what the label says.
    pub fn flow(&self) -> FlowRate {
        self.measured.or(self.clean).unwrap_or_else(|| {
            FlowRate::litres_per_hour(self.rated.as_litres_per_hour() * REAL_SHARE_OF_RATED.value)
        })
    }

    /// Flow that it should give clean: as measured then, else as measured at all, else the usual share
    /// of its label.
    pub fn flow_when_clean(&self) -> FlowRate {
        self.clean.unwrap_or_else(|| self.flow())
    }

    /// What is left of the flow when clean, both by bucket; none where either was not measured.
    pub fn flow_left(&self) -> Option<f64> {
        Some(self.measured?.as_litres_per_hour() / self.clean?.as_litres_per_hour())
    }

    /// Every portion of medium, in the order in which the water meets it.
    pub fn media(&self) -> impl Iterator<Item = &Portion> {
        self.path().into_iter().flat_map(|stop| stop.media)
    }
}
