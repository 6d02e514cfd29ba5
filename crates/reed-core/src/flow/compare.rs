//! Two flows of one tank side by side.

use super::facts::{Facts, Range};
use super::words;

/// How one number of a try stands to that of the tank as it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// More under every assumption.
    More,
    /// More under the assumptions thought best.
    PerhapsMore,
    /// Within a tenth.
    Same,
    /// Less under the assumptions thought best.
    PerhapsLess,
    /// Less under every assumption.
    Less,
}

impl Verdict {
    fn of(now: Range, tried: Range) -> Self {
        match (tried.low > now.high, tried.high < now.low) {
            (true, _) => Self::More,
            (_, true) => Self::Less,
            _ if (tried.likely - now.likely).abs() <= 0.1 * now.likely.abs() => Self::Same,
            _ if tried.likely > now.likely => Self::PerhapsMore,
            _ => Self::PerhapsLess,
        }
    }

    /// In words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::More => "more",
            Self::PerhapsMore => "perhaps more",
            Self::Same => "the same",
            Self::PerhapsLess => "perhaps less",
            Self::Less => "less",
        }
    }
}

/// One number of both.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Compared {
    /// What it is, with its unit.
    pub what: String,
    /// As the tank stands, with its band.
    pub now: String,
    /// As it was tried.
    pub tried: String,
    /// How they differ.
    pub verdict: Verdict,
}

/// Bubbles below this share are none. A judgement.
const NO_BUBBLES: f64 = 0.02;

/// Everything worth comparing, of a tank and the same tank with things elsewhere.
pub fn compared(now: &Facts, tried: &Facts) -> Vec<Compared> {
    let row = |what: &str, now: Range, tried: Range, print: &dyn Fn(Range) -> String| Compared {
        what: what.to_owned(),
        now: print(now),
        tried: print(tried),
        verdict: Verdict::of(now, tried),
    };
    let tenths = |range: Range| words::number(range, 1);
    let mut rows = vec![
        row(
            "Surface, cm/s",
            now.surface_cm_s,
            tried.surface_cm_s,
            &tenths,
        ),
        row(
            "Water over the bed, cm/s",
            now.over_bed_cm_s,
            tried.over_bed_cm_s,
            &tenths,
        ),
        row(
            "Water slower than 1 cm/s",
            now.slow,
            tried.slow,
            &words::percent,
        ),
        row(
            "Water where fish rest at ease",
            now.gentle,
            tried.gentle,
            &words::percent,
        ),
        row(
            "Muck that comes to rest",
            now.muck_rests,
            tried.muck_rests,
            &words::percent,
        ),
    ];
    if now.shadow.high > 0.0 || tried.shadow.high > 0.0 {
        rows.push(row(
            "Muck beside rock, times that of open bed",
            now.shadow,
            tried.shadow,
            &tenths,
        ));
    }
    for (before, after) in now
        .intakes
        .iter()
        .zip(&tried.intakes)
        .filter(|(before, after)| before.thing == after.thing)
    {
        rows.push(row(
            &format!("{} catches of the muck", before.name),
            before.caught,
            after.caught,
            &words::percent,
        ));
        if before.bubbles.high > NO_BUBBLES || after.bubbles.high > NO_BUBBLES {
            rows.push(row(
                &format!("{} takes in of small bubbles", before.name),
                before.bubbles,
                after.bubbles,
                &words::percent,
            ));
        }
    }
    rows
}

#[cfg(test)]
mod tests {
    use super::{Range, Verdict};

    #[test]
    fn bands_that_overlap_are_not_told_as_a_difference() {
        let range = |low, likely, high| Range { low, likely, high };
        for (now, tried, verdict) in [
            (range(1.0, 2.0, 3.0), range(4.0, 5.0, 6.0), Verdict::More),
            (
                range(1.0, 2.0, 3.0),
                range(2.0, 2.5, 6.0),
                Verdict::PerhapsMore,
            ),
            (range(1.0, 2.0, 3.0), range(1.0, 2.1, 3.0), Verdict::Same),
            (
                range(1.0, 2.0, 3.0),
                range(0.5, 1.5, 3.0),
                Verdict::PerhapsLess,
            ),
            (range(1.0, 2.0, 3.0), range(0.1, 0.5, 0.9), Verdict::Less),
            (Range::default(), Range::default(), Verdict::Same),
        ] {
            assert_eq!(Verdict::of(now, tried), verdict, "{now:?} {tried:?}");
        }
    }
}
