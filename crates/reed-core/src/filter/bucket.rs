//! The bucket test: a known volume, timed, up to three times.

use crate::units::Refusal;

/// Runs of a bucket test.
#[derive(Clone, Debug, PartialEq)]
pub struct Bucket {
    /// What each run gives, L/h.
    pub runs: Vec<f64>,
}

/// Bounds of what is taken: litres, and seconds for them.
const LITRES: std::ops::RangeInclusive<f64> = 0.2..=1000.0;
const SECONDS: std::ops::RangeInclusive<f64> = 1.0..=3600.0;

impl Bucket {
    /// From a bucket of so many litres and the seconds that each run took, both as typed; runs left
    /// empty do not count.
    ///
    /// # Errors
    /// For each field that makes no sense, named `litres`, `run-1`, `run-2`, `run-3`.
    pub fn read(litres: &str, seconds: &[&str]) -> Result<Self, Vec<Refusal>> {
        let mut refusals = Vec::new();
        let number = |text: &str| text.trim().replace(',', ".").parse::<f64>().ok();
        let volume = number(litres).filter(|litres| LITRES.contains(litres));
        if volume.is_none() {
            let accepted = format!("Give its litres, {} to {}.", LITRES.start(), LITRES.end());
            refusals.push(Refusal::new("litres", "Bucket", litres, accepted));
        }
        let mut runs = Vec::new();
        for (index, text) in seconds.iter().enumerate() {
            if text.trim().is_empty() {
                continue;
            }
            match number(text).filter(|seconds| SECONDS.contains(seconds)) {
                Some(seconds) => runs.push(volume.unwrap_or_default() / seconds * 3600.0),
                None => {
                    let accepted =
                        format!("Give seconds, {} to {}.", SECONDS.start(), SECONDS.end());
                    let label = format!("Run {}", index + 1);
                    refusals.push(Refusal::new(
                        format!("run-{}", index + 1),
                        &label,
                        text,
                        accepted,
                    ));
                }
            }
        }
        if runs.is_empty() && refusals.is_empty() {
            refusals.push(Refusal::new(
                "run-1",
                "Run 1",
                "",
                "Time at least one bucket; three are better.",
            ));
        }
        if refusals.is_empty() {
            Ok(Self { runs })
        } else {
            Err(refusals)
        }
    }

    /// Their mean, L/h.
    pub fn mean(&self) -> f64 {
        self.runs.iter().sum::<f64>() / self.runs.len() as f64
    }

    /// How far runs lie apart, L/h: their standard deviation; none of a single one.
    pub fn spread(&self) -> Option<f64> {
        let mean = self.mean();
        let squares: f64 = self.runs.iter().map(|run| (run - mean).powi(2)).sum();
        (self.runs.len() > 1).then(|| (squares / (self.runs.len() - 1) as f64).sqrt())
    }
}

#[cfg(test)]
mod tests {
    use super::Bucket;

    /// 10 L in 72, 75 and 80 s, by hand: 500, 480 and 450 L/h.
    #[test]
    fn three_runs_have_a_mean_and_a_spread() {
        let bucket = Bucket::read("10", &["72", "75,0", " 80 "]).expect("sound");
        assert!((bucket.mean() - 1430.0 / 3.0).abs() < 1e-9);
        assert!((bucket.spread().expect("three") - 25.166).abs() < 1e-3);
        assert_eq!(
            Bucket::read("10", &["72", "", ""])
                .expect("one will do")
                .spread(),
            None
        );
    }

    #[test]
    fn what_makes_no_sense_is_named() {
        for (litres, seconds, field) in [
            ("10", ["0", "", ""], "run-1"),
            ("ten", ["60", "", ""], "litres"),
            ("10", ["60", "-3", ""], "run-2"),
            ("10", ["", "", ""], "run-1"),
            ("0", ["60", "", ""], "litres"),
            ("10", ["60", "60", "nan"], "run-3"),
        ] {
            let refusals = Bucket::read(litres, &seconds).expect_err(field);
            assert!(
                refusals.iter().any(|refusal| refusal.field == field),
                "{refusals:?}"
            );
        }
    }
}
