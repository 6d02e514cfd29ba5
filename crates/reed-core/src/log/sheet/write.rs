//! A log written as a sheet.

use crate::log::{Entry, On};
use crate::tank::Reading;
use crate::units::Units;

/// The columns of a sheet that this program writes.
///
/// `from` and `to`: moments by the clock beside the tank, the second only of a span. `what`: id of
/// an analyte or of a kind of entry. `value` and `unit`: as the keeper reads them. `spread`, `kit`:
/// of a reading. `on`: “filter 2” or a group of animals. `details`: as JSON. `withdrawn`: yes or
/// nothing.
pub const HEADER: [&str; 11] = [
    "from",
    "to",
    "what",
    "value",
    "unit",
    "spread",
    "kit",
    "on",
    "note",
    "details",
    "withdrawn",
];

/// Signs with which a spreadsheet begins a formula.
const FORMULA: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

/// A text that no spreadsheet takes for a formula.
pub(super) fn guarded(text: &str) -> String {
    if text.starts_with(FORMULA) || text.starts_with('\'') {
        format!("'{text}")
    } else {
        text.to_owned()
    }
}

/// The same as it was before.
pub(super) fn unguarded(text: &str) -> &str {
    match text.strip_prefix('\'') {
        Some(rest) if rest.starts_with(FORMULA) || rest.starts_with('\'') => rest,
        _ => text,
    }
}

/// Writes rows one after another.
pub struct Writer {
    csv: csv::Writer<Vec<u8>>,
    units: Units,
}

impl Writer {
    /// With the header written, in these units.
    pub fn new(units: Units) -> Self {
        let mut writer = Self {
            csv: csv::Writer::from_writer(Vec::new()),
            units,
        };
        writer.row(&HEADER.map(str::to_owned));
        writer
    }

    /// A reading, and whether it is withdrawn.
    pub fn reading(&mut self, reading: &Reading, withdrawn: bool) {
        let unit = self.units.of(reading.analyte.units);
        self.row(&[
            reading.taken_at.to_string(),
            String::new(),
            reading.analyte.id.to_owned(),
            unit.from_base(reading.value).to_string(),
            unit.symbol.to_owned(),
            (reading.spread / unit.factor).to_string(),
            reading
                .kit
                .map_or_else(String::new, |kit| kit.id.to_owned()),
            String::new(),
            String::new(),
            String::new(),
            yes(withdrawn),
        ]);
    }

    /// An entry, and whether it is withdrawn.
    pub fn entry(&mut self, entry: &Entry, withdrawn: bool) {
        let measure = entry.kind().and_then(|kind| kind.amount);
        let own = measure.and_then(|measure| measure.unit_for(&self.units));
        let unit = measure.map_or("", |measure| own.map_or(measure.unit, |own| own.symbol));
        let amount = entry
            .amount
            .map(|amount| own.map_or(amount, |own| own.from_base(amount)));
        self.row(&[
            entry.when.from.to_string(),
            if entry.when.is_exact() {
                String::new()
            } else {
                entry.when.to.to_string()
            },
            guarded(&entry.happening),
            amount.map_or_else(String::new, |amount| amount.to_string()),
            unit.to_owned(),
            String::new(),
            String::new(),
            match &entry.on {
                On::Tank => String::new(),
                On::Filter(number) => format!("filter {number}"),
                On::Group(name) => guarded(name),
            },
            guarded(&entry.note),
            if entry.details.is_empty() {
                String::new()
            } else {
                serde_json::to_string(&entry.details).expect("plain data can be written as JSON")
            },
            yes(withdrawn),
        ]);
    }

    /// The whole sheet.
    pub fn finish(self) -> String {
        let bytes = self.csv.into_inner().expect("memory takes all");
        String::from_utf8(bytes).expect("only text was written")
    }

    fn row(&mut self, cells: &[String; HEADER.len()]) {
        self.csv.write_record(cells).expect("memory takes all");
    }
}

fn yes(is: bool) -> String {
    if is { "yes".to_owned() } else { String::new() }
}
