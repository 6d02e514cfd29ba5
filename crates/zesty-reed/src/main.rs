//! Placeholder while dependencies compile.
fn main() {}
