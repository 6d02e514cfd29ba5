//! What lies on the floor.

use crate::units::{Length, Percent, SmallLength};

choice_set! {
    /// Kind of substrate.
    Substrate:
    #[default]
    None = "none", "bare glass";
    FineSand = "fine-sand", "fine sand";
    Sand = "sand", "sand";
    Gravel = "gravel", "gravel";
    Soil = "soil", "soil for plants";
    Aragonite = "aragonite", "coral sand";
}

described! {
    /// The bed.
    Bed {
        /// What it is made of.
        #[serde(default)]
        substrate: Substrate = "substrate", "Substrate";
        /// Of a typical grain.
        #[serde(default = "grain")]
        grain: SmallLength = "grain_mm", "Grain size", 0.05..=50.0;
        /// On average; measure at the front pane.
        #[serde(default)]
        depth: Length = "depth_cm", "Depth of the bed", 0.0..=60.0;
        /// Share of it that is water; sand and gravel have 35 to 45 % (from memory).
        #[serde(default = "porosity")]
        porosity: Percent = "porosity_percent", "Pores", 5.0..=90.0;
    }
}

fn grain() -> SmallLength {
    SmallLength::mm(2.0)
}

fn porosity() -> Percent {
    Percent::of(40.0)
}

impl Default for Bed {
    fn default() -> Self {
        Self {
            substrate: Substrate::None,
            grain: grain(),
            depth: Length::cm(0.0),
            porosity: porosity(),
        }
    }
}
