//! Placeholder while dependencies compile.
