//! Who gets the ammonia of the water that passes a filter: the bacteria on its surfaces, or a
//! medium that takes it.
//!
//! Of what passes, bacteria capture a share `e` and the medium a share `η`. Whoever comes second
//! sees what the first left, so together they capture `E = 1 − (1 − e)(1 − η)` whatever the order,
//! of which the bacteria get `e/E` when they are first and `(1 − η)·e/E` when they are second.

use super::surface::{HALF_AT_TAN_MG_L, MOST_G_M2_DAY};

/// Share of all that is captured that goes to the bacteria; the rest goes to the medium. Zero where
/// neither captures any.
pub fn share_of_bacteria(bacteria: f64, medium: f64, medium_is_first: bool) -> f64 {
    let both = 1.0 - (1.0 - bacteria) * (1.0 - medium);
    let theirs = if medium_is_first {
        (1.0 - medium) * bacteria
    } else {
        bacteria
    };
    if both > 0.0 { theirs / both } else { 0.0 }
}

/// Share of the ammonia that bacteria on so much settled surface take out of a pass, where there is
/// little of it: `1 − exp(−(rmax/K)·area/flow)`, the film's rate per concentration being a speed
/// towards it.
pub fn captured_per_pass(surface_m2: f64, flow_l_per_h: f64) -> f64 {
    let metres_per_day = MOST_G_M2_DAY.value / HALF_AT_TAN_MG_L.value;
    1.0 - (-metres_per_day * surface_m2 / (flow_l_per_h * 24.0 / 1000.0).max(1e-9)).exp()
}

/// Share that a bed of grains takes out of a pass: `1 − exp(−contact/needed)`, contact being its
/// volume over the flow.
pub fn captured_by_grains(litres: f64, flow_l_per_h: f64, needed_s: f64) -> f64 {
    1.0 - (-litres / flow_l_per_h.max(1e-9) * 3600.0 / needed_s).exp()
}

/// A medium that takes a form of nitrogen out of water that passes it, until it is full.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Grains {
    /// How often the tank's water passes it, per day.
    pub passes_per_day: f64,
    /// Share it takes of a pass while it is fresh; the fuller it is, the less.
    pub per_pass: f64,
    /// What it holds when it is full, mg N per litre of tank.
    pub holds: f64,
    /// The water meets it before it meets the bacteria.
    pub is_first: bool,
}

impl Grains {
    /// Share it takes of a pass when it has taken so much, mg N per litre of tank.
    pub fn per_pass_after(&self, taken: f64) -> f64 {
        self.per_pass * (1.0 - taken / self.holds.max(1e-9)).clamp(0.0, 1.0)
    }
}

#[cfg(test)]
mod tests {
    use super::{captured_by_grains, captured_per_pass, share_of_bacteria};

    /// Both shares add up, last is better for the bacteria by `1/(1 − η)`, and a medium in a tank
    /// whose colony is new gets nearly all even from the last place.
    #[test]
    fn last_is_better_by_what_the_medium_lets_through() {
        for (e, eta) in [(0.05, 0.4), (0.3, 0.4), (0.6, 0.9)] {
            let (last, first) = (
                share_of_bacteria(e, eta, false),
                share_of_bacteria(e, eta, true),
            );
            assert!((last / first - 1.0 / (1.0 - eta)).abs() < 1e-12 && last <= 1.0);
            // What the medium gets when it is last: (1 − e)·η of what is captured in all.
            let all = 1.0 - (1.0 - e) * (1.0 - eta);
            assert!((last + (1.0 - e) * eta / all - 1.0).abs() < 1e-12);
        }
        assert!(share_of_bacteria(0.01, 0.5, false) < 0.03);
        assert!(
            (share_of_bacteria(0.2, 0.0, true) - 1.0).abs() < 1e-12
                && share_of_bacteria(0.0, 0.0, true) == 0.0
        );
    }

    #[test]
    fn slower_water_is_caught_better_pass_by_pass_but_not_more_of_it() {
        let (slow, fast) = (captured_per_pass(2.0, 200.0), captured_per_pass(2.0, 400.0));
        assert!(
            slow > fast && fast * 400.0 > slow * 200.0 && fast * 400.0 < 1.4 * slow * 200.0,
            "{slow} {fast}"
        );
        assert!(captured_by_grains(0.5, 400.0, 10.0) > captured_by_grains(0.25, 400.0, 10.0));
    }
}
