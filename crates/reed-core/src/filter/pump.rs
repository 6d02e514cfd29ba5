//! What a pump gives: the head it holds at a flow.

/// The curve of a pump: head in m of water at a flow in L/h.
#[derive(Clone, Debug, PartialEq)]
pub enum Pump {
    /// The label's two ends with a straight line between: small pumps with a magnet for a rotor.
    Straight {
        /// Head at which nothing flows, m.
        most_head: f64,
        /// Flow against no head, L/h.
        most_flow: f64,
    },
    /// The label's two ends with a parabola between: what is assumed where nothing else is known.
    Label {
        /// Head at which nothing flows, m.
        most_head: f64,
        /// Flow against no head, L/h.
        most_flow: f64,
    },
    /// Points of a measured curve: flow in L/h and head in m, by rising flow.
    Points(Vec<(f64, f64)>),
}

/// A curve that no pump has.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum NotACurve {
    /// Too few points.
    #[error("{0} points make no curve; give two or more")]
    Few(usize),
    /// A flow or a head below nothing.
    #[error("point {place}: {value} is below nothing; flows and heads are 0 or more")]
    Negative {
        /// From 1.
        place: usize,
        /// What was given.
        value: f64,
    },
    /// A head that rises, or a flow that falls.
    #[error(
        "point {0}: a pump holds less head the more it moves; give points by rising flow and falling head"
    )]
    Rises(usize),
}

impl Pump {
    /// A curve through points of flow in L/h and head in m.
    ///
    /// # Errors
    /// When there are fewer than two, one is below nothing, or the head does not fall as the flow
    /// rises.
    pub fn through(points: Vec<(f64, f64)>) -> Result<Self, NotACurve> {
        if points.len() < 2 {
            return Err(NotACurve::Few(points.len()));
        }
        for (index, (flow, head)) in points.iter().enumerate() {
            let place = index + 1;
            if let Some(value) = [*flow, *head]
                .into_iter()
                .find(|value| value.is_nan() || *value < 0.0)
            {
                return Err(NotACurve::Negative { place, value });
            }
            let before = index.checked_sub(1).and_then(|before| points.get(before));
            if before.is_some_and(|before| before.0 >= *flow || before.1 <= *head) {
                return Err(NotACurve::Rises(place));
            }
        }
        Ok(Self::Points(points))
    }

    /// Head at a flow in L/h, m; below nothing where more flows than the pump can move by itself.
    pub fn head(&self, l_per_h: f64) -> f64 {
        match self {
            Self::Straight {
                most_head,
                most_flow,
            } => most_head * (1.0 - l_per_h / most_flow),
            Self::Label {
                most_head,
                most_flow,
            } => most_head * (1.0 - (l_per_h / most_flow).powi(2)),
            Self::Points(points) => between(points, l_per_h),
        }
    }

    /// Flow against no head, L/h.
    pub fn most_flow(&self) -> f64 {
        match self {
            Self::Straight { most_flow, .. } | Self::Label { most_flow, .. } => *most_flow,
            Self::Points(points) => {
                let ends = points.last_chunk::<2>();
                ends.map_or(0.0, |[(q1, h1), (q2, h2)]| q2 + h2 * (q2 - q1) / (h1 - h2))
            }
        }
    }
}

/// Straight lines through points, drawn out beyond the first and the last.
fn between(points: &[(f64, f64)], at: f64) -> f64 {
    let after = points.partition_point(|(flow, _)| *flow < at);
    let start = after.saturating_sub(1).min(points.len() - 2);
    let [(q1, h1), (q2, h2)] = [points[start], points[start + 1]];
    h1 + (at - q1) * (h2 - h1) / (q2 - q1)
}
