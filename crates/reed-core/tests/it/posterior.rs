//! The exact arithmetic against an independent library (pyAgrum) on a network of invented numbers:
//! 30 evidence sets, the posterior of every fault, the entropy, and what every further question
//! would tell.

use std::sync::Arc;

use reed_core::diagnosis::belief::{
    Belief, FaultSet, Hypotheses, Likelihoods, NoisyOr, information_bits, likelihood,
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

/// Weighs in evidence written as `+E1 -E2 E3~0.7 +F1`.
fn given(net: &Net, evidence: &str) -> Belief {
    let hypotheses = Arc::new(Hypotheses::new(FAULTS, FAULTS, FaultSet::NONE));
    let mut belief = Belief::before(&net.priors, Arc::clone(&hypotheses), &[1.0]);
    let mut weigh = |chance: &dyn Fn(FaultSet) -> f64, sureness: f64| {
        belief.weigh(&Likelihoods::PerSet(
            hypotheses
                .sets()
                .iter()
                .map(|set| likelihood(chance(*set), sureness))
                .collect(),
        ));
    };
    for item in evidence.split_whitespace() {
        let (id, sureness) = match item.split_once('~') {
            Some((id, sureness)) => (id, sureness.parse().expect("a chance")),
            None => (&item[1..], if item.starts_with('+') { 1.0 } else { 0.0 }),
        };
        if let Some(number) = id.strip_prefix('F') {
            let fault = number.parse::<usize>().expect("a number") - 1;
            weigh(
                &|set: FaultSet| if set.has(fault) { 1.0 } else { 0.0 },
                sureness,
            );
        } else {
            let (_, node) = net
                .findings
                .iter()
                .find(|(name, _)| name == id)
                .expect("a finding");
            weigh(&|set| node.chance(set), sureness);
        }
    }
    belief
}

#[test]
fn posteriors_evidence_and_entropy_meet_the_library() {
    let net = net();
    let rows = reference::rows("posteriors.csv");
    assert!(rows.len() >= 30);
    for row in rows {
        let belief = given(&net, row.text("evidence"));
        let of_faults = belief.of_faults();
        if row.text("status") == "impossible" {
            assert!(
                of_faults.is_none() && belief.entropy_bits().is_none(),
                "{}",
                row.text("set")
            );
            continue;
        }
        assert!(
            (belief.evidence() / row.number("p_evidence") - 1.0).abs() < 1e-10,
            "{}",
            row.text("set")
        );
        for (index, ours) in of_faults.expect("possible").into_iter().enumerate() {
            let theirs = row.number(&format!("F{}", index + 1));
            assert!(
                (ours - theirs).abs() < 1e-9,
                "{} F{}: {ours} not {theirs}",
                row.text("set"),
                index + 1
            );
        }
        assert!(
            (belief.entropy_bits().expect("possible") - row.number("entropy_bits")).abs() < 1e-9
        );
    }
}

#[test]
fn what_a_question_would_tell_meets_the_library() {
    let net = net();
    let rows = reference::rows("information_gain.csv");
    assert!(rows.len() > 100);
    for row in rows {
        let belief = given(&net, row.text("evidence"));
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
