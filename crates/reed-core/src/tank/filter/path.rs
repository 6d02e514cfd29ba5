//! The way of the water through a filter, stop by stop.

use super::{Filter, Portion, SumpRole, Tray, TrayPlace};
use crate::units::{Length, Volume};

/// A place on the way of the water.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum At {
    /// The tray of this index.
    Tray(usize),
    /// The chamber of the sump of this index.
    Chamber(usize),
}

/// A tray or a chamber that the water passes.
#[derive(Clone, Debug, PartialEq)]
pub struct Stop<'a> {
    /// Where in the filter's lists.
    pub at: At,
    /// As the keeper calls it, or its place along the way.
    pub name: String,
    /// In the housing, or in the hose before or after it.
    pub place: TrayPlace,
    /// What is in it, in the order in which the water meets it.
    pub media: &'a [Portion],
    /// What it holds when it is full, where that is known.
    pub holds: Option<Volume>,
    /// From where the water enters it to where it leaves, where that is known.
    pub depth: Option<Length>,
}

impl Stop<'_> {
    /// Media in it, L.
    pub fn litres(&self) -> f64 {
        self.media
            .iter()
            .map(|portion| portion.litres.as_litres())
            .sum()
    }

    /// Share of it that media fill, where it is known what it holds.
    pub fn fill(&self) -> Option<f64> {
        Some(self.litres() / self.holds?.as_litres())
    }
}

impl Filter {
    /// Every stop of the water, from where it comes in to where it leaves: in-line chambers before
    /// the housing, what is in it, chambers of a sump, in-line chambers after it.
    pub fn path(&self) -> Vec<Stop<'_>> {
        let of_place = |place: TrayPlace| {
            let trays = self.trays.iter().enumerate();
            trays
                .filter(move |(_, tray)| tray.place == place)
                .map(|(index, tray)| tray_stop(index, tray))
        };
        let mut path: Vec<Stop> = of_place(TrayPlace::Before).collect();
        path.extend(of_place(TrayPlace::Inside));
        path.extend(self.chamber_stops());
        path.extend(of_place(TrayPlace::After));
        path
    }

    fn chamber_stops(&self) -> impl Iterator<Item = Stop<'_>> {
        let sump = self.sump.iter();
        sump.flat_map(|sump| {
            sump.chambers
                .iter()
                .enumerate()
                .map(|(index, chamber)| Stop {
                    at: At::Chamber(index),
                    name: format!("Chamber {}, {}", index + 1, chamber.role.words()),
                    place: TrayPlace::Inside,
                    media: &chamber.media,
                    holds: (chamber.role == SumpRole::Media).then(|| {
                        let cm3 =
                            chamber.length.as_cm() * sump.width.as_cm() * chamber.level.as_cm();
                        Volume::litres(cm3 / 1000.0)
                    }),
                    // Water passes chambers along the sump.
                    depth: Some(chamber.length),
                })
        })
    }
}

fn tray_stop(index: usize, tray: &Tray) -> Stop<'_> {
    let name = if !tray.name.is_empty() {
        tray.name.clone()
    } else if tray.place == TrayPlace::Inside {
        format!("Tray {}", index + 1)
    } else {
        format!("In-line chamber {}", index + 1)
    };
    Stop {
        at: At::Tray(index),
        name,
        place: tray.place,
        media: &tray.media,
        holds: tray.holds,
        depth: tray.depth,
    }
}
