//! The exact arithmetic against an independent library (pyAgrum) on a network of invented numbers:
//! 30 evidence sets, the posterior of every fault, the entropy, and what every further question
//! would tell.

use std::sync::Arc;

use reed_core::diagnosis::belief::{
    Belief, FaultSet, Hypotheses, Likelihoods, NoisyOr, Unless, information_bits, likelihood,
};
use reed_fixtures::reference;
use serde_json::Value;

const FAULTS: usize = 8;

struct Net {
    priors: Vec<f64>,
    findings: Vec<(String, NoisyOr)>,
}

fn net() -> Net {
    let json: Value = serde_json::from_str(&reference::text("bayes_net.json")).expect("JSON");
    let fault = |id: &str| id[1..].parse::<usize>().expect("F1 to F8") - 1;
    let priors = json["faults"]
        .as_array()
        .expect("list")
        .iter()
        .map(|fault| fault["prior"].as_f64().expect("number"))
        .collect();
    let findings = json["findings"]
        .as_array()
        .expect("list")
        .iter()
        .map(|finding| {
            let links = finding["links"].as_object().expect("map");
            let links = links
                .iter()
                .map(|(id, strength)| (fault(id), strength.as_f64().expect("number")))
                .collect();
            (
                finding["id"].as_str().expect("id").to_owned(),
                NoisyOr {
                    leak: finding["leak"].as_f64().expect("number"),
                    links,
                },
            )
        });
    Net {
        priors,
        findings: findings.collect(),
    }
}

/// A way by which a piece of evidence reaches the belief.
#[derive(Clone, Copy, Debug)]
enum Route {
    /// The chance under every set, by [`NoisyOr::chance`].
    BySet,
    /// The same by [`NoisyOr::chances`], which reckons along runs of sets.
    ByRun,
    /// As the diagnosis weighs: [`Likelihoods::Noisy`], one piece after the other.
    OneByOne,
    /// As the diagnosis weighs: all pieces at once.
    AllAtOnce,
}

impl Route {
    const ALL: [Self; 4] = [Self::BySet, Self::ByRun, Self::OneByOne, Self::AllAtOnce];

    /// An answer about a finding, so sure.
    fn answer(self, node: &NoisyOr, sureness: f64, hypotheses: &Hypotheses) -> Likelihoods {
        let per_set = |chances: Vec<f64>| {
            let of = |chance| likelihood(chance, sureness);
            Likelihoods::PerSet(chances.into_iter().map(of).collect())
        };
        match self {
            Self::BySet => {
                let sets = hypotheses.sets().iter();
                per_set(sets.map(|set| node.chance(*set)).collect())
            }
            Self::ByRun => per_set(node.chances(hypotheses)),
            Self::OneByOne | Self::AllAtOnce => Likelihoods::Noisy {
                sureness,
                leak: node.leak,
                absent: node.absent(hypotheses.faults()),
                factors: vec![1.0; hypotheses.faults()],
                unless: Unless::NEVER,
            },
        }
    }

    /// That a fault is there, or not.
    fn fault(self, fault: usize, there: bool, hypotheses: &Hypotheses) -> Likelihoods {
        let of_set = |set: &FaultSet| f64::from(set.has(fault) == there);
        match (self, there) {
            (Self::BySet, _) | (_, true) => {
                Likelihoods::PerSet(hypotheses.sets().iter().map(of_set).collect())
            }
            // A finding that nothing brings about was not seen; what it says is in its factors.
            (Self::OneByOne | Self::AllAtOnce, false) => Likelihoods::Noisy {
                sureness: 0.0,
                leak: 0.0,
                absent: vec![1.0; FAULTS],
                factors: (0..FAULTS).map(|at| f64::from(at != fault)).collect(),
                unless: Unless::NEVER,
            },
            (Self::ByRun, false) => {
                Likelihoods::PerFault(1.0, (0..FAULTS).map(|at| f64::from(at != fault)).collect())
            }
        }
    }
}

/// Weighs in evidence written as `+E1 -E2 E3~0.7 +F1`.
fn given(net: &Net, evidence: &str, route: Route) -> Belief {
    let hypotheses = Arc::new(Hypotheses::new(FAULTS, FAULTS, FaultSet::NONE));
    let mut belief = Belief::before(&net.priors, Arc::clone(&hypotheses), &[1.0]);
    let piece = |item: &str| {
        let (id, sureness) = match item.split_once('~') {
            Some((id, sureness)) => (id, sureness.parse().expect("a chance")),
            None => (&item[1..], if item.starts_with('+') { 1.0 } else { 0.0 }),
        };
        if let Some(number) = id.strip_prefix('F') {
            let fault = number.parse::<usize>().expect("a number") - 1;
            return route.fault(fault, sureness > 0.5, &hypotheses);
        }
        let (_, node) = net
            .findings
            .iter()
            .find(|(name, _)| name == id)
            .expect("a finding");
        route.answer(node, sureness, &hypotheses)
    };
    let pieces: Vec<Likelihoods> = evidence.split_whitespace().map(piece).collect();
    match route {
        Route::AllAtOnce => belief.weigh_all(pieces.iter()),
        _ => pieces.iter().for_each(|piece| belief.weigh(piece)),
    }
    belief
}

#[test]
fn posteriors_evidence_and_entropy_meet_the_library() {
    let net = net();
    let rows = reference::rows("posteriors.csv");
    assert!(rows.len() >= 30);
    for (row, route) in rows
        .iter()
        .flat_map(|row| Route::ALL.map(|route| (row, route)))
    {
        let belief = given(&net, row.text("evidence"), route);
        let of_faults = belief.of_faults();
        let set = format!("{}, {route:?}", row.text("set"));
        if row.text("status") == "impossible" {
            assert!(
                of_faults.is_none() && belief.entropy_bits().is_none(),
                "{set}"
            );
            continue;
        }
        assert!(
            (belief.evidence() / row.number("p_evidence") - 1.0).abs() < 1e-10,
            "{set}"
        );
        for (index, ours) in of_faults.expect("possible").into_iter().enumerate() {
            let theirs = row.number(&format!("F{}", index + 1));
            assert!(
                (ours - theirs).abs() < 1e-10,
                "{set} F{}: {ours} not {theirs}",
                index + 1
            );
        }
        let ours = belief.entropy_bits().expect("possible");
        assert!((ours - row.number("entropy_bits")).abs() < 1e-10, "{set}");
    }
}

#[test]
fn what_a_question_would_tell_meets_the_library() {
    let net = net();
    let rows = reference::rows("information_gain.csv");
    assert!(rows.len() > 100);
    for row in rows {
        let belief = given(&net, row.text("evidence"), Route::AllAtOnce);
        let (_, node) = net
            .findings
            .iter()
            .find(|(id, _)| id == row.text("finding"))
            .expect("a finding");
        let Some(of_sets) = belief.of_sets() else {
            panic!(
                "a question is listed for impossible evidence: {}",
                row.text("set")
            );
        };
        let yes: Vec<f64> = belief
            .hypotheses()
            .sets()
            .iter()
            .map(|set| node.chance(*set))
            .collect();
        let no = yes.iter().map(|chance| 1.0 - chance).collect();
        let bits = information_bits(&of_sets, &[yes, no]);
        assert!(
            (bits - row.number("gain_bits")).abs() < 1e-9,
            "{} {}",
            row.text("set"),
            row.text("finding")
        );
    }
}
