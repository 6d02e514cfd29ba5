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
/// It worked where every part is shown; it did not where none is; it did partly where some are. As
/// long as one was not looked at, or cannot be told, neither can the whole, unless what is known
/// already denies it.
pub fn overall(parts: &[Option<Judged>]) -> Overall {
    let with = |wanted: Verdict| {
        let those = parts.iter().flatten();
        those.filter(move |judged| judged.verdict == wanted).count()
    };
    let (proved, partly, not) = (
        with(Verdict::Proved),
        with(Verdict::Partly),
        with(Verdict::NotProved),
    );
    let all_are_told = proved + partly + not == parts.len() && !parts.is_empty();
    let verdict = if partly > 0 || (proved > 0 && not > 0) {
        Verdict::Partly
    } else if !all_are_told {
        Verdict::CannotTell
    } else if not == 0 {
        Verdict::Proved
    } else {
        Verdict::NotProved
    };
    let is_final = !parts.is_empty()
        && parts
            .iter()
            .all(|part| part.is_some_and(|judged| judged.is_final));
    Overall { verdict, is_final }
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
            (vec![judged(NotProved), None], CannotTell, false),
            (vec![judged(Proved), judged(Proved)], Proved, true),
            (vec![judged(Proved), judged(NotProved)], Partly, true),
            (vec![judged(NotProved), judged(NotProved)], NotProved, true),
            (vec![judged(Proved), judged(CannotTell)], CannotTell, true),
            (
                vec![judged(NotProved), judged(CannotTell)],
                CannotTell,
                true,
            ),
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
