//! What to do, as far as it hangs on what is wrong: how open it is, and what a check tells about
//! it.

use super::belief::surprise;
use super::prospect::Prospect;

/// What would be done if it were known what is wrong, and what that knowledge is worth.
pub(super) struct Decision {
    /// By set, the act that is best under it.
    best: Vec<usize>,
    acts: usize,
    /// What full knowledge would save over acting at once, minutes.
    stake: f64,
    /// Doubt about what to do, bits.
    doubt: f64,
}

impl Decision {
    pub(super) fn of(costs: &[Vec<f64>], of_sets: &[f64]) -> Self {
        let cheapest = |set: usize| {
            (0..costs.len())
                .min_by(|a, b| costs[*a][set].total_cmp(&costs[*b][set]))
                .unwrap_or(0)
        };
        let best: Vec<usize> = (0..of_sets.len()).map(cheapest).collect();
        let at_once = costs.iter().map(|costs| {
            costs
                .iter()
                .zip(of_sets)
                .map(|(cost, weight)| cost * weight)
                .sum::<f64>()
        });
        let knowing: f64 = best
            .iter()
            .zip(of_sets)
            .enumerate()
            .map(|(set, (act, weight))| costs[*act][set] * weight)
            .sum();
        let mut of_acts = vec![0.0; costs.len()];
        best.iter()
            .zip(of_sets)
            .for_each(|(act, weight)| of_acts[*act] += weight);
        Self {
            stake: at_once.fold(f64::INFINITY, f64::min) - knowing,
            doubt: of_acts.into_iter().map(surprise).sum(),
            acts: costs.len(),
            best,
        }
    }

    /// What so many bits about what to do are worth, minutes.
    pub(super) fn minutes_worth(&self, bits: f64) -> f64 {
        if self.doubt > 0.0 {
            self.stake * bits / self.doubt
        } else {
            0.0
        }
    }

    /// What a check would tell about what to do, in bits, on top of what is asked with it:
    /// `branches` holds the weight of each set with each combination of answers so far.
    pub(super) fn bits(&self, branches: &[Vec<f64>], prospect: &Prospect) -> f64 {
        let answers = prospect.0.len();
        let mut sums = vec![0.0; self.acts * (answers + 1)];
        let mut bits = 0.0;
        for weights in branches {
            sums.fill(0.0);
            for (set, (weight, act)) in weights.iter().zip(&self.best).enumerate() {
                let row = &mut sums[act * (answers + 1)..];
                row[answers] += weight;
                prospect
                    .0
                    .iter()
                    .zip(row)
                    .for_each(|(chances, sum)| *sum += weight * chances[set]);
            }
            // Of an answer and an act together, less each alone: what one tells about the other.
            let total: f64 = weights.iter().sum();
            let mut of_answers = vec![0.0; answers];
            for row in sums.chunks_exact(answers + 1) {
                bits += surprise(row[answers])
                    - row[..answers].iter().copied().map(surprise).sum::<f64>();
                of_answers
                    .iter_mut()
                    .zip(row)
                    .for_each(|(sum, of_row)| *sum += of_row);
            }
            bits += of_answers.into_iter().map(surprise).sum::<f64>() - surprise(total);
        }
        bits.max(0.0)
    }
}

#[cfg(test)]
mod tests {
    use super::{Decision, Prospect};

    /// Two sets that the same act is best for, and one that another is: only what parts the acts
    /// tells what to do.
    #[test]
    fn what_only_tells_one_cause_from_another_of_the_same_cure_tells_nothing() {
        let decision = Decision::of(
            &[vec![5.0, 5.0, 95.0], vec![95.0, 95.0, 5.0]],
            &[0.25, 0.25, 0.5],
        );
        let question =
            |yes: [f64; 3]| Prospect(vec![yes.to_vec(), yes.map(|yes| 1.0 - yes).to_vec()]);
        let weights = [vec![0.25, 0.25, 0.5]];
        assert!(decision.bits(&weights, &question([1.0, 0.0, 0.5])) < 1e-9);
        let all = decision.bits(&weights, &question([1.0, 1.0, 0.0]));
        assert!(
            (all - 1.0).abs() < 1e-9 && (decision.minutes_worth(all) - 45.0).abs() < 1e-9,
            "all there is to know"
        );
        // Asked beside it, the same again tells nothing more.
        let branches = [vec![0.25, 0.25, 0.0], vec![0.0, 0.0, 0.5]];
        assert!(decision.bits(&branches, &question([1.0, 1.0, 0.0])) < 1e-9);
    }
}
