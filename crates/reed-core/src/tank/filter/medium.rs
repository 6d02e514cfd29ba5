//! Media: what they are for, and how much surface they give bacteria.

use crate::figure::Figure;

/// What a medium is for. Water should meet them in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Stage {
    /// Holds coarse dirt.
    Coarse,
    /// Holds finer dirt.
    Medium,
    /// Holds the finest dirt.
    Fine,
    /// Carries bacteria.
    Biological,
    /// Takes one substance out of the water until it is spent.
    Chemical,
}

impl Stage {
    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Coarse => "coarse dirt",
            Self::Medium => "finer dirt",
            Self::Fine => "finest dirt",
            Self::Biological => "bacteria",
            Self::Chemical => "one substance",
        }
    }
}

/// One row per medium: name, id, words, stage, and the surface that bacteria can use, m² per litre
/// (from memory; not the inner surface of advertisements).
macro_rules! media {
    ($($(#[$meta:meta])* $variant:ident = $id:literal, $words:literal, $stage:ident, $surface:literal;)+) => {
        choice_set! {
            /// A medium.
            Medium: $($(#[$meta])* $variant = $id, $words;)+
        }

        impl Medium {
            /// What it is for.
            pub const fn stage(self) -> Stage {
                match self { $(Self::$variant => Stage::$stage),+ }
            }

            /// Surface that bacteria can use, m² per litre.
            pub const fn surface_m2_per_l(self) -> Figure {
                Figure::from_memory(match self { $(Self::$variant => $surface),+ })
            }
        }
    };
}

media! {
    FoamCoarse = "foam-coarse", "foam, coarse (10 pores per inch)", Coarse, 0.5;
    #[default]
    FoamMedium = "foam-medium", "foam, medium (20 pores per inch)", Medium, 1.1;
    FoamFine = "foam-fine", "foam, fine (30 pores per inch)", Fine, 1.7;
    Floss = "floss", "floss or fine pad", Fine, 0.5;
    Sock = "sock", "filter sock", Fine, 0.1;
    CeramicRings = "ceramic-rings", "ceramic rings", Biological, 0.7;
    Sintered = "sintered", "sintered glass or clay", Biological, 2.0;
    PlasticBalls = "plastic-balls", "plastic balls", Biological, 0.3;
    Carrier = "carrier", "moving-bed carrier", Biological, 0.5;
    Lava = "lava", "lava", Biological, 0.4;
    Gravel = "gravel", "gravel", Biological, 1.0;
    LiveRock = "live-rock", "live rock", Biological, 0.7;
    Carbon = "carbon", "carbon", Chemical, 0.0;
    AmmoniaResin = "ammonia-resin", "zeolite or ammonia resin", Chemical, 0.0;
    NitrateResin = "nitrate-resin", "nitrate resin", Chemical, 0.0;
    PhosphateRemover = "phosphate-remover", "phosphate remover", Chemical, 0.0;
    AdsorbentPad = "adsorbent-pad", "broad adsorbent pad", Chemical, 0.0;
}
