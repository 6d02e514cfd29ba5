//! What the differential says about itself, reckoned only when somebody wants to know.

use super::belief::FaultSet;
use super::differential::{Differential, Suspect};
use super::explain::{self, Reason};
use super::fit::{self, Contradiction, Unexplained};
use super::focus::Focus;
use super::lookahead::Advice;
use super::turning::{self, Hinge};

/// Why, how well it fits, what it hangs on, and whether it is known at all.
#[derive(Clone, Debug)]
pub struct Account {
    /// Signs that no suspect explains well, worst first.
    pub unexplained: Vec<Unexplained>,
    /// Pieces of evidence that hardly go together, worst first.
    pub contradictions: Vec<Contradiction>,
    /// Evidence without which another fault would come first.
    pub hinges: Vec<Hinge>,
    /// The least factor among those tried by which the strengths stated for the first suspect can
    /// be too high before another comes first.
    pub turns_at: Option<f64>,
    /// By place of the suspect among the candidates; `None` for what is out of view.
    whys: Vec<Option<Why>>,
}

/// Why one suspect is as likely as it is.
#[derive(Clone, Debug)]
pub struct Why {
    /// Logarithm of its odds before any evidence; with the reasons it adds up to the logarithm of
    /// its odds now.
    pub prior_log_odds: f64,
    /// Each piece of evidence, strongest first, for or against.
    pub reasons: Vec<Reason>,
}

/// How far the differential has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Grasp {
    /// One suspect, or that nothing is wrong, is clear enough to act on.
    Clear,
    /// A check would still tell something.
    Open,
    /// What was seen fits nothing on the list well, and no check would tell much more.
    Lost,
}

impl Differential {
    /// What it says about itself; the suspects asked about are explained besides the likeliest.
    pub fn account(&self, asked: &[&Suspect]) -> Account {
        Account::of(self, asked)
    }
}

impl Account {
    fn of(differential: &Differential, asked: &[&Suspect]) -> Self {
        let weighed = &differential.weighed;
        // The first is explained however unlikely it is: what is likelier may account for nothing
        // here.
        let asked: Vec<usize> = asked
            .iter()
            .copied()
            .chain([differential.first()])
            .map(|suspect| suspect.place)
            .collect();
        let suspects = differential
            .of_this_case()
            .fold(FaultSet::NONE, |set, suspect| set.with(suspect.place));
        let focus = Focus::of(
            &weighed.prior,
            &weighed.pieces,
            &weighed.of_faults,
            suspects,
            &asked,
        );
        let reasons = explain::reasons(&focus, &weighed.pieces);
        let why = |(place, reasons): (usize, Vec<Reason>)| {
            focus.likely.has(place).then(|| Why {
                // Among the sets in view the odds before the evidence differ in their last digits
                // from those among all; they make up for it, so that what is shown adds up.
                prior_log_odds: explain::log_odds(weighed.of_faults[place])
                    - reasons.iter().map(|reason| reason.weight).sum::<f64>(),
                reasons,
            })
        };
        Self {
            contradictions: fit::contradictions(&focus, &weighed.pieces),
            hinges: turning::hinges(&weighed.space, &focus, &weighed.pieces),
            turns_at: turning::sensitivity(&focus),
            whys: reasons.into_iter().enumerate().map(why).collect(),
            unexplained: fit::unexplained(&focus, &weighed.pieces),
        }
    }

    /// How far the differential has come, given whether acting is due.
    ///
    /// Where acting is due for want of anything to ask, it is lost if no fault is clear and either
    /// a sign stays unexplained, or neither a fault nor, where it may lead, that nothing is wrong
    /// is likelier than not.
    pub fn grasp(&self, differential: &Differential, advice: &Advice) -> Grasp {
        let most = differential.leading();
        match advice {
            Advice::Look { .. } => Grasp::Open,
            Advice::Act
                if !differential.is_clear() && (most < 0.5 || !self.unexplained.is_empty()) =>
            {
                Grasp::Lost
            }
            Advice::Act => Grasp::Clear,
        }
    }

    /// Why a suspect is as likely as it is: for the likeliest, and for those that were asked about.
    pub fn why(&self, suspect: &Suspect) -> Option<&Why> {
        self.whys[suspect.place].as_ref()
    }
}
