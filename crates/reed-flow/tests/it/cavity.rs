//! The driven cavity.

use crate::cases::cavity::{GHIA_U, PUBLISHED, driven};

#[test]
fn the_driven_cavity_reaches_the_spectral_extrema_and_the_published_profile() {
    let cavity = driven(64);
    for (found, published) in cavity.extrema.into_iter().zip(PUBLISHED) {
        assert!(
            (found / published - 1.0).abs() < 0.02,
            "{found} where {published} was published"
        );
    }
    for (height, published) in GHIA_U {
        let above = cavity
            .u
            .iter()
            .position(|(at, _)| *at > height)
            .expect("below the lid");
        let ((low, one), (high, other)) = (cavity.u[above - 1], cavity.u[above]);
        let found = one + (height - low) / (high - low) * (other - one);
        assert!(
            (found - published).abs() < 0.01,
            "{found} at {height} where {published} was published"
        );
    }
    assert!(cavity.divergence < 1e-4, "{}", cavity.divergence);
}
