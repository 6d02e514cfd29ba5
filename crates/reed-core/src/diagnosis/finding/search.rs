//! Finding a question by the words that people use.
//!
//! Questions are worded as precisely as they have to be; somebody who is worried types "noise" or
//! "not eating". [`SYNONYMS`] leads from such words to parts of words that stand in the questions.
//! To teach the search a word, add it to a row.

use super::{Finding, Place, all};

/// What people say, and the beginnings of words in questions that mean it; alternatives parted by
/// bars.
const SYNONYMS: &[(&str, &str)] = &[
    (
        "breath|gasp|suffocat|choking|panting|short of air|need air|red gill|gill",
        "gulp|gill|top third",
    ),
    (
        "sick|ill|disease|unwell|infect|parasite|ich|fungus|white spot|wound|sore|fin rot",
        "spots|pale|rub against|hollow",
    ),
    (
        "not eating|won't eat|wont eat|not feeding|no appetite|off food|refus|ignor",
        "slow to come|hollow|pale",
    ),
    (
        "noise|noisy|loud|sound|hum|buzz|vibrat|grind|rattl|gurgl",
        "gurgle",
    ),
    ("leak|drip|wet|puddle|flood|floor", "damp|crack"),
    ("green|algae|slime", "algae"),
    (
        "hiding|hide|shy|scared|skittish|nervous|darting",
        "hide|startled|rub against",
    ),
    (
        "dead|dying|die|death|lost a|losing|mortality",
        "dead|died|die|missing",
    ),
    (
        "cloud|milky|haze|foggy|murky|dirty water|unclear",
        "hazy|milky|particles",
    ),
    ("white", "milky|spots|white"),
    (
        "yellow|brown water|tea|tint|colour of the water|stain",
        "tinted",
    ),
    ("smell|stink|stench|odour|odor|reek", "smell"),
    (
        "egg|sulphur|sulfur|sulphide|black",
        "rotten eggs|black in places",
    ),
    ("bubble|foam|froth|fizz", "bubble|foam"),
    ("oil|film|grease|scum|skin on", "film|oily"),
    (
        "mirror|still surface|flat|calm|no ripple|surface movement",
        "mirror",
    ),
    (
        "weak|slow flow|less flow|no flow|trickl|reduced|pressure",
        "weaker|flow stopped",
    ),
    (
        "stopped|not working|broken|dead pump|won't start|wont start|off",
        "stopped|stood still",
    ),
    ("clog|block|choke|jam", "clogged|choked|blocked|kinked"),
    (
        "restart|on and off|cycling off|stutter|purge|burp",
        "start again|bursts",
    ),
    (
        "waste|poop|poo|muck|debris|detritus|dirt|sludge|mulm|dirty",
        "muck|dirt|particles",
    ),
    ("dead spot|dead zone|corner|pile|heap", "gather|heap|corner"),
    ("float|top|surface|hang", "top third|surface"),
    (
        "pale|colour|color|fad|lethargic|listless|slow|weak fish|tired|bottom",
        "pale",
    ),
    ("scratch|flash|rub|itch|twitch|clamp", "rub against"),
    ("fight|chas|bite|bull|aggress|nip", "chased"),
    ("thin|skinny|wasting|sunken|starv", "hollow"),
    (
        "current|pushed|blown|too strong|struggl",
        "pushed about|races",
    ),
    (
        "new fish|new animal|added fish|stock|bought",
        "animals been added|newly bought",
    ),
    ("overfe|fed|food|feed", "fed|food"),
    (
        "holiday|vacation|away|sitter|neighbour|neighbor|stand-in",
        "somebody else|stand-in",
    ),
    (
        "water change|changed water|refill|top up|topped",
        "water been changed|refill|tap water",
    ),
    (
        "chlorine|conditioner|dechlor|tap",
        "chlorine|conditioner|tap water",
    ),
    (
        "cold|hot|heat|warm|temperature|heater",
        "temperature|colder",
    ),
    ("clean|wash|rins", "cleaned|rinsed"),
    (
        "soap|detergent|spray|cleaner|chemical|perfume|paint",
        "soap",
    ),
    (
        "medicine|medic|treat|drug|antibiotic|dose|dosing",
        "medicine|antibiotic|additives",
    ),
    ("copper|snail kill", "copper"),
    ("carbon|zeolite|resin|charcoal|pad", "carbon|resin|pad"),
    (
        "bacteria in a bottle|bottle|starter|booster",
        "bacteria product",
    ),
    (
        "new tank|set up|setup|cycle|cycling|fresh tank",
        "set up|five weeks",
    ),
    (
        "new filter|new media|sponge|floss|cartridge|replac",
        "media|sponge|cartridge",
    ),
    ("air pump|airstone|air stone|aerat", "air pump|air stone"),
    ("level|evaporat|low water", "stand lower|stands lower"),
    ("hose|pipe|tube|kink", "hose"),
    ("seal|gasket|o-ring|lid", "seal|lid"),
    ("impeller|rotor|shaft|motor|pump", "impeller|pump|motor"),
    ("shrimp|snail|crayfish|invert", "shrimp"),
    ("moult|molt|shed", "moult"),
    ("old|age|elderly", "old|end of their usual life"),
    (
        "sudden|overnight|this morning|at once",
        "suddenly|in the morning",
    ),
    (
        "again|comes back|keeps coming|return",
        "bad again|comes back",
    ),
    ("ph|acid", "ph"),
    ("nitrate|nitrite|ammonia|spike", "nitrate|ammonia|nitrite"),
    ("plant|leaf|leaves|pearling", "plants"),
    (
        "gas|tilt|air in the filter|airlock|air lock|burping",
        "tilt the running|air under",
    ),
    (
        "sock|sump|overflow|return chamber",
        "sock|sump|return chamber",
    ),
    ("electric|shock|smoke|burn", "motor cover|damp"),
];

/// Words that say nothing.
const FILLERS: &[&str] = &[
    "the", "a", "an", "my", "is", "are", "of", "in", "on", "at", "to", "and", "it", "fish", "tank",
    "very", "some", "has", "have", "fast", "hard", "much", "lot", "no", "not", "all", "they",
    "there", "with", "from", "looks", "look",
];

/// Too short to mean anything while it is being typed.
const SHORTEST: usize = 2;

/// Questions that these words may mean, best first; those of one place only, if one is given.
/// Without words, all of that place; with neither, none.
pub fn search(text: &str, place: Option<Place>) -> Vec<&'static Finding> {
    let here = |finding: &&Finding| {
        !finding.asks.is_empty() && place.is_none_or(|place| finding.place == place)
    };
    let typed = text.trim().to_lowercase();
    let terms = terms(&typed);
    if terms.is_empty() {
        return if place.is_some() && text.trim().is_empty() {
            all().filter(here).collect()
        } else {
            Vec::new()
        };
    }
    let mut found: Vec<(usize, &Finding)> = all()
        .filter(here)
        .filter_map(|finding| {
            let words = haystack(finding);
            let said_so = if words.contains(&typed) { 1 } else { 0 };
            let score = terms.iter().map(|term| term.score(&words)).sum::<usize>() + said_so;
            (score > said_so).then_some((score, finding))
        })
        .collect();
    // Where several questions meet every word as it stands, those that meet less are noise.
    let most = found.iter().map(|(score, _)| *score).max().unwrap_or(0);
    let whole = WHOLE * terms.len();
    let enough = if found.iter().filter(|(score, _)| *score >= whole).count() >= SEVERAL {
        whole
    } else {
        whole.min(most).div_ceil(2)
    };
    found.retain(|(score, _)| *score >= enough);
    found.sort_by_key(|(score, _)| std::cmp::Reverse(*score));
    found.into_iter().map(|(_, finding)| finding).collect()
}

/// What a term that stands in the question itself counts, and one that is only meant.
const WHOLE: usize = 2;
const PART: usize = 1;

/// So many answers to a search need no others beside them.
const SEVERAL: usize = 4;

/// Something that was typed: as it stands, and what it may mean.
struct Term {
    typed: String,
    /// A phrase means what its row says as surely as if that had been typed.
    is_phrase: bool,
    meant: Vec<&'static str>,
}

impl Term {
    fn score(&self, words: &str) -> usize {
        if begins_a_word(words, &self.typed) {
            WHOLE
        } else if self.meant.iter().any(|meant| begins_a_word(words, meant)) {
            if self.is_phrase { WHOLE } else { PART }
        } else {
            0
        }
    }
}

/// Phrases that a row knows are one term; the other words one each.
fn terms(text: &str) -> Vec<Term> {
    let mut rest = format!(
        " {} ",
        text.split_whitespace().collect::<Vec<_>>().join(" ")
    );
    let mut terms = Vec::new();
    for (said, meant) in SYNONYMS {
        for phrase in said.split('|').filter(|phrase| phrase.contains(' ')) {
            if let Some(at) = rest.find(&format!(" {phrase}")) {
                terms.push(Term {
                    typed: phrase.to_owned(),
                    is_phrase: true,
                    meant: meant.split('|').collect(),
                });
                let end = rest[at + 1 + phrase.len()..]
                    .find(' ')
                    .map_or(rest.len(), |more| at + 1 + phrase.len() + more);
                rest.replace_range(at..end, "");
            }
        }
    }
    let words = rest
        .split(|letter: char| !letter.is_alphanumeric() && letter != '\'')
        .filter(|word| word.chars().count() >= SHORTEST);
    for word in words.filter(|word| !FILLERS.contains(word)) {
        // A known word is met by its beginning, whichever of the two is longer: "breathing", or
        // "brea" on the way to it.
        let knows = |phrase: &str| {
            !phrase.contains(' ')
                && (word.starts_with(phrase) || (word.len() > SHORTEST && phrase.starts_with(word)))
        };
        let rows = SYNONYMS
            .iter()
            .filter(|(said, _)| said.split('|').any(knows));
        terms.push(Term {
            typed: word.to_owned(),
            is_phrase: false,
            meant: rows.flat_map(|(_, meant)| meant.split('|')).collect(),
        });
    }
    terms
}

fn haystack(finding: &Finding) -> String {
    format!(" {} {} {}", finding.asks, finding.says, finding.id).to_lowercase()
}

fn begins_a_word(words: &str, part: &str) -> bool {
    words
        .match_indices(part)
        .any(|(at, _)| !words[..at].ends_with(char::is_alphanumeric))
}

#[cfg(test)]
mod tests {
    use super::{SYNONYMS, begins_a_word, haystack, search};
    use crate::diagnosis::finding::{Place, all};

    /// What people type, and a question that has to be among the first five.
    const TYPED: &[(&str, &str)] = &[
        ("breath", "gasping"),
        ("breathing fast", "pumping-gills"),
        ("sick", "disease-signs"),
        ("noise", "gurgle-or-rattle"),
        ("leak", "damp-or-drip"),
        ("green", "nuisance-algae"),
        ("hiding", "pushed-by-current"),
        ("not eating", "pale-listless"),
        ("red gills", "pumping-gills"),
        ("gulp", "gasping"),
        ("stinks", "smell-musty"),
        ("rotten eggs", "smell-rotten-egg"),
        ("cloudy water", "cloudy-white"),
        ("weak flow", "flow-weak"),
        ("filter stopped", "pump-stopped"),
        ("holiday", "fed-by-stand-in"),
        ("medicine", "medicated"),
        ("clogged", "sponge-choked"),
        ("scratching", "irritated"),
        ("new fish", "stock-added"),
        ("water change", "water-changed"),
        ("brea", "gasping"),
    ];

    #[test]
    fn the_words_that_people_use_lead_to_the_question() {
        for (typed, id) in TYPED {
            let found: Vec<&str> = search(typed, None)
                .iter()
                .map(|finding| finding.id)
                .take(5)
                .collect();
            assert!(found.contains(id), "“{typed}” finds {found:?}");
        }
    }

    #[test]
    fn every_synonym_leads_somewhere_and_every_question_is_found_by_its_own_words() {
        let words: Vec<String> = all()
            .filter(|finding| !finding.asks.is_empty())
            .map(haystack)
            .collect();
        for (said, meant) in SYNONYMS {
            for meant in meant.split('|') {
                assert!(
                    words.iter().any(|words| begins_a_word(words, meant)),
                    "{meant}"
                );
            }
            for said in said.split('|') {
                assert!(!search(said, None).is_empty(), "{said}");
            }
        }
        for finding in all().filter(|finding| !finding.asks.is_empty()) {
            assert_eq!(
                search(finding.asks, None).first().map(|first| first.id),
                Some(finding.id),
                "{}",
                finding.asks
            );
            assert!(search("", Some(finding.place)).contains(&finding));
        }
    }

    #[test]
    fn nonsense_finds_nothing_and_a_place_alone_finds_all_of_it() {
        for typed in ["", " ", "xyzzy", "?", "🐟", "a"] {
            assert!(search(typed, None).is_empty(), "{typed}");
        }
        assert!(
            search("", Some(Place::Surface))
                .iter()
                .all(|finding| finding.place == Place::Surface)
        );
        assert!(
            search("bubbles", Some(Place::Surface))
                .iter()
                .all(|finding| finding.place == Place::Surface)
        );
    }
}
