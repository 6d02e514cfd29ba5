//! Sumps and their chambers.

use super::Portion;
use crate::units::{Length, Volume};

choice_set! {
    /// What a chamber is for.
    SumpRole:
    #[default]
    Media = "media", "media";
    Sock = "sock", "sock or floss";
    Settling = "settling", "settling";
    Refugium = "refugium", "plants or algae";
    Return = "return", "return pump";
}

described! {
    /// A chamber of a sump, in water-path order.
    SumpChamber {
        /// What it is for.
        #[serde(default)]
        role: SumpRole = "role", "For";
        /// Along the sump, inside.
        length: Length = "length_cm", "Length", 1.0..=500.0;
        /// While the pump runs.
        level: Length = "level_cm", "Running level", 0.0..=200.0;
        /// What is in it, in the order in which the water meets it.
        #[serde(default)]
        media: Vec<Portion> = "media", "Medium", 0..=12;
    }
}

impl Default for SumpChamber {
    fn default() -> Self {
        Self {
            role: SumpRole::Media,
            length: Length::cm(25.0),
            level: Length::cm(22.0),
            media: Vec::new(),
        }
    }
}

described! {
    /// A sump.
    Sump {
        /// Inside, front to back.
        width: Length = "width_cm", "Width", 5.0..=300.0;
        /// Inside, floor to rim.
        height: Length = "height_cm", "Height", 5.0..=200.0;
        /// When the pump stops, water runs back through its pipe down to here, below the tank's level: the outlet's mouth, or a hole above it that lets air in.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        siphon_break: Option<Length> = "siphon_break_cm", "Siphon breaks, below the level", 0.0..=200.0;
        /// What the weir's box and the pipes hold above the sump.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        pipes: Option<Volume> = "pipes_l", "In box and pipes", 0.0..=500.0;
        /// In the order in which the water passes them.
        #[serde(default)]
        chambers: Vec<SumpChamber> = "chambers", "Chamber", 0..=12;
    }
}

impl Default for Sump {
    fn default() -> Self {
        let chamber = |role| SumpChamber {
            role,
            ..SumpChamber::default()
        };
        Self {
            width: Length::cm(35.0),
            height: Length::cm(35.0),
            siphon_break: None,
            pipes: None,
            chambers: vec![
                chamber(SumpRole::Sock),
                chamber(SumpRole::Media),
                chamber(SumpRole::Return),
            ],
        }
    }
}

impl Sump {
    /// The chamber that the return pump stands in, by its place: the one named so, or the last; none
    /// where there are no chambers.
    pub fn return_at(&self) -> Option<usize> {
        let named = self
            .chambers
            .iter()
            .position(|chamber| chamber.role == SumpRole::Return);
        named.or(self.chambers.len().checked_sub(1))
    }

    /// The same chamber.
    pub fn return_chamber(&self) -> Option<&SumpChamber> {
        self.chambers.get(self.return_at()?)
    }

    /// Water in it while the pump runs.
    pub fn running_volume(&self) -> Volume {
        let litres = |chamber: &SumpChamber| {
            chamber.length.as_cm() * self.width.as_cm() * chamber.level.as_cm() / 1000.0
        };
        Volume::litres(self.chambers.iter().map(litres).sum())
    }
}
