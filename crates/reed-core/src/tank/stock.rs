//! The animals, as groups of like size.

use crate::figure::Figure;
use crate::units::{Length, Mass};

choice_set! {
    /// How much they move, which sets how much they breathe.
    Activity:
    Calm = "calm", "rest a lot";
    #[default]
    Usual = "usual", "cruise about";
    Lively = "lively", "never stop";
}

choice_set! {
    /// What they are and how they are built, which sets their mass for their length.
    Build:
    #[default]
    Fusiform = "fusiform", "fish, usual build";
    Elongated = "elongated", "fish, long and slender";
    EelLike = "eel-like", "fish, like an eel";
    Deep = "deep", "fish, short or deep";
    Shrimp = "shrimp", "shrimp";
    Crayfish = "crayfish", "crayfish";
    Amphibian = "amphibian", "newts, aquatic salamanders, frogs";
    Turtle = "turtle", "turtles (length of the shell)";
    Snail = "snail", "snails (length of the shell)";
}

impl Build {
    /// It has no backbone: copper and many a medicine kill it.
    pub const fn is_invertebrate(self) -> bool {
        match self {
            Self::Shrimp | Self::Crayfish | Self::Snail => true,
            Self::Fusiform | Self::Elongated | Self::EelLike | Self::Deep => false,
            Self::Amphibian | Self::Turtle => false,
        }
    }
}

/// Mass of an animal from its length: `W = a · L^b`, W in grams, L in centimetres.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct LengthMass {
    /// Grams at one centimetre.
    pub a: Figure,
    /// Exponent.
    pub b: Figure,
}

impl LengthMass {
    /// Mass at this length.
    pub fn mass(self, length: Length) -> Mass {
        Mass::grams(self.a.value * length.as_cm().powf(self.b.value))
    }
}

impl Build {
    /// Length–mass relation. Fish: the body-shape averages of Froese, Thorson & Reyes 2014 (Journal
    /// of Applied Ichthyology 30, 78–85), total length, coefficients from memory. All others from
    /// memory without a source.
    pub const fn length_mass(self) -> LengthMass {
        let (a, b) = match self {
            Self::Fusiform => (0.0100, 3.04),
            Self::Elongated => (0.00389, 3.12),
            Self::EelLike => (0.00102, 3.06),
            Self::Deep => (0.0200, 3.01),
            Self::Shrimp => (0.008, 3.0),
            Self::Crayfish => (0.025, 3.0),
            Self::Amphibian => (0.009, 3.0),
            Self::Turtle => (0.17, 3.0),
            Self::Snail => (0.15, 3.0),
        };
        LengthMass {
            a: Figure::from_memory(a),
            b: Figure::from_memory(b),
        }
    }

    /// Share of its oxygen that it takes from the water; turtles breathe air.
    pub const fn from_water(self) -> Figure {
        Figure::from_memory(if matches!(self, Self::Turtle) {
            0.0
        } else {
            1.0
        })
    }
}

described! {
    /// Animals of one kind and size.
    StockGroup {
        /// What you call them.
        name: String = "name", "Animals", 0..=80;
        /// How many of them.
        count: u32 = "count", "How many", 1..=100000;
        /// Sets their mass for their length.
        #[serde(default)]
        build: Build = "build", "Build";
        /// Of one, with the tail.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        length: Option<Length> = "length_cm", "Length of one", 0.2..=200.0;
        /// Of one; leave it empty to have it from the length.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        weighed: Option<Mass> = "mass_each_g", "Mass of one", 0.001..=50000.0;
        /// They need more oxygen the more they move.
        #[serde(default)]
        activity: Activity = "activity", "They";
        /// Labyrinth fish, many catfish and loaches: seen at the top, they are not in distress.
        #[serde(default)]
        breathes_air: bool = "breathes_air", "Breathe air or live at the surface by nature";
    }
}

impl Default for StockGroup {
    fn default() -> Self {
        Self {
            name: String::new(),
            count: 1,
            build: Build::default(),
            length: Some(Length::cm(4.0)),
            weighed: None,
            activity: Activity::default(),
            breathes_air: false,
        }
    }
}

impl StockGroup {
    /// Animals of a known mass.
    pub fn weighing(name: &str, count: u32, mass_each: Mass, activity: Activity) -> Self {
        Self {
            name: name.to_owned(),
            count,
            length: None,
            weighed: Some(mass_each),
            activity,
            ..Self::default()
        }
    }

    /// Mass of one: as weighed, or from its length. A group of which neither is known weighs
    /// nothing.
    pub fn mass_each(&self) -> Mass {
        self.weighed
            .or_else(|| {
                self.length
                    .map(|length| self.build.length_mass().mass(length))
            })
            .unwrap_or_default()
    }
}

/// Animals that many keep, to count rather than to describe.
#[derive(Debug)]
pub struct Common {
    /// Id in forms.
    pub id: &'static str,
    /// What they are.
    pub words: &'static str,
    /// How they are built.
    pub build: Build,
    /// Of one, with the tail, cm.
    pub length_cm: f64,
    /// How much they move.
    pub activity: Activity,
    /// They breathe air or live at the surface by nature.
    pub breathes_air: bool,
}

const fn common(
    id: &'static str,
    words: &'static str,
    build: Build,
    length_cm: f64,
    activity: Activity,
) -> Common {
    Common {
        id,
        words,
        build,
        length_cm,
        activity,
        breathes_air: false,
    }
}

/// Animals that many keep, in usual sizes; common practice, no source.
pub const COMMON: &[Common] = &[
    common(
        "small-shoaling",
        "small shoaling fish (3 to 4 cm)",
        Build::Fusiform,
        3.5,
        Activity::Usual,
    ),
    common(
        "medium-fish",
        "fish as long as a finger (7 cm)",
        Build::Fusiform,
        7.0,
        Activity::Usual,
    ),
    common(
        "large-fish",
        "fish as long as a hand (15 cm)",
        Build::Fusiform,
        15.0,
        Activity::Usual,
    ),
    common(
        "deep-fish",
        "high or round fish (8 cm)",
        Build::Deep,
        8.0,
        Activity::Calm,
    ),
    Common {
        breathes_air: true,
        ..common(
            "labyrinth-fish",
            "labyrinth fish (breathe air)",
            Build::Deep,
            5.0,
            Activity::Calm,
        )
    },
    Common {
        breathes_air: true,
        ..common(
            "bottom-fish",
            "armoured bottom fish (gulp air)",
            Build::Fusiform,
            5.0,
            Activity::Calm,
        )
    },
    common(
        "eel-like",
        "eel-like loaches",
        Build::EelLike,
        8.0,
        Activity::Calm,
    ),
    common("shrimp", "shrimp", Build::Shrimp, 2.5, Activity::Calm),
    common("snails", "snails", Build::Snail, 2.0, Activity::Calm),
    common("crayfish", "crayfish", Build::Crayfish, 9.0, Activity::Calm),
    common(
        "newts",
        "newts or aquatic salamanders",
        Build::Amphibian,
        18.0,
        Activity::Calm,
    ),
    common("turtles", "turtles", Build::Turtle, 15.0, Activity::Usual),
];

impl Common {
    /// So many of them.
    pub fn group(&self, count: u32) -> StockGroup {
        StockGroup {
            name: self
                .words
                .split(" (")
                .next()
                .unwrap_or(self.words)
                .to_owned(),
            count,
            build: self.build,
            length: Some(Length::cm(self.length_cm)),
            weighed: None,
            activity: self.activity,
            breathes_air: self.breathes_air,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Build, StockGroup};
    use crate::units::{Length, Mass};

    /// What the relation of Froese, Thorson & Reyes 2014 gives for a fish of 10 cm (coefficients
    /// from memory), and that no build is out of proportion: an animal of 5 cm weighs between a
    /// hundredth and thirty grams.
    #[test]
    fn mass_follows_from_length_and_build() {
        let at = |build: Build, cm| build.length_mass().mass(Length::cm(cm)).as_grams();
        for (build, grams) in [
            (Build::Fusiform, 10.96),
            (Build::Elongated, 5.128),
            (Build::EelLike, 1.171),
            (Build::Deep, 20.47),
        ] {
            assert!((at(build, 10.0) / grams - 1.0).abs() < 1e-3, "{build:?}");
        }
        for build in Build::ALL {
            assert!(
                (0.01..30.0).contains(&at(*build, 5.0)),
                "{build:?}: {}",
                at(*build, 5.0)
            );
            assert!(
                at(*build, 10.0) > 7.5 * at(*build, 5.0),
                "{build:?} grows in all directions"
            );
        }
    }

    #[test]
    fn a_weighed_animal_has_its_weight_and_a_measured_one_that_of_its_length() {
        let measured = StockGroup {
            length: Some(Length::cm(10.0)),
            ..StockGroup::default()
        };
        assert!((measured.mass_each().as_grams() - 10.96).abs() < 0.01);
        let weighed = StockGroup {
            weighed: Some(Mass::grams(8.0)),
            ..measured
        };
        assert!((weighed.mass_each().as_grams() - 8.0).abs() < 1e-12);
    }
}
