//! Upright bodies: a footprint, an underside and a top. All numbers in centimetres of the tank's
//! own coordinates.

/// The outline seen from above.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Footprint {
    /// A rectangle around its middle, turned by degrees from the right towards the back.
    Rect {
        /// Middle, from the left.
        x: f64,
        /// Middle, from the front.
        y: f64,
        /// Size along its own first side.
        length: f64,
        /// Size along its own second side.
        width: f64,
        /// Turned by so many degrees.
        turn: f64,
    },
    /// A circle.
    Round {
        /// Middle, from the left.
        x: f64,
        /// Middle, from the front.
        y: f64,
        /// Half its width.
        radius: f64,
    },
}

/// What a thing takes up.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Body {
    /// Seen from above.
    pub footprint: Footprint,
    /// Height of the underside above the floor.
    pub bottom: f64,
    /// Height of the top above the floor.
    pub top: f64,
}

/// Touching is not overlapping: what is less than this, in cm, is a keeper's rounding. A judgement.
const TOUCH: f64 = 0.1;

impl Footprint {
    /// Area, cm².
    pub fn area(&self) -> f64 {
        match self {
            Self::Rect { length, width, .. } => length * width,
            Self::Round { radius, .. } => std::f64::consts::PI * radius * radius,
        }
    }

    /// Corners of a rectangle in order; of a circle, none.
    pub fn corners(&self) -> Vec<(f64, f64)> {
        match *self {
            Self::Rect {
                x,
                y,
                length,
                width,
                turn,
            } => {
                let (sin, cos) = turn.to_radians().sin_cos();
                let corner = |(a, b): (f64, f64)| {
                    let (along, across) = (a * length / 2.0, b * width / 2.0);
                    (
                        x + along * cos - across * sin,
                        y + along * sin + across * cos,
                    )
                };
                [(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)]
                    .map(corner)
                    .to_vec()
            }
            Self::Round { .. } => Vec::new(),
        }
    }

    /// Lowest and highest x, lowest and highest y.
    pub fn bounds(&self) -> (f64, f64, f64, f64) {
        match *self {
            Self::Round { x, y, radius } => (x - radius, x + radius, y - radius, y + radius),
            Self::Rect { .. } => self.corners().into_iter().fold(
                (
                    f64::INFINITY,
                    f64::NEG_INFINITY,
                    f64::INFINITY,
                    f64::NEG_INFINITY,
                ),
                |(x0, x1, y0, y1), (x, y)| (x0.min(x), x1.max(x), y0.min(y), y1.max(y)),
            ),
        }
    }

    /// The two overlap, by more than a touch.
    pub fn overlaps(&self, other: &Self) -> bool {
        match (*self, *other) {
            (
                Self::Round { x, y, radius },
                Self::Round {
                    x: ox,
                    y: oy,
                    radius: other,
                },
            ) => (x - ox).hypot(y - oy) < radius + other - TOUCH,
            (Self::Round { x, y, radius }, rect @ Self::Rect { .. })
            | (rect @ Self::Rect { .. }, Self::Round { x, y, radius }) => {
                rect.distance_to(x, y) < radius - TOUCH
            }
            (
                Self::Rect { turn, .. },
                Self::Rect {
                    turn: other_turn, ..
                },
            ) => {
                // Convex shapes are apart exactly when their shadows are apart along the direction
                // of one of their sides.
                let directions = [turn, turn + 90.0, other_turn, other_turn + 90.0];
                let (corners, others) = (self.corners(), other.corners());
                directions.iter().all(|direction| {
                    let (low, high) = shadow(&corners, *direction);
                    let (other_low, other_high) = shadow(&others, *direction);
                    low < other_high - TOUCH && other_low < high - TOUCH
                })
            }
        }
    }

    /// Distance of a point from a rectangle; zero inside.
    fn distance_to(&self, px: f64, py: f64) -> f64 {
        let Self::Rect {
            x,
            y,
            length,
            width,
            turn,
        } = *self
        else {
            return f64::INFINITY;
        };
        let (sin, cos) = turn.to_radians().sin_cos();
        let (dx, dy) = (px - x, py - y);
        let along = ((dx * cos + dy * sin).abs() - length / 2.0).max(0.0);
        let across = ((dy * cos - dx * sin).abs() - width / 2.0).max(0.0);
        along.hypot(across)
    }
}

/// The shadow of points on a line in this direction.
fn shadow(points: &[(f64, f64)], degrees: f64) -> (f64, f64) {
    let (sin, cos) = degrees.to_radians().sin_cos();
    points
        .iter()
        .map(|(x, y)| x * cos + y * sin)
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), at| {
            (low.min(at), high.max(at))
        })
}

impl Body {
    /// An upright cylinder.
    pub const fn round((x, y): (f64, f64), across: f64, (bottom, top): (f64, f64)) -> Self {
        Self {
            footprint: Footprint::Round {
                x,
                y,
                radius: across / 2.0,
            },
            bottom,
            top,
        }
    }

    /// A box around its middle.
    pub const fn boxed(
        (x, y): (f64, f64),
        (length, width): (f64, f64),
        (bottom, top): (f64, f64),
    ) -> Self {
        Self {
            footprint: Footprint::Rect {
                x,
                y,
                length,
                width,
                turn: 0.0,
            },
            bottom,
            top,
        }
    }

    /// The same, turned.
    #[must_use]
    pub fn turned(mut self, degrees: f64) -> Self {
        if let Footprint::Rect { turn, .. } = &mut self.footprint {
            *turn += degrees;
        }
        self
    }

    /// The two take up the same space somewhere, by more than a touch.
    pub fn overlaps(&self, other: &Self) -> bool {
        self.bottom < other.top - TOUCH
            && other.bottom < self.top - TOUCH
            && self.footprint.overlaps(&other.footprint)
    }

    /// Litres of it between two heights.
    pub fn litres_between(&self, low: f64, high: f64) -> f64 {
        self.footprint.area() * (self.top.min(high) - self.bottom.max(low)).max(0.0) / 1000.0
    }
}

#[cfg(test)]
mod tests {
    use super::{Body, Footprint};

    fn rect(x: f64, y: f64, length: f64, width: f64, turn: f64) -> Footprint {
        Footprint::Rect {
            x,
            y,
            length,
            width,
            turn,
        }
    }

    #[test]
    fn turned_boxes_overlap_only_where_they_do() {
        let still = rect(0.0, 0.0, 10.0, 10.0, 0.0);
        // Corner to corner: half the diagonal is 7.07.
        assert!(still.overlaps(&rect(11.5, 0.0, 10.0, 10.0, 45.0)));
        assert!(!still.overlaps(&rect(12.5, 0.0, 10.0, 10.0, 45.0)));
        // Bounds overlap, the boxes do not.
        assert!(!still.overlaps(&rect(9.5, 9.5, 10.0, 10.0, 45.0)));
        assert!(
            !still.overlaps(&rect(10.0, 0.0, 10.0, 10.0, 0.0)),
            "touching is not overlapping"
        );
        let round = Footprint::Round {
            x: 9.0,
            y: 9.0,
            radius: 5.0,
        };
        assert!(!still.overlaps(&round), "the corner is 5.7 away");
        assert!(
            round.overlaps(&rect(5.0, 5.0, 3.0, 3.0, 30.0))
                && still.overlaps(&Footprint::Round {
                    x: 9.0,
                    y: 0.0,
                    radius: 5.0
                })
        );
    }

    /// Closed forms: a box is length · width · height, a cylinder π r² h, and a turn changes
    /// neither.
    #[test]
    fn volumes_are_those_of_closed_forms() {
        let boxed = Body::boxed((5.0, 5.0), (20.0, 10.0), (0.0, 15.0));
        assert!((boxed.litres_between(0.0, 100.0) - 3.0).abs() < 1e-12);
        assert!((boxed.turned(33.0).litres_between(5.0, 10.0) - 1.0).abs() < 1e-12);
        let round = Body::round((0.0, 0.0), 20.0, (10.0, 40.0));
        assert!((round.litres_between(0.0, 100.0) - std::f64::consts::PI * 3.0).abs() < 1e-12);
        assert!((round.litres_between(41.0, 100.0)).abs() < 1e-12);
        let (x0, x1, y0, y1) = rect(0.0, 0.0, 10.0, 10.0, 45.0).bounds();
        assert!(
            (x1 - x0 - 200.0_f64.sqrt()).abs() < 1e-9 && (y1 - y0 - 200.0_f64.sqrt()).abs() < 1e-9
        );
    }
}
