//! How long oxygen lasts when everything that moves water stops, at night.

/// When a level is reached.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Reaches {
    /// After so many hours.
    After(f64),
    /// Never: what comes through the still surface is enough.
    Never,
}

/// Oxygen after the power fails: exchange through a still surface only, plants in the dark.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Outage {
    /// Oxygen when it fails, mg/L.
    pub start_mg_l: f64,
    /// Saturation, mg/L.
    pub saturation_mg_l: f64,
    /// Exchange that is left, per hour.
    pub exchange_per_h: f64,
    /// Use of oxygen, mg/L per hour.
    pub demand_mg_l_h: f64,
}

impl Outage {
    /// Hours until this level is reached.
    ///
    /// `C(t) = Ceq + (C0 − Ceq)e^(−kt)` with `Ceq = Cs − R/k`, hence `t = ln((C0 − Ceq)/(C −
    /// Ceq))/k`; without exchange `t = (C0 − C)/R`.
    pub fn reaches(&self, level_mg_l: f64) -> Reaches {
        if self.start_mg_l <= level_mg_l {
            return Reaches::After(0.0);
        }
        if self.exchange_per_h <= 0.0 {
            let hours = (self.start_mg_l - level_mg_l) / self.demand_mg_l_h;
            return if hours.is_finite() {
                Reaches::After(hours)
            } else {
                Reaches::Never
            };
        }
        let rest = self.saturation_mg_l - self.demand_mg_l_h / self.exchange_per_h;
        if rest >= level_mg_l {
            return Reaches::Never;
        }
        Reaches::After(((self.start_mg_l - rest) / (level_mg_l - rest)).ln() / self.exchange_per_h)
    }
}
