//! Media that take one substance out of the water: what they hold, and when they have had their
//! time.

use super::Medium;
use crate::figure::Figure;

/// Forms of nitrogen that media take.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    /// Ammonia and ammonium.
    Ammonia,
    /// Nitrate.
    Nitrate,
}

/// What a medium takes of a form of nitrogen.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Takes {
    /// Of which.
    pub form: Form,
    /// What a litre of it holds in fresh water when it is full, g N. In salt water far less.
    pub holds_g_per_l: Figure,
    /// Contact in which a fresh one takes two thirds of it, s.
    pub contact_s: Figure,
}

impl Medium {
    /// What it takes of nitrogen, if any.
    pub const fn takes(self) -> Option<Takes> {
        let (form, holds, contact) = match self {
            Self::AmmoniaResin => (Form::Ammonia, 1.2, 10.0),
            Self::AdsorbentPad => (Form::Ammonia, 0.3, 10.0),
            Self::NitrateResin => (Form::Nitrate, 4.0, 10.0),
            _ => return None,
        };
        Some(Takes {
            form,
            holds_g_per_l: Figure::from_memory(holds),
            contact_s: Figure::from_memory(contact),
        })
    }

    /// It takes this form of nitrogen out of the water.
    pub fn takes_form(self, form: Form) -> bool {
        self.takes().is_some_and(|takes| takes.form == form)
    }

    /// Days after which it comes out, whatever it still takes; `None` for what is no chemical
    /// medium.
    pub const fn comes_out_after_days(self) -> Option<Figure> {
        match self {
            // It may give back what it took.
            Self::Carbon => Some(Figure::common_practice(60.0)),
            Self::AmmoniaResin
            | Self::NitrateResin
            | Self::PhosphateRemover
            | Self::AdsorbentPad => Some(Figure::from_memory(30.0)),
            _ => None,
        }
    }
}
