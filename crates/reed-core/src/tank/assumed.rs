//! What of a tank nobody said: values of the set-up that it was started from. They are told as
//! assumed wherever they matter.

use std::collections::BTreeSet;

use super::Tank;
use crate::field::{Described, Field, FieldValue, What};

/// Keys of the tank's fields whose values are assumed.
#[derive(Clone, Debug, Default, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(transparent)]
pub struct Assumed(pub BTreeSet<String>);

impl FieldValue for Assumed {
    const WHAT: What = What::Kept;
    const OPTIONAL: bool = true;
}

impl Assumed {
    /// Nothing is.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// One of these is.
    pub fn any(&self, keys: &[&str]) -> bool {
        keys.iter().any(|key| self.0.contains(*key))
    }
}

impl Tank {
    /// The same, with everything that differs from before no longer assumed: somebody said it.
    #[must_use]
    pub fn confirmed_against(mut self, before: &Self) -> Self {
        let (now, then) = (self.to_value(), before.to_value());
        self.assumed = Assumed(
            before
                .assumed
                .0
                .iter()
                .filter(|key| now.get(*key) == then.get(*key))
                .cloned()
                .collect(),
        );
        self
    }

    /// What is assumed, as the fields are called.
    pub fn assumed_labels(&self) -> Vec<&'static str> {
        let called = |field: &'static Field| match field.key {
            "things" => "Where things stand",
            "filters" => "Media in the filters",
            "stock" => "Animals",
            _ => field.label,
        };
        Self::FIELDS
            .iter()
            .filter(|field| self.assumed.0.contains(field.key))
            .map(called)
            .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::Assumed;
    use crate::document::start;
    use crate::tank::Tank;
    use crate::units::Temperature;

    #[test]
    fn what_is_changed_is_no_longer_assumed() {
        let keys = ["temperature_c", "bed"]
            .map(str::to_owned)
            .into_iter()
            .collect();
        let before = Tank {
            assumed: Assumed(keys),
            ..start::by_id("sponge-cube").expect("listed").tank()
        };
        assert_eq!(before.assumed_labels(), ["Bed", "Water temperature"]);
        let warmer = Tank {
            temperature: Temperature::celsius(27.0),
            ..before.clone()
        };
        assert_eq!(warmer.confirmed_against(&before).assumed_labels(), ["Bed"]);
        let file = serde_json::to_string(&before).expect("plain data");
        assert_eq!(
            serde_json::from_str::<Tank>(&file).expect("its own file"),
            before
        );
        assert!(
            !serde_json::to_string(&start::by_id("sponge-cube").expect("listed").tank())
                .expect("plain")
                .contains("assumed")
        );
    }
}
