//! Reading the reference tables.

use std::collections::HashMap;
use std::path::PathBuf;

/// One row of a table.
pub struct Row {
    columns: HashMap<String, String>,
}

impl Row {
    /// The text of a column.
    ///
    /// # Panics
    /// When the table has no such column.
    pub fn text(&self, column: &str) -> &str {
        self.columns
            .get(column)
            .unwrap_or_else(|| panic!("no column {column}"))
    }

    /// The number in a column.
    ///
    /// # Panics
    /// When there is no number.
    pub fn number(&self, column: &str) -> f64 {
        self.text(column)
            .parse()
            .unwrap_or_else(|_| panic!("{column} is {}", self.text(column)))
    }
}

/// The text of a file in `reference/`.
///
/// # Panics
/// When there is no such file.
pub fn text(file: &str) -> String {
    let path = PathBuf::from(env!("CARGO_MANIFEST_DIR"))
        .join("reference")
        .join(file);
    std::fs::read_to_string(&path).unwrap_or_else(|error| panic!("{}: {error}", path.display()))
}

/// The rows of a table in `reference/`.
///
/// # Panics
/// When there is no such table.
pub fn rows(file: &str) -> Vec<Row> {
    let text = text(file);
    let mut lines = text
        .lines()
        .filter(|line| !line.starts_with('#') && !line.is_empty());
    let head: Vec<&str> = lines.next().expect("a header row").split(',').collect();
    lines
        .map(|line| Row {
            columns: head
                .iter()
                .map(ToString::to_string)
                .zip(line.split(',').map(str::to_owned))
                .collect(),
        })
        .collect()
}
