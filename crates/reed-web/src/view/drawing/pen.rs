//! Writes SVG elements; numbers to a tenth of a millimetre at the scale of a centimetre to the unit.

use std::fmt::{Display, Write as _};

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

    pub(super) fn rect(&mut self, class: &str, (x, y): (f64, f64), (width, height): (f64, f64), round: f64) {
        let (width, height) = (width.max(0.0), height.max(0.0));
        self.raw(format_args!(r#"<rect class="{class}" x="{x:.2}" y="{y:.2}" width="{width:.2}" height="{height:.2}" rx="{round:.2}"/>"#));
    }

    pub(super) fn circle(&mut self, class: &str, (x, y): (f64, f64), radius: f64) {
        self.raw(format_args!(r#"<circle class="{class}" cx="{x:.2}" cy="{y:.2}" r="{radius:.2}"/>"#));
    }

    pub(super) fn line(&mut self, class: &str, from: (f64, f64), to: (f64, f64)) {
        self.raw(format_args!(r#"<path class="{class}" d="M{:.2} {:.2}L{:.2} {:.2}"/>"#, from.0, from.1, to.0, to.1));
    }

    pub(super) fn path(&mut self, class: &str, d: impl Display) {
        self.raw(format_args!(r#"<path class="{class}" d="{d}"/>"#));
    }

    pub(super) fn polygon(&mut self, class: &str, points: &[(f64, f64)]) {
        self.raw(format_args!(r#"<polygon class="{class}" points=""#));
        for (x, y) in points {
            self.raw(format_args!("{x:.2},{y:.2} "));
        }
        self.raw(r#""/>"#);
    }

    pub(super) fn text(&mut self, class: &str, (x, y): (f64, f64), words: &str) {
        self.raw(format_args!(r#"<text class="{class}" x="{x:.1}" y="{y:.1}">{}</text>"#, escaped(words)));
    }
}

/// Text that is safe inside markup and attributes.
pub(super) fn escaped(words: &str) -> String {
    words.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

/// A number from 0 to 1 that looks like chance and is the same at every drawing (the finisher of a common integer hash).
pub(super) fn scatter(index: u32) -> f64 {
    let mut mixed = index.wrapping_add(1).wrapping_mul(0x9E37_79B9);
    mixed = (mixed ^ (mixed >> 16)).wrapping_mul(0x85EB_CA6B);
    mixed = (mixed ^ (mixed >> 13)).wrapping_mul(0xC2B2_AE35);
    f64::from((mixed ^ (mixed >> 16)) % 1009) / 1008.0
}
