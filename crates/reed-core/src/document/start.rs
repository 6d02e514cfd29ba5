//! Common set-ups to start from: made up, in the open file format, one file each in `starts/`.

use super::Document;
use crate::tank::Tank;

/// A set-up that a keeper picks and adapts.
#[derive(Debug)]
pub struct Start {
    /// Id in addresses.
    pub id: &'static str,
    /// What it is.
    pub title: &'static str,
    text: &'static str,
}

macro_rules! starts {
    ($($id:literal, $title:literal;)+) => {
        /// Every set-up, smallest first.
        pub const ALL: &[Start] =
            &[$(Start { id: $id, title: $title, text: include_str!(concat!("../../starts/", $id, ".reed.json")) }),+];
    };
}

starts! {
    "sponge-cube", "20 L cube, air-driven sponge filter";
    "bare-quarantine", "40 L quarantine tank, sponge filter with a powerhead";
    "planted-hang-on", "60 L with plants, hang-on-back filter";
    "community-internal", "110 L community tank, internal filter";
    "cool-salamander", "120 L for aquatic salamanders, cool, gentle canister";
    "planted-canister", "180 L planted tank, canister, carbon dioxide";
    "turtle", "200 L for a turtle, half filled, strong canister";
    "background-two-canisters", "300 L with a moulded background and two canisters";
    "reef-sump", "350 L reef with live rock and a sump";
    "rocks-two-filters", "450 L with rockwork, canister and wave maker";
    "large-sump", "900 L with an overflow and a sump";
}

impl Start {
    /// The tank.
    ///
    /// # Panics
    /// Never: a test reads every file.
    pub fn tank(&self) -> Tank {
        Document::parse(self.text)
            .expect("a test reads every set-up")
            .document
            .tank
    }
}

/// The set-up with this id.
pub fn by_id(id: &str) -> Option<&'static Start> {
    ALL.iter().find(|start| start.id == id)
}

#[cfg(test)]
mod tests {
    use super::ALL;
    use crate::tank::{Purpose, thing::ThingKind};
    use crate::units::Units;

    #[test]
    fn every_set_up_is_sound_holds_together_and_breathes() {
        for start in ALL {
            let tank = start.tank();
            assert_eq!(tank.refusals(&Units::default()), [], "{}", start.id);
            assert_eq!(tank.conflicts(&Units::default()), [], "{}", start.id);
            let litres = tank.net_volume().as_litres();
            let promised: f64 = start
                .title
                .split(' ')
                .next()
                .and_then(|litres| litres.parse().ok())
                .expect("a volume comes first");
            assert!(
                (litres / promised - 1.0).abs() < 0.15 || tank.volumes().sumps > 0.0,
                "{}: {litres} L",
                start.id
            );
            let lowest = crate::twin::Twin::of(&tank).day;
            assert!(
                lowest.lowest().1 / lowest.course.saturation_mg_l > 0.7,
                "{}: {:?}",
                start.id,
                lowest.lowest()
            );
        }
    }

    #[test]
    fn set_ups_cover_what_keepers_have() {
        let tanks: Vec<_> = ALL.iter().map(super::Start::tank).collect();
        let some = |test: fn(&ThingKind) -> bool| {
            tanks
                .iter()
                .any(|tank| tank.things.iter().any(|thing| test(&thing.what)))
        };
        assert!(
            some(|kind| matches!(kind, ThingKind::Background(_)))
                && some(|kind| matches!(kind, ThingKind::Overflow(_)))
        );
        assert!(
            some(|kind| matches!(kind, ThingKind::SpongeFilter(_)))
                && some(|kind| matches!(kind, ThingKind::HangOnBack(_)))
        );
        assert!(
            some(|kind| matches!(kind, ThingKind::InternalFilter(_)))
                && some(|kind| matches!(kind, ThingKind::Powerhead(_)))
        );
        assert!(
            tanks.iter().any(|tank| tank.purpose == Purpose::Quarantine)
                && tanks.iter().any(|tank| tank.salinity.as_g_per_kg() > 30.0)
        );
    }
}
