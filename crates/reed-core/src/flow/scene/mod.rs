//! A tank as a scene: every kind of thing as what it does to the water, and what could not be
//! shown.

mod background;

use std::f64::consts::PI;

use reed_flow::{Drain, Movers, Nozzle, Outline, Plume, Push, Scene, Solid};

use crate::figure::Figure;
use crate::tank::thing::{
    Body, Footprint, Heading, InternalFilter, Outlet, OutletStyle, Overflow, Pipe, PowerheadRole,
    SpongeDrive, SpongeFilter, ThingKind,
};
use crate::tank::{Running, Serial, Tank, Thing};

/// A tank as a scene.
#[derive(Clone, Debug, PartialEq)]
pub struct TankScene {
    /// The scene, in metres; its floor is the surface of the bed.
    pub scene: Scene,
    /// The thing behind each intake of the scene, in their order.
    pub intakes: Vec<Serial>,
    /// What the scene does not show.
    pub left_out: Vec<LeftOut>,
}

/// A thing that the scene does not show, or shows otherwise than it is.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct LeftOut {
    /// Its name.
    pub name: String,
    /// What of it and why, as the rest of a sentence.
    pub why: String,
}

/// Holes of a spray bar are this far apart, cm.
const HOLES_EVERY_CM: Figure = Figure::common_practice(2.5);
/// A flared outlet spreads its stream over so many times its bore.
const FLARED: Figure = Figure::from_memory(3.0);
/// Inside width of the pipe of an air lift and of a powerhead on a sponge, cm.
const RISER_CM: Figure = Figure::from_memory(2.5);
/// Inside width of the mouth of a powerhead on a sponge, cm.
const SPONGE_MOUTH_CM: Figure = Figure::from_memory(1.3);
/// Depth of the sheet that runs over a lip, cm.
const SHEET_CM: Figure = Figure::from_memory(1.0);
/// Reach of a wave maker's push, m.
const WAVE_REACH_M: f32 = 0.05;
/// How far from a body its mouth or strainer is put, cm: bodies are as thick as a cell at least. A
/// judgement.
const CLEAR_CM: f64 = 2.5;
/// Mouths are kept so far under the surface and over the bed, cm.
const MARGIN_CM: f64 = 1.0;
/// Rods slimmer than this do not change a flow that is told by the centimetre, cm.
const SLIM_CM: f64 = 2.0;

impl TankScene {
    /// The scene of a tank that passed its checks.
    pub fn of(tank: &Tank) -> Self {
        let bed = tank
            .bed
            .depth
            .as_cm()
            .min(tank.water_depth.as_cm() - 3.0)
            .max(0.0);
        let size = [
            tank.glass.length.as_cm(),
            tank.glass.width.as_cm(),
            tank.water_depth.as_cm() - bed,
        ]
        .map(metres);
        let mut drawing = Drawing {
            tank,
            bed,
            drawn: Self {
                scene: Scene {
                    size,
                    ..Scene::default()
                },
                intakes: Vec::new(),
                left_out: Vec::new(),
            },
        };
        for thing in &tank.things {
            drawing.add(thing);
        }
        drawing.note_filters();
        drawing.drawn
    }

    /// Nothing in the tank moves its water.
    pub fn is_still(&self) -> bool {
        self.scene.movers.thrust(self.scene.size[2]) <= 0.0
    }
}

/// A scene in the making.
struct Drawing<'a> {
    tank: &'a Tank,
    /// Height of the bed's surface, cm.
    bed: f64,
    drawn: TankScene,
}

impl Drawing<'_> {
    fn add(&mut self, thing: &Thing) {
        match &thing.what {
            ThingKind::Rock(_) => self.solid(thing),
            ThingKind::Heater(_) | ThingKind::Uv(_) => self.slim_or_solid(thing),
            ThingKind::Outlet(outlet) => self.outlet(thing, outlet),
            ThingKind::Intake(intake) => {
                let half = intake.basket.as_cm() / 2.0;
                let at = (thing.x.as_cm(), thing.y.as_cm());
                self.intake(
                    thing,
                    [(at, thing.z.as_cm() - half), (at, thing.z.as_cm() + half)],
                );
            }
            ThingKind::AirStone(stone) => {
                if self.runs(thing, stone.running) {
                    self.plume(
                        thing.x.as_cm(),
                        thing.y.as_cm(),
                        thing.z.as_cm() + 2.0,
                        stone.air.as_litres_per_hour(),
                    );
                }
            }
            ThingKind::SpongeFilter(sponge) => self.sponge(thing, sponge),
            ThingKind::HangOnBack(filter) => {
                let body = thing.body(self.tank);
                if self.runs(thing, filter.running) {
                    let (x, y) = middle(&body);
                    self.intake(thing, [((x, y), body.bottom), ((x, y), body.bottom + 4.0)]);
                    let fall = (thing.z.as_cm() - self.tank.water_depth.as_cm()).max(0.0);
                    let flow = self.flow_of(thing, 1.0);
                    let falling = (2.0 * 9.81 * fall / 100.0).sqrt();
                    let sheet = flow / (filter.lip.as_metres() * SHEET_CM.value / 100.0);
                    let heading = thing.what.form().heading().expect("a lip has a side");
                    self.row_of_mouths(
                        thing,
                        (x, y),
                        filter.lip.as_cm(),
                        heading,
                        flow,
                        falling.max(sheet),
                    );
                }
            }
            ThingKind::InternalFilter(filter) => self.internal(thing, filter),
            ThingKind::Powerhead(pump) => {
                if self.runs(thing, pump.running) {
                    let flow = cubic_metres_per_second(pump.flow.as_litres_per_hour());
                    let heading = Heading {
                        around: pump.heading,
                        up: pump.up,
                    };
                    let reach = if pump.role == PowerheadRole::WaveMaker {
                        WAVE_REACH_M
                    } else {
                        0.0
                    };
                    let at = self.place(thing, (thing.x.as_cm(), thing.y.as_cm()), thing.z.as_cm());
                    let speed = flow / circle_m2(pump.bore.as_mm() / 10.0);
                    self.movers().pushes.push(Push {
                        at,
                        towards: towards(heading),
                        thrust: single(flow * speed),
                        reach,
                    });
                }
            }
            ThingKind::Overflow(overflow) => self.overflow(thing, overflow),
            ThingKind::Background(background) => self.background(thing, background),
        }
    }

    fn movers(&mut self) -> &mut Movers {
        &mut self.drawn.scene.movers
    }

    fn leave_out(&mut self, name: &str, why: impl Into<String>) {
        self.drawn.left_out.push(LeftOut {
            name: name.to_owned(),
            why: why.into(),
        });
    }

    /// It runs day and night; what runs by night alone is told.
    fn runs(&mut self, thing: &Thing, running: Running) -> bool {
        match running {
            Running::Always => true,
            Running::Stopped => false,
            Running::Night => {
                self.leave_out(
                    &thing.name,
                    "runs while the lights are off; the flow is that of the day, without it",
                );
                false
            }
        }
    }

    /// A place of the scene, m. What sits above the surface or in the bed is moved into the water.
    fn place(&mut self, thing: &Thing, (x, y): (f64, f64), z: f64) -> [f32; 3] {
        let (lowest, highest) = (
            self.bed + MARGIN_CM,
            self.tank.water_depth.as_cm() - MARGIN_CM,
        );
        if z < self.bed - 0.1 {
            self.leave_out(
                &thing.name,
                "reaches into the bed; it is taken as just above it",
            );
        }
        let inside = |value: f64, length: f64| {
            value.clamp(
                MARGIN_CM.min(length / 4.0),
                length - MARGIN_CM.min(length / 4.0),
            )
        };
        let (length, width) = (
            self.tank.glass.length.as_cm(),
            self.tank.glass.width.as_cm(),
        );
        let z = z.clamp(lowest.min(highest), highest) - self.bed;
        [inside(x, length), inside(y, width), z].map(metres)
    }

    /// Water of the filter that a thing belongs to, m³/s, times a share of it; says so when there
    /// is none.
    fn flow_of(&mut self, thing: &Thing, share: f64) -> f64 {
        let flow = self
            .tank
            .filter_of(thing)
            .map(|filter| cubic_metres_per_second(filter.flow().as_litres_per_hour()));
        flow.map_or_else(
            || {
                self.leave_out(
                    &thing.name,
                    "belongs to no filter; no water goes through it here",
                );
                0.0
            },
            |flow| flow * share,
        )
    }

    /// Share of its filter's flow that goes through this one of several outlets or intakes.
    fn share(&self, thing: &Thing, ends: &[Pipe]) -> f64 {
        let owner = thing.what.form().filter();
        let alike = self.tank.things.iter().filter(|other| {
            ends.contains(&other.what.form().pipe()) && other.what.form().filter() == owner
        });
        1.0 / alike.count().max(1) as f64
    }

    fn solid(&mut self, thing: &Thing) {
        let body = thing.body(self.tank);
        self.drawn.scene.solids.push(solid(&body, self.bed));
    }

    fn slim_or_solid(&mut self, thing: &Thing) {
        let (x0, x1, y0, y1) = thing.body(self.tank).footprint.bounds();
        if (x1 - x0).min(y1 - y0) < SLIM_CM {
            self.leave_out(&thing.name, "is too slim to turn the water");
        } else {
            self.solid(thing);
        }
    }

    fn outlet(&mut self, thing: &Thing, outlet: &Outlet) {
        let share = self.share(thing, &[Pipe::Outlet]);
        let flow = self.flow_of(thing, share);
        let heading = Heading {
            around: outlet.heading,
            up: outlet.up,
        };
        let at = (thing.x.as_cm(), thing.y.as_cm());
        if thing.z > self.tank.water_depth {
            self.leave_out(
                &thing.name,
                "pours from above the surface; its stream is taken as going in there",
            );
        }
        let bore_m2 = circle_m2(outlet.bore.as_mm() / 10.0);
        match (outlet.style, outlet.bar) {
            (OutletStyle::SprayBar, Some(bar)) => {
                let holes = (bar.as_cm() / HOLES_EVERY_CM.value).round().max(1.0);
                self.row_of_mouths(
                    thing,
                    at,
                    bar.as_cm(),
                    heading,
                    flow,
                    flow / (holes * bore_m2),
                );
            }
            (OutletStyle::Slotted, Some(bar)) => {
                self.row_of_mouths(
                    thing,
                    at,
                    bar.as_cm(),
                    heading,
                    flow,
                    flow / (bar.as_metres() * outlet.bore.as_mm() / 1000.0),
                );
            }
            (style, _) => {
                let mouth = if style == OutletStyle::Flared {
                    FLARED.value * bore_m2
                } else {
                    bore_m2
                };
                self.mouth(thing, at, thing.z.as_cm(), heading, flow, flow / mouth);
            }
        }
    }

    fn mouth(
        &mut self,
        thing: &Thing,
        at: (f64, f64),
        z: f64,
        heading: Heading,
        flow: f64,
        speed: f64,
    ) {
        let at = self.place(thing, at, z);
        self.movers().nozzles.push(Nozzle {
            at,
            towards: towards(heading),
            flow: single(flow),
            speed: single(speed),
        });
    }

    /// Mouths along a bar, slot or lip of this length that lies across its stream.
    fn row_of_mouths(
        &mut self,
        thing: &Thing,
        (x, y): (f64, f64),
        length: f64,
        heading: Heading,
        flow: f64,
        speed: f64,
    ) {
        let (sin, cos) = heading.around.as_degrees().to_radians().sin_cos();
        let end = |side: f64| (x - side * length / 2.0 * sin, y + side * length / 2.0 * cos);
        let [from, to] = [-1.0, 1.0].map(|side| self.place(thing, end(side), thing.z.as_cm()));
        let one = Nozzle {
            at: from,
            towards: towards(heading),
            flow: single(flow),
            speed: single(speed),
        };
        self.movers()
            .nozzles
            .extend(one.row(from, to, pieces(length)));
    }

    /// A strainer between two points; where a background hides it, water is taken through those
    /// openings of it that lie nearest.
    fn intake(&mut self, thing: &Thing, ends: [((f64, f64), f64); 2]) {
        let share = self.share(thing, &[Pipe::Intake, Pipe::Overflow]);
        let flow = self.flow_of(thing, share);
        let intake = self.drawn.intakes.len();
        let [((x, y), low), (_, high)] = ends;
        if let Some(openings) =
            background::openings_for(self.tank, [x, y, f64::midpoint(low, high)])
        {
            if openings.is_empty() {
                self.leave_out(
                    &thing.name,
                    "sits behind a background without openings: no water can reach it",
                );
                return;
            }
            self.drawn.intakes.push(thing.number);
            for way in openings {
                let at = self.place(thing, way.at, way.z);
                self.movers().drains.push(Drain {
                    at,
                    flow: single(flow * way.share),
                    intake,
                });
            }
            return;
        }
        self.drawn.intakes.push(thing.number);
        let [from, to] = ends.map(|(at, z)| self.place(thing, at, z));
        let one = Drain {
            at: from,
            flow: single(flow),
            intake,
        };
        self.movers()
            .drains
            .extend(one.row(from, to, pieces(high - low)));
    }

    fn plume(&mut self, x: f64, y: f64, z: f64, litres_per_hour: f64) {
        let foot = [x, y, (z - self.bed).max(0.0)].map(metres);
        self.movers().plumes.push(Plume {
            foot,
            air: single(cubic_metres_per_second(litres_per_hour)),
        });
    }

    fn sponge(&mut self, thing: &Thing, sponge: &SpongeFilter) {
        self.solid(thing);
        if !self.runs(thing, sponge.running) {
            return;
        }
        let (x, y) = (thing.x.as_cm(), thing.y.as_cm());
        let (foot, top) = (thing.z.as_cm(), thing.z.as_cm() + sponge.height.as_cm());
        // Water goes in all around; the side towards the middle of the tank stands for it.
        let reach = sponge.across.as_cm() / 2.0 + CLEAR_CM;
        let (length, width) = (
            self.tank.glass.length.as_cm(),
            self.tank.glass.width.as_cm(),
        );
        let (aside, back) = (length / 2.0 - x, width / 2.0 - y);
        let apart = aside.hypot(back).max(0.1);
        let beside = (x + aside / apart * reach, y + back / apart * reach);
        self.intake(thing, [(beside, foot + 1.0), (beside, top)]);
        let mouth = top + sponge.riser.as_cm();
        match sponge.drive {
            SpongeDrive::Air => {
                let flow = self.flow_of(thing, 1.0);
                let up = Heading {
                    around: sponge.heading,
                    up: crate::units::Angle::degrees(90.0),
                };
                self.mouth(
                    thing,
                    (x, y),
                    mouth.max(top + CLEAR_CM),
                    up,
                    flow,
                    flow / circle_m2(RISER_CM.value),
                );
                if mouth < self.tank.water_depth.as_cm() {
                    self.plume(x, y, mouth, sponge.flow.as_litres_per_hour());
                }
            }
            SpongeDrive::Powerhead => {
                let flow = self.flow_of(thing, 1.0);
                let heading = Heading {
                    around: sponge.heading,
                    up: sponge.up,
                };
                self.mouth(
                    thing,
                    (x, y),
                    mouth.max(top + CLEAR_CM),
                    heading,
                    flow,
                    flow / circle_m2(SPONGE_MOUTH_CM.value),
                );
            }
        }
    }

    fn internal(&mut self, thing: &Thing, filter: &InternalFilter) {
        self.solid(thing);
        let heading = Heading {
            around: filter.heading,
            up: filter.up,
        };
        let (sin, cos) = filter.heading.as_degrees().to_radians().sin_cos();
        let reach = filter.length.as_cm().max(filter.width.as_cm()) / 2.0 + CLEAR_CM;
        let before = (thing.x.as_cm() + reach * cos, thing.y.as_cm() + reach * sin);
        let foot = thing.z.as_cm();
        self.intake(
            thing,
            [
                (before, foot + 2.0),
                (before, foot + 0.6 * filter.height.as_cm()),
            ],
        );
        let flow = self.flow_of(thing, 1.0);
        self.mouth(
            thing,
            before,
            foot + filter.height.as_cm() - 1.0,
            heading,
            flow,
            flow / circle_m2(filter.bore.as_mm() / 10.0),
        );
    }

    fn overflow(&mut self, thing: &Thing, overflow: &Overflow) {
        self.solid(thing);
        if !self.runs(thing, overflow.running) {
            return;
        }
        let (x, y) = (thing.x.as_cm(), thing.y.as_cm());
        let (length, width) = (
            self.tank.glass.length.as_cm(),
            self.tank.glass.width.as_cm(),
        );
        let half = overflow.weir.as_cm() / 2.0;
        // The weir faces the most open water.
        let (over_x, over_y) = (
            overflow.length.as_cm() / 2.0 + CLEAR_CM,
            overflow.width.as_cm() / 2.0 + CLEAR_CM,
        );
        let sides = [
            (
                x,
                (x - over_x, y),
                (0.0, half.min(overflow.width.as_cm() / 2.0)),
            ),
            (
                length - x,
                (x + over_x, y),
                (0.0, half.min(overflow.width.as_cm() / 2.0)),
            ),
            (
                y,
                (x, y - over_y),
                (half.min(overflow.length.as_cm() / 2.0), 0.0),
            ),
            (
                width - y,
                (x, y + over_y),
                (half.min(overflow.length.as_cm() / 2.0), 0.0),
            ),
        ];
        let (_, (weir_x, weir_y), (along, back)) = sides
            .into_iter()
            .max_by(|a, b| a.0.total_cmp(&b.0))
            .expect("a box has sides");
        let z = thing.z.as_cm().min(self.tank.water_depth.as_cm());
        let share = self.share(thing, &[Pipe::Intake, Pipe::Overflow]);
        let flow = self.flow_of(thing, share);
        let intake = self.drawn.intakes.len();
        self.drawn.intakes.push(thing.number);
        let [from, to] = [-1.0, 1.0]
            .map(|side| self.place(thing, (weir_x + side * along, weir_y + side * back), z));
        let one = Drain {
            at: from,
            flow: single(flow),
            intake,
        };
        self.movers()
            .drains
            .extend(one.row(from, to, pieces(2.0 * along.max(back))));
    }

    /// Filters whose water comes from nowhere or goes nowhere.
    fn note_filters(&mut self) {
        for filter in self
            .tank
            .filters
            .iter()
            .filter(|filter| filter.kind.design().is_plumbed)
        {
            let of_it = |kind: &ThingKind| {
                kind.form()
                    .filter()
                    .is_some_and(|owner| owner.0 == filter.number.0)
            };
            let some = |ends: &[Pipe]| {
                self.tank
                    .things
                    .iter()
                    .any(|thing| of_it(&thing.what) && ends.contains(&thing.what.form().pipe()))
            };
            let has_intake = some(&[Pipe::Intake, Pipe::Overflow]);
            let has_outlet = some(&[Pipe::Outlet]);
            match (has_intake, has_outlet) {
                (true, true) => {}
                (false, false) => self.leave_out(
                    &filter.name,
                    "has neither outlet nor intake in the drawing; it moves no water here",
                ),
                (true, false) => self.leave_out(
                    &filter.name,
                    "has no outlet in the drawing; its water comes back evenly everywhere",
                ),
                (false, true) => self.leave_out(
                    &filter.name,
                    "has no intake in the drawing; its water is taken evenly everywhere",
                ),
            }
        }
        let mats = self
            .tank
            .filters
            .iter()
            .filter(|filter| !filter.kind.design().is_drawn);
        let names: Vec<String> = mats.map(|filter| filter.name.clone()).collect();
        for name in names {
            self.leave_out(&name, "is not drawn in the tank; it moves no water here");
        }
    }
}

/// Pieces of a row: one to about a cell.
fn pieces(length_cm: f64) -> usize {
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "a few centimetres"
    )]
    let pieces = (length_cm / HOLES_EVERY_CM.value).round().clamp(1.0, 200.0) as usize;
    pieces
}

fn middle(body: &Body) -> (f64, f64) {
    let (x0, x1, y0, y1) = body.footprint.bounds();
    ((x0 + x1) / 2.0, (y0 + y1) / 2.0)
}

fn solid(body: &Body, bed_cm: f64) -> Solid {
    let (x, y) = middle(body);
    let outline = match body.footprint {
        Footprint::Rect {
            length,
            width,
            turn,
            ..
        } => Outline::Rectangle {
            size: [metres(length), metres(width)],
            turn: single(turn.to_radians()),
        },
        Footprint::Round { radius, .. } => Outline::Circle(metres(radius)),
    };
    Solid {
        foot: [x, y, body.bottom - bed_cm].map(metres),
        height: metres(body.top - body.bottom),
        outline,
    }
}

/// From the right over the back, and up.
fn towards(heading: Heading) -> [f32; 3] {
    let ((sin, cos), (rise, level)) = (
        heading.around.as_degrees().to_radians().sin_cos(),
        heading.up.as_degrees().to_radians().sin_cos(),
    );
    [cos * level, sin * level, rise].map(single)
}

fn circle_m2(across_cm: f64) -> f64 {
    PI / 4.0 * (across_cm / 100.0).powi(2)
}

fn cubic_metres_per_second(litres_per_hour: f64) -> f64 {
    litres_per_hour / 3.6e6
}

fn metres(cm: f64) -> f32 {
    single(cm / 100.0)
}

#[expect(
    clippy::cast_possible_truncation,
    reason = "the solver reckons in single precision"
)]
fn single(value: f64) -> f32 {
    value as f32
}

#[cfg(test)]
mod tests {
    use super::TankScene;
    use crate::document::start;
    use crate::tank::thing::{Intake, Outlet, ThingKind};
    use crate::tank::{Filter, FilterKind, Tank};
    use crate::units::{Angle, FlowRate, Length, SmallLength};

    /// 600 L/h through 14.57 mm is a metre a second: continuity.
    #[test]
    fn an_outlet_has_the_flow_and_speed_of_its_filter_and_the_scene_stands_on_the_bed() {
        let mut tank = Tank::plain("t", Length::cm(120.0), Length::cm(50.0), Length::cm(54.0));
        tank.bed.depth = Length::cm(4.0);
        let filter = Filter {
            kind: FilterKind::RisingBasketCanister,
            measured: Some(FlowRate::litres_per_hour(600.0)),
            name: "Canister".to_owned(),
            ..Filter::default()
        };
        let number = tank.add_filter(filter);
        let owner = Some(crate::tank::thing::FilterRef(number.0));
        let outlet = Outlet {
            bore: SmallLength::mm(14.567),
            heading: Angle::degrees(90.0),
            up: Angle::degrees(30.0),
            filter: owner,
            ..Outlet::default()
        };
        tank.add_thing("Outlet", (10.0, 5.0, 44.0), ThingKind::Outlet(outlet));
        tank.add_thing(
            "Intake",
            (110.0, 45.0, 14.0),
            ThingKind::Intake(Intake {
                filter: owner,
                ..Intake::default()
            }),
        );
        let drawn = TankScene::of(&tank);
        assert_eq!(drawn.left_out, []);
        let [nozzle] = drawn.scene.movers.nozzles[..] else {
            panic!("{:?}", drawn.scene.movers.nozzles)
        };
        assert!(
            (nozzle.flow - 1.666_7e-4).abs() < 1e-7 && (nozzle.speed - 1.0).abs() < 1e-3,
            "{nozzle:?}"
        );
        assert!((nozzle.at[2] - 0.40).abs() < 1e-6 && nozzle.towards[0].abs() < 1e-6);
        assert!((nozzle.towards[1] - 0.866).abs() < 1e-3 && (nozzle.towards[2] - 0.5).abs() < 1e-3);
        let drains = &drawn.scene.movers.drains;
        assert!(
            (drains.iter().map(|drain| drain.flow).sum::<f32>() - nozzle.flow).abs() < 1e-9
                && drains.len() == 2
        );
        assert!(
            (drawn.scene.size[2] - 0.5).abs() < 1e-6 && drawn.intakes == [tank.things[1].number]
        );
        tank.things[0].what = ThingKind::Outlet(Outlet::default());
        let said: Vec<_> = TankScene::of(&tank)
            .left_out
            .into_iter()
            .map(|left| format!("{} {}", left.name, left.why))
            .collect();
        assert!(
            said[0].starts_with("Outlet belongs to no filter")
                && said[1].starts_with("Canister has no outlet"),
            "{said:?}"
        );
    }

    #[test]
    fn every_set_up_becomes_a_scene_in_which_as_much_enters_as_leaves() {
        for start in start::ALL {
            let tank = start.tank();
            let drawn = TankScene::of(&tank);
            let movers = &drawn.scene.movers;
            assert!(!drawn.is_still(), "{}", start.id);
            let (enters, leaves) = (
                movers.nozzles.iter().map(|nozzle| nozzle.flow).sum::<f32>(),
                movers.drains.iter().map(|drain| drain.flow).sum::<f32>(),
            );
            assert!(
                (enters - leaves).abs() < 1e-6 * enters.max(1e-9) + 1e-9,
                "{}: {enters} {leaves} {:?}",
                start.id,
                drawn.left_out
            );
            let inside = |at: [f32; 3]| {
                (0..3).all(|axis| (0.0..=drawn.scene.size[axis]).contains(&at[axis]))
            };
            assert!(
                movers.nozzles.iter().all(|nozzle| inside(nozzle.at))
                    && movers.drains.iter().all(|drain| inside(drain.at)),
                "{}",
                start.id
            );
            let dry = |at: [f32; 3]| drawn.scene.solids.iter().any(|solid| solid.holds(at, 0.0));
            assert!(
                !movers.nozzles.iter().any(|nozzle| dry(nozzle.at))
                    && !movers.drains.iter().any(|drain| dry(drain.at)),
                "{}",
                start.id
            );
        }
    }
}
