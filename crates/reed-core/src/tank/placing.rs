//! Where a new thing usually goes, and how large it is then: a start to drag from.

use super::Tank;
use super::thing::ThingKind;

impl Tank {
    /// Where a thing of this kind usually goes: to the right, to the back, up, in cm.
    pub fn usual_place(&self, kind: &ThingKind) -> (f64, f64, f64) {
        kind.fitted(self).form().usual_place(self)
    }
}

#[cfg(test)]
mod tests {
    use crate::document::start;
    use crate::field::{FieldValue, What};
    use crate::tank::thing::ThingKind;
    use crate::tank::{Tank, Weight};
    use crate::units::{Length, Units};

    #[test]
    fn a_new_thing_of_every_kind_fits_a_bare_tank_of_any_size() {
        let sizes = [(25.0, 25.0, 22.0), (60.0, 30.0, 33.0), (200.0, 70.0, 65.0)];
        let What::Kinds(kinds) = ThingKind::WHAT else {
            panic!("things have kinds")
        };
        for kind in kinds {
            for (length, width, level) in sizes {
                let mut tank = Tank::plain(
                    "bare",
                    Length::cm(length),
                    Length::cm(width),
                    Length::cm(level),
                );
                let blank: ThingKind =
                    serde_json::from_value(serde_json::json!({ kind.id: (kind.part.blank)() }))
                        .expect("a kind");
                let place = tank.usual_place(&blank);
                tank.add_thing("New", place, blank.fitted(&tank));
                assert_eq!(
                    tank.refusals(&Units::BASE),
                    [],
                    "{} in {length} cm",
                    kind.id
                );
                let impossible: Vec<_> = tank
                    .conflicts(&Units::BASE)
                    .into_iter()
                    .filter(|conflict| conflict.weight == Weight::Impossible)
                    .collect();
                assert_eq!(impossible, [], "{} in {length} cm", kind.id);
            }
        }
        assert!(start::ALL.len() >= 8);
    }
}
