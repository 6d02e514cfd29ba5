//! The two views and how places of the tank fall on them. Units are centimetres; y grows downwards,
//! as SVG has it.

use reed_core::tank::Tank;
use reed_core::tank::thing::{Body, Footprint, Heading};

/// From where the tank is seen.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Side {
    /// Through the front pane: x to the right, z up.
    Front,
    /// From above: x to the right, the back at the top.
    Above,
}

/// A view of one tank.
#[derive(Clone, Copy)]
pub(super) struct View {
    pub(super) side: Side,
    /// Inside, cm.
    pub(super) length: f64,
    pub(super) width: f64,
    pub(super) height: f64,
    /// Height of the water, cm.
    pub(super) level: f64,
    pub(super) bed: f64,
}

impl View {
    pub(super) fn of(tank: &Tank, side: Side) -> Self {
        Self {
            side,
            length: tank.glass.length.as_cm(),
            width: tank.glass.width.as_cm(),
            height: tank.glass.height.as_cm(),
            level: tank.water_depth.as_cm(),
            bed: tank.bed_level_cm(),
        }
    }

    /// Size of the picture of the glass.
    pub(super) fn size(&self) -> (f64, f64) {
        match self.side {
            Side::Front => (self.length, self.height),
            Side::Above => (self.length, self.width),
        }
    }

    /// Where a place falls.
    pub(super) fn place(&self, x: f64, y: f64, z: f64) -> (f64, f64) {
        match self.side {
            Side::Front => (x, self.height - z),
            Side::Above => (x, self.width - y),
        }
    }

    /// Where a stream goes on the picture, for each centimetre that it goes in space.
    pub(super) fn direction(&self, heading: Heading) -> (f64, f64) {
        let (around, up) = (
            heading.around.as_degrees().to_radians(),
            heading.up.as_degrees().to_radians(),
        );
        match self.side {
            Side::Front => (around.cos() * up.cos(), -up.sin()),
            Side::Above => (around.cos() * up.cos(), -around.sin() * up.cos()),
        }
    }

    /// The outline of a body.
    pub(super) fn outline(&self, body: &Body) -> Outline {
        let (x0, x1, y0, y1) = body.footprint.bounds();
        match self.side {
            Side::Front => Outline::Box {
                x: x0,
                y: self.height - body.top,
                width: x1 - x0,
                height: body.top - body.bottom,
            },
            Side::Above => match body.footprint {
                Footprint::Round { x, y, radius } => Outline::Circle {
                    x,
                    y: self.width - y,
                    radius,
                },
                Footprint::Rect { turn, .. } if turn % 90.0 == 0.0 => Outline::Box {
                    x: x0,
                    y: self.width - y1,
                    width: x1 - x0,
                    height: y1 - y0,
                },
                Footprint::Rect { .. } => Outline::Polygon(
                    body.footprint
                        .corners()
                        .into_iter()
                        .map(|(x, y)| (x, self.width - y))
                        .collect(),
                ),
            },
        }
    }
}

/// What a body looks like on a view.
pub(super) enum Outline {
    Box {
        x: f64,
        y: f64,
        width: f64,
        height: f64,
    },
    Circle {
        x: f64,
        y: f64,
        radius: f64,
    },
    Polygon(Vec<(f64, f64)>),
}

impl Outline {
    /// Left, top, width, height.
    pub(super) fn bounds(&self) -> (f64, f64, f64, f64) {
        match self {
            Self::Box {
                x,
                y,
                width,
                height,
            } => (*x, *y, *width, *height),
            Self::Circle { x, y, radius } => (x - radius, y - radius, 2.0 * radius, 2.0 * radius),
            Self::Polygon(points) => {
                let (x0, x1, y0, y1) = points.iter().fold(
                    (
                        f64::INFINITY,
                        f64::NEG_INFINITY,
                        f64::INFINITY,
                        f64::NEG_INFINITY,
                    ),
                    |(x0, x1, y0, y1), (x, y)| (x0.min(*x), x1.max(*x), y0.min(*y), y1.max(*y)),
                );
                (x0, y0, x1 - x0, y1 - y0)
            }
        }
    }
}
