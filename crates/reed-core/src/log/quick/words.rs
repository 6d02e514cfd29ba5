//! The words of the quick line that are not those of a kind of entry.

use crate::tank::Analyte;

/// What keepers type for what they measure, in small letters; a longer one is looked for first.
pub(super) const ANALYTES: &[(&str, &Analyte)] = &[
    ("tap ammonia", Analyte::TAP_AMMONIA),
    ("tap nitrate", Analyte::TAP_NITRATE),
    ("tap no3", Analyte::TAP_NITRATE),
    ("tap ph", Analyte::TAP_PH),
    ("tap kh", Analyte::TAP_KH),
    ("tap gh", Analyte::TAP_GH),
    ("temperature", Analyte::TEMPERATURE),
    ("temp", Analyte::TEMPERATURE),
    ("oxygen", Analyte::OXYGEN),
    ("o2", Analyte::OXYGEN),
    ("do", Analyte::OXYGEN),
    ("ammonia", Analyte::AMMONIA),
    ("ammonium", Analyte::AMMONIA),
    ("nh3", Analyte::AMMONIA),
    ("nh4", Analyte::AMMONIA),
    ("tan", Analyte::AMMONIA),
    ("nitrite", Analyte::NITRITE),
    ("no2", Analyte::NITRITE),
    ("nitrate", Analyte::NITRATE),
    ("no3", Analyte::NITRATE),
    ("phosphate", Analyte::PHOSPHATE),
    ("po4", Analyte::PHOSPHATE),
    ("copper", Analyte::COPPER),
    ("cu", Analyte::COPPER),
    ("carbonate hardness", Analyte::KH),
    ("kh", Analyte::KH),
    ("general hardness", Analyte::GH),
    ("gh", Analyte::GH),
    ("ph", Analyte::PH),
    ("flow", Analyte::FLOW),
];

/// What is known by its unit alone.
pub(super) const BY_UNIT: &[(&[&str], &Analyte)] = &[
    (&["c", "°c", "f", "°f", "degrees"], Analyte::TEMPERATURE),
    (&["dkh", "°dkh"], Analyte::KH),
    (&["dgh", "°dgh"], Analyte::GH),
    (&["l/h", "gph"], Analyte::FLOW),
];

/// Words that say nothing by themselves.
pub(super) const FILLERS: &[&str] = &[
    "a", "an", "the", "my", "our", "some", "of", "at", "on", "in", "from", "with", "for", "was",
    "is", "were", "by", "about", "i", "we", "has", "have", "been", "did",
];

/// Numbers that people write out.
pub(super) const NUMBERS: &[(&str, f64)] = &[
    ("zero", 0.0),
    ("none", 0.0),
    ("half", 0.5),
    ("one", 1.0),
    ("two", 2.0),
    ("three", 3.0),
    ("four", 4.0),
    ("five", 5.0),
    ("six", 6.0),
    ("seven", 7.0),
    ("eight", 8.0),
    ("nine", 9.0),
    ("ten", 10.0),
    ("twelve", 12.0),
];

/// Units of an amount beside its own: as typed, and by what that is multiplied to come to it.
pub(super) const UNITS: &[(&str, &[(&str, f64)])] = &[
    (
        "h",
        &[
            ("h", 1.0),
            ("hour", 1.0),
            ("hours", 1.0),
            ("hrs", 1.0),
            ("min", 1.0 / 60.0),
            ("minutes", 1.0 / 60.0),
            ("day", 24.0),
            ("days", 24.0),
        ],
    ),
    (
        "L",
        &[
            ("l", 1.0),
            ("litre", 1.0),
            ("litres", 1.0),
            ("liter", 1.0),
            ("liters", 1.0),
            ("ml", 0.001),
        ],
    ),
    ("times as much", &[("x", 1.0), ("times", 1.0)]),
    (
        "",
        &[
            ("€", 1.0),
            ("$", 1.0),
            ("£", 1.0),
            ("euro", 1.0),
            ("euros", 1.0),
            ("dollars", 1.0),
            ("pounds", 1.0),
        ],
    ),
    ("mg/L N", &[("mg/l", 1.0), ("ppm", 1.0)]),
];

/// A phrase is looked at as a time only if it holds one of these, or an hour or a date in figures.
pub(super) const TIMES: &[&str] = &[
    "now",
    "today",
    "tonight",
    "yesterday",
    "tomorrow",
    "noon",
    "midnight",
    "ago",
    "week",
    "month",
    "months",
    "year",
    "years",
    "day",
    "days",
    "hour",
    "hours",
    "am",
    "pm",
];
