//! Prints the JSON Schema of case files as the types have it:
//! `cargo run -p reed-core --features schema --example schema > docs/case-document.schema.json`.

use reed_core::document::Document;

fn main() {
    print!("{}", Document::derived_schema());
}
