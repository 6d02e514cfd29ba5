//! The quick line: “no3 20, 25.5 C, cleaned prefilter yesterday, lost 1 tetra”.
//!
//! A line is parts between commas, semicolons or ends of lines; a decimal comma is none. Each part
//! is a reading, a thing that happened, or else a note: nothing that was typed is lost. When it was
//! stands at its beginning or end; a part that is only a time holds for those after it.

mod amount;
mod words;

use jiff::civil::DateTime;

use self::amount::Amount;
use self::words::{ANALYTES, BY_UNIT, FILLERS, NUMBERS, TIMES};
use super::happening::{Happening, OnWhat};
use super::when::When;
use super::{Entry, On};
use crate::tank::{Analyte, Reading, Tank};
use crate::units::{Lies, Units, names_a_day};

/// A part of the line and what it means.
#[derive(Clone, Debug, PartialEq)]
pub struct Said {
    /// As typed.
    pub text: String,
    /// What it is taken for.
    pub meant: Meant,
}

/// What a part of the line is taken for.
#[derive(Clone, Debug, PartialEq)]
pub enum Meant {
    /// A reading, by the first kit for it.
    Reading(Reading),
    /// Something that happened.
    Entry(Entry),
    /// It is kept as a note.
    Unclear {
        /// The note.
        entry: Entry,
        /// What of it was not understood, as a sentence.
        why: String,
    },
}

/// What the line is read against.
#[derive(Clone, Copy, Debug)]
pub struct Quick<'a> {
    /// Whose filters and groups are named.
    pub tank: &'a Tank,
    /// The clock on the wall.
    pub now: DateTime,
    /// Units of numbers without one.
    pub units: &'a Units,
}

/// The analyte that these small letters name.
pub(super) fn analyte_named(small: &str) -> Option<&'static Analyte> {
    let named = ANALYTES.iter().find(|(word, _)| *word == small);
    named.map(|(_, analyte)| *analyte)
}

/// What can be typed for a reading, in small letters.
pub fn analyte_words() -> impl Iterator<Item = &'static str> {
    ANALYTES.iter().map(|(word, _)| *word)
}

/// Parts of a line at most; what is longer is one note.
const MOST_PARTS: usize = 40;

impl Quick<'_> {
    /// Reads a line.
    pub fn read(&self, line: &str) -> Vec<Said> {
        let mut when = None;
        let mut said = Vec::new();
        for part in parts(line) {
            let (time, part) = self.time_before_a_colon(part);
            when = time.or(when);
            let halves = part
                .split_once(" and ")
                .map(|(one, other)| [one, other].map(|half| self.part(half.trim(), when)));
            match (self.time_alone(part), halves) {
                (Some(time), _) => when = Some(time),
                (None, Some([one, other])) if is_clear(&one) && is_clear(&other) => {
                    said.extend(one);
                    said.extend(other);
                }
                (None, _) => said.extend(self.part(part, when)),
            }
        }
        if said.is_empty() && when.is_some() {
            let why = "This is only a time. Say what happened.".to_owned();
            said.push(self.unclear(line.trim(), when, why));
        }
        said
    }

    /// “Yesterday: …” holds for all that follows.
    fn time_before_a_colon<'t>(&self, part: &'t str) -> (Option<When>, &'t str) {
        let split = part.split_once(": ");
        let timed = split.and_then(|(before, after)| Some((self.time_alone(before)?, after)));
        timed.map_or((None, part), |(time, after)| (Some(time), after.trim()))
    }

    /// A part that says only when.
    fn time_alone(&self, part: &str) -> Option<When> {
        let words: Vec<&str> = part.trim_end_matches(':').split_whitespace().collect();
        (!words.is_empty() && looks_like_time(&words))
            .then(|| When::read(&words.join(" "), self.now, Lies::Before))
            .flatten()
    }

    /// One part, and what stands beside a value in it.
    fn part(&self, text: &str, carried: Option<When>) -> Vec<Said> {
        let words: Vec<&str> = text.split_whitespace().collect();
        let (words, own) = self.without_time(&words);
        let when = own.or(carried);
        let said = |meant| Said {
            text: text.to_owned(),
            meant,
        };
        match self.reading(&words, when) {
            Some(Ok((reading, rest))) => {
                let mut both = vec![said(Meant::Reading(reading))];
                if !rest.is_empty() {
                    let note = self.note(&rest, when);
                    both.push(Said {
                        text: rest,
                        meant: Meant::Entry(note),
                    });
                }
                both
            }
            Some(Err(why)) => vec![self.unclear(text, when, why)],
            None => match self.entry(&words, when) {
                Some(Ok(entry)) if entry.is_yet_to_come(self.now) => {
                    let why = "That is in the future. It is kept as a note.".to_owned();
                    vec![self.unclear(text, when, why)]
                }
                Some(Ok(entry)) => vec![said(Meant::Entry(entry))],
                Some(Err(why)) => vec![self.unclear(text, when, why)],
                None => {
                    let why = "Not understood; it is kept as a note.".to_owned();
                    vec![self.unclear(text, when, why)]
                }
            },
        }
    }

    fn at(&self, when: Option<When>) -> When {
        when.unwrap_or_else(|| When::minute(self.now))
    }

    fn note(&self, text: &str, when: Option<When>) -> Entry {
        let kind = Happening::by_id("note").expect("it is declared");
        Entry {
            note: text.chars().take(super::LONGEST_NOTE).collect(),
            ..Entry::of(kind, self.at(when))
        }
    }

    fn unclear(&self, text: &str, when: Option<When>, why: String) -> Said {
        Said {
            text: text.to_owned(),
            meant: Meant::Unclear {
                entry: self.note(text, when),
                why,
            },
        }
    }

    /// The words without those at the end or the beginning that say when.
    fn without_time<'w>(&self, words: &[&'w str]) -> (Vec<&'w str>, Option<When>) {
        const LONGEST: usize = 5;
        let read = |words: &[&str]| {
            looks_like_time(words)
                .then(|| When::read(&words.join(" "), self.now, Lies::Before))
                .flatten()
        };
        for many in (1..=LONGEST.min(words.len().saturating_sub(1))).rev() {
            let (before, last) = words.split_at(words.len() - many);
            if let Some(when) = read(last) {
                return (before.to_vec(), Some(when));
            }
            let (first, after) = words.split_at(many);
            if let Some(when) = read(first) {
                return (after.to_vec(), Some(when));
            }
        }
        (words.to_vec(), None)
    }

    /// A reading, with what else stands in the part; or why the value cannot be.
    fn reading(
        &self,
        words: &[&str],
        when: Option<When>,
    ) -> Option<Result<(Reading, String), String>> {
        let text = words.join(" ");
        let small = text.to_lowercase();
        let (analyte, value) = named(&small).or_else(|| by_unit(&small))?;
        let value = NUMBERS
            .iter()
            .find(|(word, _)| *word == value)
            .map_or_else(|| value.to_owned(), |(_, number)| number.to_string());
        let at = self.at(when).likely().min(self.now);
        let reading = |value| Reading::usual(analyte, value, at);
        let whole = analyte.read(&value, self.units);
        if let Ok(value) = whole {
            return Some(Ok((reading(value), String::new())));
        }
        // The number with its unit, then the number alone; the rest is a note.
        let tokens: Vec<&str> = value.split_whitespace().collect();
        for many in (1..tokens.len().min(3)).rev() {
            let (number, rest) = tokens.split_at(many);
            if let Ok(value) = analyte.read(&number.join(" "), self.units) {
                return Some(Ok((reading(value), rest.join(" "))));
            }
        }
        let accepted = whole.expect_err("it was not read");
        Some(Err(format!("{accepted} It is kept as a note.")))
    }

    /// Something that happened; or why its amount cannot be.
    fn entry(&self, words: &[&str], when: Option<When>) -> Option<Result<Entry, String>> {
        let mut tokens: Vec<Token<'_>> = words.iter().map(|word| Token::of(word)).collect();
        let filter = self.filter_named(&mut tokens);
        let kind = kind_said(&mut tokens)?;
        let on = match kind.on {
            OnWhat::Filter => filter.unwrap_or_default(),
            OnWhat::Group => self.group_named(&mut tokens),
            OnWhat::Tank => On::Tank,
        };
        let amount = match kind.amount {
            None => Ok(None),
            Some(measure) => Amount {
                kind,
                measure,
                tank: self.tank,
                units: self.units,
            }
            .take(&mut tokens),
        };
        let note: Vec<&str> = tokens
            .iter()
            .filter(|token| !token.is_used)
            .map(|token| token.word)
            .collect();
        let says_more = tokens
            .iter()
            .any(|token| !(token.is_used || FILLERS.contains(&token.small.as_str())));
        let entry = |amount| Entry {
            on,
            amount,
            note: if says_more {
                note.join(" ")
            } else {
                String::new()
            },
            ..Entry::of(kind, self.at(when))
        };
        Some(amount.map(entry))
    }

    /// A filter that is called by its name or number; its name stands for “filter” from then on.
    fn filter_named(&self, tokens: &mut [Token<'_>]) -> Option<On> {
        let numbered = (0..tokens.len().saturating_sub(1)).find_map(|place| {
            let number = tokens[place + 1].small.parse::<u32>().ok()?;
            let known = self.tank.filters.iter();
            let is_it = |number: u32| known.clone().any(|filter| filter.number.0 == number);
            (tokens[place].small == "filter" && is_it(number)).then_some((place, number))
        });
        if let Some((place, number)) = numbered {
            tokens[place + 1].is_used = true;
            return Some(On::Filter(crate::tank::Serial(number)));
        }
        for filter in &self.tank.filters {
            let name: Vec<String> = small_words(&filter.name);
            let found = tokens.windows(name.len().max(1)).position(|window| {
                !name.is_empty()
                    && window
                        .iter()
                        .zip(&name)
                        .all(|(token, word)| token.small == *word)
            });
            if let Some(place) = found {
                tokens[place].small = "filter".to_owned();
                for token in &mut tokens[place + 1..place + name.len()] {
                    token.is_used = true;
                }
                return Some(On::Filter(filter.number));
            }
        }
        None
    }

    /// A group of animals that is called by its name, or by one word of it.
    fn group_named(&self, tokens: &mut [Token<'_>]) -> On {
        const SHORTEST: usize = 3;
        let singular = |word: &str| word.trim_end_matches('s').to_owned();
        for group in &self.tank.stock {
            let name: Vec<String> = small_words(&group.name)
                .iter()
                .map(|word| singular(word))
                .collect();
            let is_of_it = |token: &Token<'_>| {
                !token.is_used
                    && token.small.len() >= SHORTEST
                    && name.contains(&singular(&token.small))
            };
            if tokens.iter().any(is_of_it) {
                for token in tokens.iter_mut() {
                    token.is_used |= is_of_it(token);
                }
                return On::Group(group.name.clone());
            }
        }
        On::Tank
    }
}

/// A word of a part.
struct Token<'w> {
    /// As typed.
    word: &'w str,
    /// In small letters, without signs around it.
    small: String,
    /// It has been understood.
    is_used: bool,
}

impl<'w> Token<'w> {
    fn of(word: &'w str) -> Self {
        let trimmed =
            word.trim_matches(|letter: char| matches!(letter, '.' | '!' | '?' | ':' | '"'));
        Self {
            word,
            small: trimmed.to_lowercase(),
            is_used: false,
        }
    }
}

fn small_words(name: &str) -> Vec<String> {
    name.split_whitespace().map(str::to_lowercase).collect()
}

/// Every part is understood.
fn is_clear(said: &[Said]) -> bool {
    said.iter()
        .all(|said| !matches!(said.meant, Meant::Unclear { .. }))
}

/// The kind whose phrase of most words is there; its words are used up.
fn kind_said(tokens: &mut [Token<'_>]) -> Option<&'static Happening> {
    // Words between those of a phrase that say nothing do not part it.
    let telling: Vec<usize> = (0..tokens.len())
        .filter(|place| {
            let token = &tokens[*place];
            !token.is_used
                && !matches!(
                    token.small.as_str(),
                    "a" | "an" | "the" | "my" | "our" | "some"
                )
        })
        .collect();
    let mut best: Option<(usize, usize, &'static Happening)> = None;
    for kind in Happening::all() {
        for phrase in kind.words {
            let words: Vec<&str> = phrase.split(' ').collect();
            let is_said = |place: &usize| {
                telling[*place..].len() >= words.len()
                    && words.iter().enumerate().all(|(index, word)| {
                        let said = &tokens[telling[*place + index]].small;
                        said == word || said.strip_suffix('s') == Some(word)
                    })
            };
            let place = (0..telling.len()).find(is_said);
            if let Some(place) = place
                && best.is_none_or(|(_, many, _)| words.len() > many)
            {
                best = Some((place, words.len(), kind));
            }
        }
    }
    let (place, many, kind) = best?;
    for index in &telling[place..place + many] {
        tokens[*index].is_used = true;
    }
    Some(kind)
}

/// An analyte by its name, before or after the value, and the value as typed.
fn named(small: &str) -> Option<(&'static Analyte, &str)> {
    let begins = |value: &str| {
        value.starts_with(|letter: char| {
            letter.is_ascii_digit() || matches!(letter, '.' | '-' | '+')
        }) || NUMBERS.iter().any(|(word, _)| value == *word)
    };
    ANALYTES.iter().find_map(|(word, analyte)| {
        let after = small
            .strip_prefix(word)
            .filter(|rest| rest.starts_with([' ', '=', ':']))
            .map(|rest| rest.trim_start_matches([' ', '=', ':']));
        let before = small
            .strip_suffix(word)
            .filter(|rest| rest.ends_with(' '))
            .map(str::trim_end);
        let value = after.or(before).filter(|value| begins(value))?;
        Some((*analyte, value))
    })
}

/// An analyte by its unit alone.
fn by_unit(small: &str) -> Option<(&'static Analyte, &str)> {
    let end = small
        .find(|letter: char| !(letter.is_ascii_digit() || matches!(letter, '.' | ',' | '-')))?;
    let unit = small[end..].trim();
    let (_, analyte) = BY_UNIT
        .iter()
        .find(|(units, _)| end > 0 && units.contains(&unit))?;
    // “degrees” are those of the keeper.
    let value = if unit == "degrees" {
        &small[..end]
    } else {
        small
    };
    Some((*analyte, value))
}

/// Words that could say when: one of those of a time, an hour or a date in figures.
fn looks_like_time(words: &[&str]) -> bool {
    let is_one = |word: &&str| {
        let small = word.to_lowercase();
        let figures = small.chars().any(|letter| letter.is_ascii_digit());
        TIMES.contains(&small.as_str())
            || figures && (small.contains(':') || small.ends_with("am") || small.ends_with("pm"))
            || figures && small.matches(['.', '-', '/']).count() == 2
            || names_a_day(&small)
    };
    words.iter().any(is_one)
}

/// The parts of a line: between ends of lines, semicolons, and commas that are no decimal ones.
fn parts(line: &str) -> Vec<&str> {
    let bytes = line.as_bytes();
    let is_figure = |place: Option<usize>| {
        place
            .and_then(|place| bytes.get(place))
            .is_some_and(u8::is_ascii_digit)
    };
    let ends = line
        .match_indices([',', ';', '\n', '\r'])
        .filter(|(place, sign)| {
            !(*sign == "," && is_figure(place.checked_sub(1)) && is_figure(Some(place + 1)))
        });
    let mut from = 0;
    let mut parts = Vec::new();
    for (place, sign) in ends {
        if parts.len() + 1 == MOST_PARTS {
            break;
        }
        parts.push(line[from..place].trim());
        from = place + sign.len();
    }
    parts.push(line[from..].trim());
    parts.retain(|part| !part.is_empty());
    parts
}
