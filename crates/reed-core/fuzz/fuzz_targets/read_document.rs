//! Any bytes as a file.
#![no_main]

#[path = "../property.rs"]
mod property;

libfuzzer_sys::fuzz_target!(|text: &str| property::holds(text));
