//! What media do with dirt: how water passes them, what they catch, what they hold.

use super::Fill;
use crate::tank::{Medium, Portion};

/// What a medium does with dirt.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Catch {
    /// Share of the dirt that comes to it that stays in it, while it is clean.
    pub share: f64,
    /// Dry dirt that a litre of it holds until hardly any water passes, g.
    pub holds_g_per_l: f64,
}

/// Dry dirt from a gram of dry feed, g: a quarter becomes droppings and leftovers. From memory, of
/// fish farms.
pub const DIRT_PER_FEED: f64 = 0.25;

impl Catch {
    /// Of a medium. From memory and by judgement: how the stages stand to each other matters more
    /// than each number, and what an opened filter looked like overrules them all.
    pub const fn of(medium: Medium) -> Self {
        let (share, holds_g_per_l) = match medium {
            Medium::FoamCoarse => (0.35, 12.0),
            Medium::FoamMedium => (0.5, 12.0),
            Medium::FoamFine => (0.65, 10.0),
            Medium::Floss => (0.85, 8.0),
            Medium::Sock => (0.8, 6.0),
            Medium::AdsorbentPad => (0.5, 6.0),
            Medium::Sintered | Medium::Lava | Medium::Gravel | Medium::LiveRock => (0.1, 10.0),
            Medium::CeramicRings | Medium::PlasticBalls | Medium::Carrier => (0.05, 15.0),
            Medium::Carbon
            | Medium::AmmoniaResin
            | Medium::NitrateResin
            | Medium::PhosphateRemover => (0.15, 6.0),
        };
        Self {
            share,
            holds_g_per_l,
        }
    }
}

/// How water passes a portion of medium: by its grain, or the usual grain of such a medium. Widths
/// and porosities are from memory.
pub fn fill(portion: &Portion) -> Fill {
    let (millimetres, porosity) = match portion.medium {
        Medium::FoamCoarse => return Fill::foam(10.0),
        Medium::FoamMedium => return Fill::foam(20.0),
        Medium::FoamFine => return Fill::foam(30.0),
        // Floss, socks and pads let water through like a foam of so many pores.
        Medium::Floss | Medium::AdsorbentPad => return Fill::foam(50.0),
        Medium::Sock => return Fill::foam(60.0),
        Medium::CeramicRings => (15.0, 0.6),
        Medium::Sintered => (12.0, 0.45),
        Medium::PlasticBalls => (25.0, 0.85),
        Medium::Carrier => (10.0, 0.8),
        Medium::Lava | Medium::LiveRock => (20.0, 0.5),
        Medium::Gravel => (4.0, 0.4),
        Medium::Carbon => (3.0, 0.42),
        Medium::AmmoniaResin => (2.5, 0.42),
        Medium::NitrateResin => (0.8, 0.38),
        Medium::PhosphateRemover => (1.5, 0.4),
    };
    Fill::Grains {
        width: portion.grain.map_or(millimetres, |grain| grain.as_mm()) / 1000.0,
        porosity,
    }
}
