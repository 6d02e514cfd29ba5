//! What several proofs make together.

use super::Verdict;

/// What one part of a proof came to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Judged {
    /// Its latest verdict.
    pub verdict: Verdict,
    /// It was taken on its day or later.
    pub is_final: bool,
}

/// What all parts came to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Overall {
    /// The verdict.
    pub verdict: Verdict,
    /// Nothing that is still to come can change it.
    pub is_final: bool,
}

/// The verdict of all parts; `None` of one that was not judged yet.
///
/// It worked where every part is shown. One that is not shown denies it, whatever else is still to
/// come: it did not work, or, where another part is shown, partly. As long as one was not looked at
/// or cannot be told, and none denies it, neither can the whole.
pub fn overall(parts: &[Option<Judged>]) -> Overall {
    let judged = || parts.iter().flatten();
    let is_bad = |judged: &&Judged| matches!(judged.verdict, Verdict::Partly | Verdict::NotProved);
    if judged().any(|judged| is_bad(&judged)) {
        let helped =
            judged().any(|judged| matches!(judged.verdict, Verdict::Partly | Verdict::Proved));
        return Overall {
            verdict: if helped {
                Verdict::Partly
            } else {
                Verdict::NotProved
            },
            is_final: judged().filter(is_bad).any(|judged| judged.is_final),
        };
    }
    let all = |holds: &dyn Fn(&Judged) -> bool| {
        !parts.is_empty() && parts.iter().all(|part| part.as_ref().is_some_and(holds))
    };
    Overall {
        verdict: if all(&|judged| judged.verdict == Verdict::Proved) {
            Verdict::Proved
        } else {
            Verdict::CannotTell
        },
        is_final: all(&|judged| judged.is_final),
    }
}

#[cfg(test)]
mod tests {
    use super::{Judged, Overall, overall};
    use crate::remedy::proof::Verdict::{self, CannotTell, NotProved, Partly, Proved};

    fn judged(verdict: Verdict) -> Option<Judged> {
        Some(Judged {
            verdict,
            is_final: true,
        })
    }

    #[test]
    fn one_sign_gone_is_not_all_of_them() {
        for (parts, wanted, is_final) in [
            (vec![], CannotTell, false),
            (vec![None], CannotTell, false),
            (vec![judged(Proved)], Proved, true),
            (vec![judged(NotProved)], NotProved, true),
            (vec![judged(Proved), None], CannotTell, false),
            (vec![judged(NotProved), None], NotProved, true),
            (vec![judged(Proved), judged(Proved)], Proved, true),
            (vec![judged(Proved), judged(NotProved)], Partly, true),
            (vec![judged(NotProved), judged(NotProved)], NotProved, true),
            (vec![judged(Proved), judged(CannotTell)], CannotTell, true),
            (vec![judged(NotProved), judged(CannotTell)], NotProved, true),
            (vec![judged(Partly), None], Partly, true),
            (vec![judged(Partly), judged(Proved)], Partly, true),
        ] {
            assert_eq!(
                overall(&parts),
                Overall {
                    verdict: wanted,
                    is_final
                },
                "{parts:?}"
            );
        }
    }

    #[test]
    fn one_part_before_its_day_makes_the_whole_provisional() {
        let early = Some(Judged {
            verdict: Proved,
            is_final: false,
        });
        assert_eq!(
            overall(&[judged(Proved), early]),
            Overall {
                verdict: Proved,
                is_final: false
            }
        );
    }
}
