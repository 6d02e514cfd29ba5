//! Writes SVG elements; numbers to a tenth of a millimetre at the scale of a centimetre to the
//! unit.

use std::fmt::{Display, Write as _};

/// A number to two decimals, without needless zeros. Pages hold thousands of them, and printing a
/// float exactly takes several times as long as printing two integers.
#[derive(Clone, Copy)]
pub(super) struct Num(pub(super) f64);

impl Display for Num {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        #[expect(
            clippy::cast_possible_truncation,
            reason = "drawings are metres large, and casts of what is not saturate"
        )]
        let hundredths = (self.0 * 100.0).round() as i64;
        let (sign, whole, part) = (
            if hundredths < 0 { "-" } else { "" },
            hundredths.unsigned_abs() / 100,
            hundredths.unsigned_abs() % 100,
        );
        f.write_str(sign)?;
        // A nought before the point says nothing.
        if whole > 0 || part == 0 {
            write!(f, "{whole}")?;
        }
        match part {
            0 => Ok(()),
            part if part % 10 == 0 => write!(f, ".{}", part / 10),
            part => write!(f, ".{part:02}"),
        }
    }
}

/// A growing piece of SVG.
pub(super) struct Pen(String);

impl Pen {
    pub(super) fn new() -> Self {
        Self(String::with_capacity(8 * 1024))
    }

    pub(super) fn finish(self) -> String {
        self.0
    }

    /// Markup as it is; text that a keeper typed goes through [`escaped`] first.
    pub(super) fn raw(&mut self, markup: impl Display) {
        // Writing to a string cannot fail.
        let _ = write!(self.0, "{markup}");
    }

    pub(super) fn rect(
        &mut self,
        class: &str,
        (x, y): (f64, f64),
        (width, height): (f64, f64),
        round: f64,
    ) {
        let [x, y, width, height, round] = [x, y, width.max(0.0), height.max(0.0), round].map(Num);
        self.raw(format_args!(r#"<rect class="{class}" x="{x}" y="{y}" width="{width}" height="{height}" rx="{round}"/>"#));
    }

    pub(super) fn circle(&mut self, class: &str, (x, y): (f64, f64), radius: f64) {
        let [x, y, radius] = [x, y, radius].map(Num);
        self.raw(format_args!(
            r#"<circle class="{class}" cx="{x}" cy="{y}" r="{radius}"/>"#
        ));
    }

    pub(super) fn line(&mut self, class: &str, from: (f64, f64), to: (f64, f64)) {
        let [ax, ay, bx, by] = [from.0, from.1, to.0, to.1].map(Num);
        self.raw(format_args!(
            r#"<path class="{class}" d="M{ax} {ay}L{bx} {by}"/>"#
        ));
    }

    pub(super) fn path(&mut self, class: &str, d: impl Display) {
        self.raw(format_args!(r#"<path class="{class}" d="{d}"/>"#));
    }

    pub(super) fn polygon(&mut self, class: &str, points: &[(f64, f64)]) {
        self.raw(format_args!(r#"<polygon class="{class}" points=""#));
        for (x, y) in points {
            self.raw(format_args!("{},{} ", Num(*x), Num(*y)));
        }
        self.raw(r#""/>"#);
    }

    pub(super) fn text(&mut self, class: &str, (x, y): (f64, f64), words: &str) {
        self.raw(format_args!(
            r#"<text class="{class}" x="{x:.1}" y="{y:.1}">{}</text>"#,
            escaped(words)
        ));
    }
}

/// Text that is safe inside markup and attributes.
pub(in crate::view) fn escaped(words: &str) -> String {
    words
        .replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
        .replace('"', "&quot;")
}

/// A number from 0 to 1 that looks like chance and is the same at every drawing (the finisher of a
/// common integer hash).
pub(super) fn scatter(index: u32) -> f64 {
    let mut mixed = index.wrapping_add(1).wrapping_mul(0x9E37_79B9);
    mixed = (mixed ^ (mixed >> 16)).wrapping_mul(0x85EB_CA6B);
    mixed = (mixed ^ (mixed >> 13)).wrapping_mul(0xC2B2_AE35);
    f64::from((mixed ^ (mixed >> 16)) % 1009) / 1008.0
}
