//! Arithmetic on long stretches of numbers, eight at a time where the machine can.
//!
//! Each of these, and the other hot loops of the crate, exists twice: for any machine and for one
//! with AVX2, chosen while running. Sums are taken in eight lanes on both, and no multiplication is
//! fused with an addition, so that both give the same bits.

use multiversion::multiversion;

/// The smaller of two numbers, neither of which is NaN: one instruction, where `f32::min` takes
/// four.
#[inline(always)]
pub(crate) fn least(one: f32, other: f32) -> f32 {
    if one < other { one } else { other }
}

/// The larger of two numbers, neither of which is NaN.
#[inline(always)]
pub(crate) fn most(one: f32, other: f32) -> f32 {
    if one > other { one } else { other }
}

/// Largest absolute value.
#[multiversion(targets("x86_64+avx2"))]
pub(crate) fn largest(values: &[f32]) -> f32 {
    let (eights, rest) = values.as_chunks::<8>();
    let mut lanes = [0.0_f32; 8];
    for eight in eights {
        for (lane, value) in lanes.iter_mut().zip(eight) {
            *lane = most(*lane, value.abs());
        }
    }
    lanes
        .iter()
        .chain(rest)
        .fold(0.0, |so_far, value| most(so_far, value.abs()))
}

/// Sum of products.
#[multiversion(targets("x86_64+avx2"))]
pub(crate) fn dot(one: &[f32], other: &[f32]) -> f64 {
    let ((ones, one_rest), (others, other_rest)) = (one.as_chunks::<8>(), other.as_chunks::<8>());
    let mut lanes = [0.0_f32; 8];
    for (one, other) in ones.iter().zip(others) {
        for (lane, (a, b)) in lanes.iter_mut().zip(one.iter().zip(other)) {
            *lane += a * b;
        }
    }
    let rest = one_rest
        .iter()
        .zip(other_rest)
        .map(|(a, b)| f64::from(a * b));
    lanes.into_iter().map(f64::from).chain(rest).sum()
}

/// `into += share · more`.
#[multiversion(targets("x86_64+avx2"))]
pub(crate) fn add(into: &mut [f32], share: f32, more: &[f32]) {
    for (into, more) in into.iter_mut().zip(more) {
        *into += share * more;
    }
}

/// `into = more + keep · into`.
#[multiversion(targets("x86_64+avx2"))]
pub(crate) fn blend(into: &mut [f32], keep: f32, more: &[f32]) {
    for (into, more) in into.iter_mut().zip(more) {
        *into = more + keep * *into;
    }
}

#[cfg(test)]
mod tests {
    use super::{dot, largest};

    #[test]
    fn sums_and_maxima_take_in_every_number_whatever_the_length() {
        for length in [0_u8, 1, 7, 8, 9, 31] {
            let values: Vec<f32> = (0..length).map(|n| -f32::from(n)).collect();
            let ones = vec![1.0; values.len()];
            assert!((largest(&values) - f32::from(length.max(1) - 1)).abs() < 1e-9);
            assert!(
                (dot(&values, &ones) + f64::from(length) * (f64::from(length) - 1.0) / 2.0).abs()
                    < 1e-9
            );
        }
    }
}
