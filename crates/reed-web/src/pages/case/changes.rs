//! Single changes side by side, ready to print.

use crate::view::{Chart, Dot, EffectLine, HourRow, chart_table, effect_lines};
use reed_core::diagnosis::Case;
use reed_core::log::Entry;
use reed_core::outlook::forecast::Forecast;
use reed_core::remedy::plan::Prices;
use reed_core::remedy::{Effects, Offer};
use reed_core::tank::Analyte;

/// At most so many offers are shown in full.
const SHOWN: usize = 3;

/// How many are: the foremost, and what is worth laying beside it.
fn compared(offers: &[Offer]) -> usize {
    offers
        .iter()
        .take(SHOWN)
        .take_while(|offer| offer.is_worth_comparing_with(&offers[0]))
        .count()
}

/// The changes to choose from.
pub(super) struct OffersView {
    pub(super) chart: String,
    pub(super) table: Vec<HourRow>,
    pub(super) first: &'static str,
    pub(super) now: String,
    pub(super) now_grade: &'static str,
    pub(super) offers: Vec<OfferView>,
    /// How many more fit this tank.
    pub(super) others: usize,
}

/// One change with what it would do.
pub(super) struct OfferView {
    pub(super) id: &'static str,
    pub(super) title: &'static str,
    /// Lowest oxygen after it, where it is computed.
    pub(super) lowest: Option<String>,
    pub(super) gain: String,
    pub(super) euros: String,
    pub(super) minutes: String,
    pub(super) not_now: &'static str,
    /// What else it does, by every model that holds what it acts on.
    pub(super) effects: Vec<EffectLine>,
    /// Why there is no number, where there is none.
    pub(super) unseen: &'static str,
}

impl OffersView {
    pub(super) fn of(
        now: &Forecast,
        offers: &[Offer],
        case: &Case,
        (log, prices): (&[Entry], &Prices),
    ) -> Self {
        let Case { tank, observed } = case;
        let best = offers.first();
        let after = best.and_then(|offer| offer.after.as_ref());
        let dots: Vec<Dot> = observed
            .readings
            .iter()
            .filter(|reading| reading.analyte == Analyte::OXYGEN)
            .map(|reading| Dot::of(reading, false))
            .collect();
        let (shown, others) = offers.split_at(compared(offers));
        Self {
            chart: Chart {
                now,
                after,
                plants: tank.plants,
                dots: &dots,
                id: "day",
            }
            .draw(),
            table: chart_table(now, after),
            first: best.map_or("", |offer| offer.change.title),
            now: format!("{:.1} ± {:.1} mg/L", now.lowest, now.lowest_spread),
            now_grade: now.grade().words(),
            offers: shown
                .iter()
                .map(|offer| OfferView::of(offer, case, (log, prices)))
                .collect(),
            others: others.len(),
        }
    }

    /// All but those that are shown in full.
    pub(super) fn others(
        offers: &[Offer],
        case: &Case,
        (log, prices): (&[Entry], &Prices),
    ) -> Vec<OfferView> {
        offers
            .iter()
            .skip(compared(offers))
            .map(|offer| OfferView::of(offer, case, (log, prices)))
            .collect()
    }
}

impl OfferView {
    fn of(offer: &Offer, case: &Case, (log, prices): (&[Entry], &Prices)) -> Self {
        let effects = Effects::of(&[offer.change], case, log);
        let change = offer.change;
        let price = prices.of(change);
        let after = offer.after.as_ref();
        Self {
            id: change.id,
            title: change.title,
            lowest: after
                .map(|after| format!("{:.1} ± {:.1} mg/L", after.lowest, after.lowest_spread)),
            gain: format!("{:+.1} mg/L", offer.gain_mg_l),
            euros: money(price.euros),
            minutes: format!("{:.0} min", price.minutes),
            not_now: offer.not_now.unwrap_or(""),
            effects: effect_lines(&effects, after.is_some(), &case.observed.units),
            unseen: effects.unseen.unwrap_or_default(),
        }
    }
}

/// Money in words.
pub(super) fn money(euros: f64) -> String {
    if euros <= 0.0 {
        "nothing".to_owned()
    } else if euros < 1.0 {
        "less than 1 €".to_owned()
    } else {
        format!("about {euros:.0} €")
    }
}
