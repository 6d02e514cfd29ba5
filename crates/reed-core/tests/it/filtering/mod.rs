//! Filters as they stand: the path of the water, the order of the media, dirt, air, sumps, hoses,
//! service.

mod dirt;
mod order;
mod service;

use jiff::civil::{DateTime, date};
use reed_core::document::start;
use reed_core::log::{Entry, Happening, Layer, On, When};
use reed_core::tank::{Filter, FilterKind, Medium, Portion, Tank, Tray};
use reed_core::units::{Volume, span_of_days};

const NOW: DateTime = date(2026, 6, 1).at(9, 0, 0, 0);

fn tray(media: &[(Medium, f64)]) -> Tray {
    let portion = |(medium, litres): &(Medium, f64)| Portion {
        medium: *medium,
        litres: Volume::litres(*litres),
        ..Portion::default()
    };
    Tray {
        media: media.iter().map(portion).collect(),
        ..Tray::default()
    }
}

fn with_trays(kind: FilterKind, trays: Vec<Tray>) -> Filter {
    Filter {
        kind,
        trays,
        ..Filter::default()
    }
}

fn canister_tank() -> Tank {
    start::by_id("planted-canister").expect("a set-up").tank()
}

fn days_ago(days: f64) -> DateTime {
    NOW - span_of_days(days).expect("days")
}

fn entry(kind: &str, filter: &Filter, days: f64) -> Entry {
    let kind = Happening::by_id(kind).expect("listed");
    Entry {
        on: On::Filter(filter.number),
        ..Entry::of(kind, When::minute(days_ago(days)))
    }
}

fn opening(filter: &Filter, days: f64, grade: u8) -> Entry {
    let mut entry = entry("filter-opened", filter, days);
    entry.details.grades.insert(Layer::Floss, grade);
    entry
}
