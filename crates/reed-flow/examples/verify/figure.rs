//! Figures as SVG, drawn by hand: curves with marks, and a tank with arrows.

use std::fmt::Write as _;

use reed_flow::measure::{BINS, Deposit};
use reed_flow::{Field, Outline, Scene};

/// A line through points.
pub(crate) struct Curve {
    /// In the legend.
    pub(crate) name: &'static str,
    /// x and y.
    pub(crate) points: Vec<(f32, f32)>,
}

/// Points of their own.
pub(crate) struct Mark {
    /// In the legend.
    pub(crate) name: &'static str,
    /// x and y.
    pub(crate) points: Vec<(f32, f32)>,
}

/// A figure with axes.
pub(crate) struct Figure {
    /// Above it.
    pub(crate) title: &'static str,
    /// Along it.
    pub(crate) x: &'static str,
    /// Beside it.
    pub(crate) y: &'static str,
}

const STYLE: &str =
    "<style>text{font:13px sans-serif;fill:#17302e}.soft{fill:#4c615c}path{fill:none}</style>";
const COLOURS: [&str; 5] = ["#256650", "#b8622d", "#4f8c8f", "#17302e", "#8a6d1d"];
const DASHES: [&str; 5] = ["", "7 3", "2 3", "10 3 2 3", "4 4"];

impl Figure {
    /// Draws it.
    pub(crate) fn draw(&self, curves: &[Curve], marks: &[Mark]) -> String {
        let all = || {
            curves
                .iter()
                .flat_map(|curve| &curve.points)
                .chain(marks.iter().flat_map(|mark| &mark.points))
        };
        let span = |of: fn(&(f32, f32)) -> f32| {
            let (low, high) = all()
                .map(of)
                .fold((f32::INFINITY, f32::NEG_INFINITY), |(low, high), value| {
                    (low.min(value), high.max(value))
                });
            axis(low.min(0.0), high)
        };
        let (xs, ys) = (span(|point| point.0), span(|point| point.1));
        let right = |x: f32| 60.0 + 430.0 * (x - xs.0) / (xs.1 - xs.0);
        let down = |y: f32| 330.0 - 290.0 * (y - ys.0) / (ys.1 - ys.0);
        let mut out = format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 680 380\" role=\"img\"><title>{0}</title>{STYLE}<rect width=\"680\" height=\"380\" \
             fill=\"#fdfcf7\"/><text x=\"60\" y=\"24\" font-weight=\"bold\">{0}</text>",
            self.title
        );
        for y in ticks(ys) {
            let at = down(y);
            let _ = write!(
                out,
                "<path d=\"M60 {at:.1}H490\" stroke=\"#cfd2c2\"/><text class=\"soft\" x=\"54\" y=\"{:.1}\" text-anchor=\"end\">{}</text>",
                at + 4.0,
                (y * 100.0).round() / 100.0
            );
        }
        for x in ticks(xs) {
            let at = right(x);
            let _ = write!(
                out,
                "<path d=\"M{at:.1} 40V330\" stroke=\"#cfd2c2\"/><text class=\"soft\" x=\"{at:.1}\" y=\"347\" text-anchor=\"middle\">{}</text>",
                (x * 100.0).round() / 100.0
            );
        }
        let _ = write!(
            out,
            "<text class=\"soft\" x=\"275\" y=\"370\" text-anchor=\"middle\">{}</text><text class=\"soft\" transform=\"translate(16 185) rotate(-90)\" \
             text-anchor=\"middle\">{}</text>",
            self.x, self.y
        );
        let mut legend = 60.0;
        for (index, curve) in curves.iter().enumerate() {
            let (colour, dash) = (COLOURS[index % COLOURS.len()], DASHES[index % DASHES.len()]);
            let path: String = curve
                .points
                .iter()
                .enumerate()
                .map(|(n, (x, y))| {
                    format!(
                        "{}{:.1} {:.1}",
                        if n == 0 { 'M' } else { 'L' },
                        right(*x),
                        down(*y)
                    )
                })
                .collect();
            let line =
                format!("stroke=\"{colour}\" stroke-width=\"2\" stroke-dasharray=\"{dash}\"");
            let _ = write!(
                out,
                "<path d=\"{path}\" {line}/><path d=\"M505 {0}h30\" {line}/><text x=\"542\" y=\"{1}\">{2}</text>",
                legend,
                legend + 4.0,
                curve.name
            );
            legend += 22.0;
        }
        for mark in marks {
            for (x, y) in &mark.points {
                let _ = write!(
                    out,
                    "<circle cx=\"{:.1}\" cy=\"{:.1}\" r=\"4\" fill=\"none\" stroke=\"#a32a1c\" stroke-width=\"1.5\"/>",
                    right(*x),
                    down(*y)
                );
            }
            let _ = write!(
                out,
                "<circle cx=\"520\" cy=\"{legend}\" r=\"4\" fill=\"none\" stroke=\"#a32a1c\" stroke-width=\"1.5\"/><text x=\"542\" y=\"{}\">{}</text>",
                legend + 4.0,
                mark.name
            );
            legend += 22.0;
        }
        out.push_str("</svg>\n");
        out
    }
}

/// A step of 1, 2 or 5 times a power of ten, of which a span takes some five.
fn step(low: f32, high: f32) -> f32 {
    let rough = (high - low) / 5.0;
    let power = 10.0_f32.powf(rough.log10().floor());
    [1.0, 2.0, 5.0, 10.0]
        .into_iter()
        .map(|times| times * power)
        .find(|step| *step >= rough)
        .unwrap_or(rough)
}

/// The span of an axis that holds both, from step to step.
fn axis(low: f32, high: f32) -> (f32, f32) {
    let step = step(low, high);
    ((low / step).floor() * step, (high / step).ceil() * step)
}

fn ticks((low, high): (f32, f32)) -> impl Iterator<Item = f32> {
    let step = step(low, high);
    (0..=12_u8)
        .map(move |index| low + f32::from(index) * step)
        .take_while(move |tick| *tick <= high + step / 100.0)
}

/// Pixels to a metre.
const SCALE: f32 = 480.0;

/// The mean flow over the depth seen from the front, with arrows; below it where muck rests, seen
/// from above.
pub(crate) fn arrows(field: &Field, scene: &Scene, deposit: &Deposit) -> String {
    let [length, depth, height] = scene.size;
    let (left, top) = (30.0, 40.0);
    let above = top + SCALE * height + 50.0;
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {:.0} {:.0}\" role=\"img\"><title>The loop from the front, the muck from above</title>{STYLE}\
         <rect width=\"100%\" height=\"100%\" fill=\"#fdfcf7\"/><text x=\"{left}\" y=\"26\" font-weight=\"bold\">From the front: mean over the depth, arrows \
         of 2 s</text><rect x=\"{left}\" y=\"{top}\" width=\"{:.1}\" height=\"{:.1}\" fill=\"#cfe3e2\" stroke=\"#17302e\"/>",
        SCALE * length + 60.0,
        above + SCALE * depth + 20.0,
        SCALE * length,
        SCALE * height
    );
    for solid in &scene.solids {
        let [width, deep] = match solid.outline {
            Outline::Rectangle { size, .. } => size,
            Outline::Circle(radius) => [2.0 * radius; 2],
        };
        let corner = |x: f32| left + SCALE * x;
        let _ = write!(
            out,
            "<rect x=\"{0:.1}\" y=\"{1:.1}\" width=\"{2:.1}\" height=\"{3:.1}\" fill=\"#8b9087\"/><rect x=\"{0:.1}\" y=\"{4:.1}\" width=\"{2:.1}\" \
             height=\"{5:.1}\" fill=\"#8b9087\"/>",
            corner(solid.foot[0] - width / 2.0),
            top + SCALE * (height - solid.foot[2] - solid.height),
            SCALE * width,
            SCALE * solid.height,
            above + SCALE * (depth - solid.foot[1] - deep / 2.0),
            SCALE * deep
        );
    }
    for column in 0..16_u8 {
        for row in 0..7_u8 {
            let (x, z) = (
                (f32::from(column) + 0.5) / 16.0 * length,
                (f32::from(row) + 0.5) / 7.0 * height,
            );
            let through = (0..9_u8).map(|step| {
                field
                    .at([x, (f32::from(step) + 0.5) / 9.0 * depth, z])
                    .speed
            });
            let (u, w) = through.fold((0.0, 0.0), |(u, w), speed| {
                (u + speed[0] / 9.0, w + speed[2] / 9.0)
            });
            let (from, to) = (
                (left + SCALE * x, top + SCALE * (height - z)),
                (
                    left + SCALE * (x + 2.0 * u),
                    top + SCALE * (height - z - 2.0 * w),
                ),
            );
            let _ = write!(
                out,
                "<path d=\"M{:.1} {:.1}L{:.1} {:.1}\" stroke=\"#17302e\" stroke-width=\"1.4\"/><circle cx=\"{:.1}\" cy=\"{:.1}\" r=\"2.2\" fill=\"#17302e\"/>",
                from.0, from.1, to.0, to.1, to.0, to.1
            );
        }
    }
    let _ = write!(
        out,
        "<text x=\"{left}\" y=\"{:.1}\" font-weight=\"bold\">From above, the back at the top: percent of all muck that rests; caught {:.0} %</text>",
        above - 12.0,
        100.0 * deposit.caught.iter().sum::<f32>()
    );
    for (row, cells) in deposit.rests.iter().enumerate() {
        for (column, share) in cells.iter().enumerate() {
            let (width, high) = (
                SCALE * length / BINS[0] as f32,
                SCALE * depth / BINS[1] as f32,
            );
            let (x, y) = (
                left + width * column as f32,
                above + SCALE * depth - high * (row + 1) as f32,
            );
            let _ = write!(
                out,
                "<rect x=\"{x:.1}\" y=\"{y:.1}\" width=\"{width:.1}\" height=\"{high:.1}\" fill=\"#b8622d\" fill-opacity=\"{:.2}\" stroke=\"#cfd2c2\"/><text \
                 x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"middle\">{:.0}</text>",
                (share * 3.0).min(0.8),
                x + width / 2.0,
                y + high / 2.0 + 4.0,
                100.0 * share
            );
        }
    }
    let dot = |[x, y, z]: [f32; 3], colour: &str| {
        format!(
            "<circle cx=\"{0:.1}\" cy=\"{1:.1}\" r=\"6\" fill=\"{colour}\"/><circle cx=\"{0:.1}\" cy=\"{2:.1}\" r=\"6\" fill=\"{colour}\"/>",
            left + SCALE * x,
            top + SCALE * (height - z),
            above + SCALE * (depth - y)
        )
    };
    scene
        .movers
        .nozzles
        .iter()
        .for_each(|nozzle| out.push_str(&dot(nozzle.at, "#f2b233")));
    scene
        .movers
        .drains
        .iter()
        .for_each(|drain| out.push_str(&dot(drain.at, "#256650")));
    out.push_str("</svg>\n");
    out
}
