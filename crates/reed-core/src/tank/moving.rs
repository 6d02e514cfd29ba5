//! What moves air and water through the tank, as the relations of exchange take it, and how faults
//! and changes alter it.

use super::thing::{
    AirStone, Drive, FilterRef, Footprint, Inlet, Pipe, Powerhead, SpongeFilter, ThingKind,
};
use super::{
    AirSource, FallingWater, Filter, FilterKind, Portion, Running, Serial, Surface, Tank, Thing,
    Tray,
};
use crate::units::{Angle, FlowRate, Length};

/// Half a hand's breadth, cm. A judgement.
const HAND_CM: f64 = 4.0;

impl Tank {
    /// Everything that gives air to the water.
    pub fn air_sources(&self) -> impl Iterator<Item = AirSource> {
        self.things.iter().filter_map(|thing| {
            let air = thing.what.form().air()?;
            let leaves_at = thing.z.as_cm() + air.above.as_cm();
            Some(AirSource {
                flow: air.flow,
                depth: Length::cm((self.water_depth.as_cm() - leaves_at).max(0.0)),
                bubbles: air.bubbles,
                running: air.running,
            })
        })
    }

    /// Every fall of water through air: hang-on lips above the surface, overflows.
    pub fn falls(&self) -> impl Iterator<Item = FallingWater> {
        self.things.iter().filter_map(|thing| {
            let above = thing.z.as_cm() - self.water_depth.as_cm();
            let fall = thing.what.form().fall(above)?;
            let flow = self.filter_of(thing)?.flow();
            (fall.height.as_cm() > 0.0).then_some(FallingWater {
                flow,
                height: fall.height,
                running: fall.running,
            })
        })
    }

    /// Water through all filters to reckon with, L/h: measured, or the usual share of the label.
    pub fn filter_flow_l_per_h(&self) -> f64 {
        self.filters
            .iter()
            .map(|filter| filter.flow().as_litres_per_hour())
            .sum()
    }

    /// Times the water passes the filters per hour.
    pub fn turnover_per_h(&self) -> f64 {
        self.filter_flow_l_per_h() / self.net_volume().as_litres()
    }

    /// A powerhead or wave maker hangs in the water.
    pub fn has_wave_maker(&self) -> bool {
        self.things
            .iter()
            .any(|thing| thing.what.form().stirs_alone())
    }

    /// Some intake has a sponge over it.
    pub fn has_intake_sponge(&self) -> bool {
        self.things
            .iter()
            .any(|thing| thing.what.form().inlet() == Inlet::Tube { has_sponge: true })
    }

    /// The same tank as if this were its only filter: the others are gone with their pipes. What
    /// else of them stands in the water stays: the bubbles of a sponge filter, or the fall of a
    /// hang-on filter, reach any intake.
    pub fn with_only_filter(&self, filter: Serial) -> Self {
        let is_pipe =
            |thing: &Thing| matches!(thing.what.form().pipe(), Pipe::Intake | Pipe::Outlet);
        let is_of_another = |thing: &Thing| {
            thing
                .what
                .form()
                .filter()
                .is_some_and(|owner| owner.0 != filter.0)
        };
        let mut only = self.clone();
        only.filters.retain(|other| other.number == filter);
        only.things
            .retain(|thing| !(is_pipe(thing) && is_of_another(thing)));
        only
    }

    /// The filter that a thing belongs to.
    pub fn filter_of(&self, thing: &Thing) -> Option<&Filter> {
        let owner = thing.what.form().filter()?;
        self.filters
            .iter()
            .find(|filter| filter.number.0 == owner.0)
    }

    /// The next free number for a thing.
    pub fn next_thing(&self) -> Serial {
        Serial(
            self.things
                .iter()
                .map(|thing| thing.number.0)
                .max()
                .unwrap_or(0)
                .saturating_add(1),
        )
    }

    /// Adds a thing and gives it its number.
    pub fn add_thing(&mut self, name: &str, at: (f64, f64, f64), what: ThingKind) {
        let number = self.next_thing();
        self.things.push(Thing::new(number.0, name, at, what));
    }

    /// Adds a filter and gives it its number, which is returned.
    pub fn add_filter(&mut self, filter: Filter) -> Serial {
        let number = Serial(
            self.filters
                .iter()
                .map(|filter| filter.number.0)
                .max()
                .unwrap_or(0)
                .saturating_add(1),
        );
        self.filters.push(Filter { number, ..filter });
        number
    }

    /// Every stone, air-driven sponge, fall and powerhead set running as told; nothing else
    /// touched.
    pub fn set_running(&mut self, running: impl Fn(Running) -> Running) {
        for thing in &mut self.things {
            if let Some(now) = thing.what.form_mut().running_mut() {
                *now = running(*now);
            }
        }
    }

    /// Stops what is driven so.
    pub fn stop(&mut self, drive: Drive) {
        for thing in &mut self.things {
            let form = thing.what.form_mut();
            if form.drive() == drive
                && let Some(now) = form.running_mut()
            {
                *now = Running::Stopped;
            }
        }
    }

    /// A hand's breadth above the bed, never deeper than 40 cm: small pumps blow no deeper.
    pub fn stone_height(&self) -> f64 {
        let level = self.water_depth.as_cm();
        (self.bed.depth.as_cm() + 2.0)
            .max(level - 40.0)
            .min(level - 2.0)
    }

    /// A place for one more thing: the first along the back, from the right and not too near the
    /// ends, that is a hand's breadth clear of all others.
    pub fn free_place(&self) -> (f64, f64) {
        let (length, width) = (self.glass.length.as_cm(), self.glass.width.as_cm());
        let bodies: Vec<Footprint> = self
            .things
            .iter()
            .map(|thing| thing.body(self).footprint)
            .collect();
        let clear = |x: f64, y: f64| {
            !bodies.iter().any(|body| {
                body.overlaps(&Footprint::Round {
                    x,
                    y,
                    radius: HAND_CM,
                })
            })
        };
        let columns = (3..=17).map(|column| length * (1.0 - f64::from(column) / 20.0));
        let places = [0.75, 0.5, 0.25]
            .iter()
            .flat_map(|row| columns.clone().map(move |x| (x, width * row)));
        places
            .clone()
            .find(|(x, y)| clear(*x, *y))
            .unwrap_or((length / 2.0, width / 2.0))
    }

    /// One more air stone, where there is room.
    #[must_use]
    pub fn with_air_stone(&self, name: &str, litres_per_hour: f64, running: Running) -> Self {
        let mut aired = self.clone();
        let ((x, y), z) = (self.free_place(), self.stone_height());
        let stone = AirStone {
            air: FlowRate::litres_per_hour(litres_per_hour),
            running,
            ..AirStone::default()
        };
        aired.add_thing(name, (x, y, z), ThingKind::AirStone(stone));
        aired
    }

    /// One more air-driven sponge filter, where there is room, as high as the water lets it be.
    #[must_use]
    pub fn with_sponge_filter(&self, litres_per_hour: f64) -> Self {
        let mut filtered = self.clone();
        let ((x, y), z) = (self.free_place(), self.bed.depth.as_cm());
        let height = (self.water_depth.as_cm() - z - 3.0).clamp(2.0, 12.0);
        let tray = Tray {
            media: vec![Portion::default()],
            ..Tray::default()
        };
        let number = filtered.add_filter(Filter {
            name: "Sponge filter".to_owned(),
            kind: FilterKind::SpongeOnAir,
            rated: FlowRate::litres_per_hour(litres_per_hour),
            trays: vec![tray],
            ..Filter::default()
        });
        let sponge = SpongeFilter {
            flow: FlowRate::litres_per_hour(litres_per_hour),
            height: Length::cm(height),
            filter: Some(FilterRef(number.0)),
            ..SpongeFilter::default()
        };
        filtered.add_thing("Sponge filter", (x, y, z), ThingKind::SpongeFilter(sponge));
        filtered
    }

    /// One more powerhead under the surface at the left end, tilted up, with the surface it makes.
    #[must_use]
    pub fn with_surface_powerhead(&self) -> Self {
        let mut moved = Self {
            surface: Surface::Broken,
            ..self.clone()
        };
        let z = (self.water_depth.as_cm() - 6.0).max(2.5);
        moved.add_thing(
            "Powerhead",
            (4.0, self.glass.width.as_cm() / 2.0, z),
            ThingKind::Powerhead(Powerhead::default()),
        );
        moved
    }

    /// Outlets raised to the surface and turned up, with the surface they make.
    #[must_use]
    pub fn with_outlets_raised(&self) -> Self {
        let mut raised = Self {
            surface: Surface::Broken,
            ..self.clone()
        };
        let level = self.water_depth.as_cm();
        for thing in &mut raised.things {
            if thing.what.form().pipe() == Pipe::Outlet
                && let Some((_, up)) = thing.what.form_mut().angles_mut()
            {
                *up = Angle::degrees(20.0);
                thing.z = Length::cm((level - 1.5).max(thing.z.as_cm()));
            }
        }
        raised
    }

    /// Powerheads tilted up, with the surface they make.
    #[must_use]
    pub fn with_powerheads_up(&self) -> Self {
        let mut tilted = Self {
            surface: Surface::Broken,
            ..self.clone()
        };
        for thing in &mut tilted.things {
            if thing.what.form().stirs_alone()
                && let Some((_, up)) = thing.what.form_mut().angles_mut()
            {
                *up = Angle::degrees(10.0);
            }
        }
        tilted
    }
}
