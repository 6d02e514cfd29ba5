//! Things put elsewhere: what a try is made of.
//!
//! Written as `number:x,y,z`, in centimetres, or `number:x,y,z,around,up` with a heading in
//! degrees; several are parted by semicolons. It goes into addresses, over the socket, and into the
//! store.

use std::fmt;
use std::str::FromStr;

use super::thing::Heading;
use super::{Serial, Tank, Thing};
use crate::units::{Angle, Length, Quantity, Units};

/// One thing at another place, or turned.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Move {
    /// The thing.
    pub thing: Serial,
    /// Its new place, cm.
    pub at: [f64; 3],
    /// Its new heading; `None` leaves it.
    pub heading: Option<Heading>,
}

/// Several of them; each thing once.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Moves(pub Vec<Move>);

/// Why moves cannot be, as a sentence.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct Immovable(String);

impl FromStr for Move {
    type Err = Immovable;

    fn from_str(text: &str) -> Result<Self, Immovable> {
        let refused = || {
            Immovable(format!(
                "“{text}” is no move: a thing’s number, a colon, and three centimetres with commas are; a heading may follow, as two degrees."
            ))
        };
        let (number, values) = text.split_once(':').ok_or_else(refused)?;
        let thing = Serial(number.parse().map_err(|_| refused())?);
        let values: Vec<f64> = values
            .split(',')
            .map(|value| value.parse().map_err(|_| refused()))
            .collect::<Result<_, _>>()?;
        if values.iter().any(|value| !value.is_finite()) {
            return Err(refused());
        }
        match values[..] {
            [x, y, z] => Ok(Self {
                thing,
                at: [x, y, z],
                heading: None,
            }),
            [x, y, z, around, up] => {
                let heading = Heading {
                    around: Angle::degrees(around),
                    up: Angle::degrees(up),
                };
                Ok(Self {
                    thing,
                    at: [x, y, z],
                    heading: Some(heading),
                })
            }
            _ => Err(refused()),
        }
    }
}

impl fmt::Display for Move {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [x, y, z] = self.at;
        write!(f, "{}:{x},{y},{z}", self.thing)?;
        self.heading.map_or(Ok(()), |heading| {
            write!(
                f,
                ",{},{}",
                heading.around.as_degrees(),
                heading.up.as_degrees()
            )
        })
    }
}

impl FromStr for Moves {
    type Err = Immovable;

    fn from_str(text: &str) -> Result<Self, Immovable> {
        text.split(';')
            .filter(|one| !one.is_empty())
            .map(str::parse)
            .collect::<Result<_, _>>()
            .map(Self)
    }
}

impl fmt::Display for Moves {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let moves: Vec<String> = self.0.iter().map(ToString::to_string).collect();
        f.write_str(&moves.join(";"))
    }
}

impl Moves {
    /// What leads from one tank to the other, where both have the same things.
    pub fn between(before: &Tank, after: &Tank) -> Self {
        let moved = after.things.iter().filter(|thing| {
            before
                .thing(thing.number)
                .is_some_and(|stood| stood != *thing)
        });
        let to = |thing: &Thing| Move {
            thing: thing.number,
            at: [thing.x, thing.y, thing.z].map(Length::as_cm),
            heading: thing
                .what
                .form()
                .heading()
                .filter(|_| thing.what.can_be_turned()),
        };
        Self(moved.map(to).collect())
    }

    /// The tank with its things moved so.
    ///
    /// # Errors
    /// A sentence for the keeper, when a thing is not in the tank, cannot be turned, or would stand
    /// where the tank's limits do not let it.
    pub fn applied_to(&self, tank: &Tank) -> Result<Tank, Immovable> {
        let mut tried = tank.clone();
        for one in &self.0 {
            one.apply(&mut tried)?;
        }
        Ok(tried)
    }

    /// What is done to the tank, one line to each thing, in the keeper's units.
    pub fn words(&self, tank: &Tank, units: &Units) -> Vec<String> {
        self.0
            .iter()
            .filter_map(|one| Some(one.words(tank.thing(one.thing)?, units)))
            .collect()
    }
}

impl Move {
    /// Moves one thing of the tank.
    ///
    /// # Errors
    /// As [`Moves::applied_to`]; the tank is then as it was.
    pub fn apply(&self, tank: &mut Tank) -> Result<(), Immovable> {
        let gone = || {
            Immovable(format!(
                "There is no thing with the number {} in this tank.",
                self.thing
            ))
        };
        let index = tank
            .things
            .iter()
            .position(|thing| thing.number == self.thing)
            .ok_or_else(gone)?;
        let before = tank.things[index].clone();
        let thing = &mut tank.things[index];
        [thing.x, thing.y, thing.z] = self.at.map(Length::cm);
        let turned = self.heading.is_none_or(|heading| thing.what.turn(heading));
        let refusal = if turned {
            tank.refusals(&Units::default())
                .first()
                .map(ToString::to_string)
        } else {
            Some(format!(
                "{} has no stream that could be turned.",
                before.name
            ))
        };
        refusal.map_or(Ok(()), |refusal| {
            tank.things[index] = before;
            Err(Immovable(refusal))
        })
    }

    fn words(&self, stood: &Thing, units: &Units) -> String {
        let print = |cm: f64| units.print(cm, Length::UNITS, 0);
        let [x, y, z] = self.at;
        let mut words = format!(
            "{}: {} from the left, {} from the front, {} above the floor",
            stood.name,
            print(x),
            print(y),
            print(z)
        );
        let before = stood.what.form().heading();
        if let Some(heading) = self.heading.filter(|heading| Some(*heading) != before) {
            words += &format!(", pointing {}", pointing(heading));
        }
        words
    }
}

/// A heading in words: “to the back and right, 10° up”.
pub fn pointing(heading: Heading) -> String {
    const WAYS: [&str; 8] = [
        "to the right",
        "to the right and back",
        "to the back",
        "to the left and back",
        "to the left",
        "to the left and front",
        "to the front",
        "to the right and front",
    ];
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "one of eight"
    )]
    let eighth =
        (heading.around.as_degrees().rem_euclid(360.0) / 45.0).round() as usize % WAYS.len();
    let up = heading.up.as_degrees();
    if up >= 75.0 {
        return "up".to_owned();
    }
    if up <= -75.0 {
        return "down".to_owned();
    }
    match up.round() {
        0.0 => WAYS[eighth].to_owned(),
        up if up > 0.0 => format!("{}, {up}° up", WAYS[eighth]),
        up => format!("{}, {}° down", WAYS[eighth], -up),
    }
}

#[cfg(test)]
mod tests {
    use super::{Heading, Move, Moves, pointing};
    use crate::document::start;
    use crate::units::{Angle, Units};

    fn heading(around: f64, up: f64) -> Heading {
        Heading {
            around: Angle::degrees(around),
            up: Angle::degrees(up),
        }
    }

    #[test]
    fn moves_are_written_and_read_applied_and_found_again() {
        let tank = start::by_id("planted-canister").expect("listed").tank();
        let kind = |id: &str| {
            tank.things
                .iter()
                .find(|thing| thing.what.id() == id)
                .expect("it has one")
                .number
        };
        let text = format!(
            "{}:80,20,12;{}:5,20,40,90,10",
            kind("intake"),
            kind("outlet")
        );
        let moves: Moves = text.parse().expect("moves");
        assert_eq!(moves.to_string(), text);
        let tried = moves.applied_to(&tank).expect("they can be");
        let outlet = tried.thing(kind("outlet")).expect("still there");
        assert_eq!(outlet.what.form().heading(), Some(heading(90.0, 10.0)));
        let found = Moves::between(&tank, &tried);
        assert_eq!(found.applied_to(&tank).expect("they can be"), tried);
        assert_eq!(found.0.len(), 2);
        let words = moves.words(&tank, &Units::BASE);
        assert!(
            words[0].ends_with("80 cm from the left, 20 cm from the front, 12 cm above the floor"),
            "{words:?}"
        );
        assert!(
            words[1].ends_with(", pointing to the back, 10° up"),
            "{words:?}"
        );
    }

    #[test]
    fn what_cannot_be_is_refused_in_a_sentence_and_leaves_the_tank() {
        let mut tank = start::by_id("planted-canister").expect("listed").tank();
        let intake = tank
            .things
            .iter()
            .find(|thing| thing.what.id() == "intake")
            .expect("it has one")
            .number;
        for (text, says) in [
            ("nonsense".to_owned(), "is no move"),
            ("1:2,3".to_owned(), "is no move"),
            ("1:2,3,inf".to_owned(), "is no move"),
            ("1:2,3,x".to_owned(), "is no move"),
            ("99:1,2,3".to_owned(), "no thing with the number 99"),
            (
                format!("{intake}:5,5,5,90,0"),
                "no stream that could be turned",
            ),
            (format!("{intake}:5000,5,5"), "5000"),
        ] {
            let why = text
                .parse()
                .and_then(|moves: Moves| moves.applied_to(&tank))
                .expect_err("it cannot be")
                .to_string();
            assert!(why.contains(says), "{text}: {why}");
        }
        let before = tank.clone();
        let too_far: Move = format!("{intake}:5000,5,5").parse().expect("a move");
        assert!(too_far.apply(&mut tank).is_err() && tank == before);
    }

    #[test]
    fn headings_are_said_as_a_keeper_would_point() {
        assert_eq!(pointing(heading(0.0, 0.0)), "to the right");
        assert_eq!(pointing(heading(-90.0, 20.0)), "to the front, 20° up");
        assert_eq!(pointing(heading(338.0, -5.0)), "to the right, 5° down");
        assert_eq!(pointing(heading(130.0, 85.0)), "up");
    }
}
