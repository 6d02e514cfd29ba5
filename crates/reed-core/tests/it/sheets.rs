//! The log as comma-separated values: what goes out comes back, and what other programs write is
//! taken as it was meant.

use jiff::SignedDuration;
use jiff::civil::{DateTime, date};
use jiff::tz::{Offset, TimeZone};
use proptest::prelude::{Just, Strategy, any, prop_assert_eq, prop_oneof, proptest};
use proptest::test_runner::Config;
use reed_core::document::start;
use reed_core::log::sheet::{DateOrder, Read, Refused, Role, Row, Sheet, Writer};
use reed_core::log::{Entry, Happening, On, When};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::Units;

const NOW: DateTime = date(2026, 3, 10).at(12, 0, 0, 0);

fn tank() -> Tank {
    start::by_id("planted-canister").expect("listed").tank()
}

/// The rows of a file, by its own guess or with dates in this order.
fn rows(text: &str, dates: Option<DateOrder>) -> Vec<Result<Row, Refused>> {
    let sheet = Sheet::open(text.as_bytes()).unwrap_or_else(|why| panic!("{why}"));
    let mut mapping = sheet.guess();
    mapping.dates = dates.or(mapping.dates);
    let tank = tank();
    let read = Read {
        tank: &tank,
        now: NOW,
        zone: TimeZone::fixed(Offset::constant(1)),
        units: &Units::BASE,
    };
    let mut all = Vec::new();
    for row in sheet.read(&mapping, &read) {
        match row {
            Ok(rows) => all.extend(rows.into_iter().map(Ok)),
            Err(refused) => all.push(Err(refused)),
        }
    }
    all
}

/// In short: “nitrate 20 @2026-03-01T08:00:00”.
fn short(row: &Result<Row, Refused>) -> String {
    match row {
        Ok(Row::Reading(reading, struck)) => format!(
            "{} {}{} @{}",
            reading.analyte.id,
            (reading.value * 1000.0).round() / 1000.0,
            if *struck { " struck" } else { "" },
            reading.taken_at
        ),
        Ok(Row::Entry(entry, _)) => format!(
            "{} {:?} “{}” @{}",
            entry.happening,
            entry.amount,
            entry.note,
            entry.when.words()
        ),
        Err(Refused { line, why }) => format!("line {line}: {why}"),
    }
}

fn shorts(text: &str) -> Vec<String> {
    rows(text, None).iter().map(short).collect()
}

#[test]
fn what_other_programs_write_is_taken_as_it_was_meant() {
    // A column for each analyte, decimal commas, semicolons, days first, an hour of its own.
    assert_eq!(
        shorts(
            "\u{feff}Datum;Uhrzeit;NO3 (mg/L);pH;Bemerkung\r\n01.03.2026;08:00;20,5;7,2;\r\n25.02.2026;;;6,9;\"neue Pumpe; leise\"\r\n"
        ),
        [
            "nitrate 20.5 @2026-03-01T08:00:00",
            "ph 7.2 @2026-03-01T08:00:00",
            "ph 6.9 @2026-02-25T11:59:59.5",
            "note None “neue Pumpe; leise” @25 Feb 2026",
        ]
    );
    // A line for each, months first, in English words.
    assert_eq!(
        shorts(
            "date,parameter,value,unit\n02/25/2026 8:00 pm,Nitrite,0.1,mg/L\n02/26/2026 9:15 am,water change,30,%\n"
        ),
        [
            "nitrite 0.1 @2026-02-25T20:00:00",
            "change Some(30.0) “” @26 Feb 2026, 09:15",
        ]
    );
    // Hours of another zone are those of the clock beside the tank.
    assert_eq!(
        shorts(
            "timestamp\ttemperature\n2026-03-01T08:00:00Z\t77 F\n2026-03-01T08:00:00-05:00\t25\n"
        ),
        [
            "temperature 25 @2026-03-01T09:00:00",
            "temperature 25 @2026-03-01T14:00:00"
        ]
    );
    // Quotes, line breaks and quotes in quotes, as RFC 4180 has them.
    assert_eq!(
        shorts("date,note\r\n2026-03-01,\"two\r\nlines, and \"\"quotes\"\"\"\r\n"),
        ["note None “two\r\nlines, and \"quotes\"” @1 Mar 2026"]
    );
}

#[test]
fn each_row_that_cannot_be_says_its_line_and_why() {
    assert_eq!(
        shorts(
            "date,no3,wc\n2026-03-01,20,\nsoon,20,\n2026-03-02,lots,\n2027-01-01,5,\n2026-03-03,,\n,,\n"
        ),
        [
            "nitrate 20 @2026-03-01T11:59:59.5",
            "line 3: “soon” is no date; give one such as 2026-03-10 08:30.",
            "line 4: Nitrate: “lots” is not accepted. Give a number from 0 to 150 mg/L N (units understood: mg/L N, mg/L NO₃).",
            "line 5: 2027-01-01T00:00:00 is in the future.",
            "line 6: Nothing in it says what was read or happened.",
        ]
    );
    // Whatever ends a line, and with a break within a cell.
    let crlf = shorts("date,no3,note\r\n2026-03-01,20,\"a\r\nb\"\r\nsoon,20,\r\n");
    assert!(crlf[2].starts_with("line 4: “soon”"), "{crlf:?}");
    for (bytes, says) in [
        (
            &b"date,no3\n2026-03-01,20\xe4\n"[..],
            "Line 2 is not in UTF-8",
        ),
        (b"\xff\xfed\0a\0", "UTF-16"),
        (b"date,no3\n", "no rows"),
        (b"a\0b\n1\n", "no text file"),
    ] {
        let why = Sheet::open(bytes).expect_err(says);
        assert!(why.contains(says), "{why}");
    }
}

/// 03/04/2026 is two days; which one has to be said.
#[test]
fn an_open_order_of_dates_is_asked_for() {
    let text = "date,ph\n03/04/2025,7.0\n05/06/2025,7.1\n";
    let guess = |text: &str| Sheet::open(text.as_bytes()).expect("a file").guess().dates;
    assert_eq!(guess(text), None);
    assert_eq!(
        guess("date,ph\n03/04/2025,7.0\n25/06/2025,7.1\n"),
        Some(DateOrder::Day)
    );
    assert_eq!(guess("date,ph\n03/25/2025,7.0\n"), Some(DateOrder::Month));
    assert_eq!(guess("date,ph\n3.4.2025,7.0\n"), Some(DateOrder::Day));
    assert_eq!(guess("date,ph\n2025-03-04,7.0\n"), Some(DateOrder::Year));
    let months: Vec<_> = rows(text, Some(DateOrder::Month))
        .iter()
        .map(short)
        .collect();
    assert!(months[0].contains("2025-03-04"), "{months:?}");
}

#[test]
fn every_role_of_a_column_is_found_by_its_id() {
    for role in Role::all() {
        assert_eq!(Role::by_id(role.id()), Some(role));
        assert!(!role.words().is_empty());
    }
}

fn reading() -> impl Strategy<Value = (Row, bool)> {
    (
        0..Analyte::ALL.len(),
        0.0..1.0_f64,
        0..100_000_i64,
        any::<bool>(),
    )
        .prop_map(|(index, share, minutes, struck)| {
            let analyte = Analyte::ALL[index];
            let value = analyte.low + share * (analyte.high - analyte.low);
            let at = NOW - SignedDuration::from_mins(minutes);
            (
                Row::Reading(Reading::usual(analyte, value, at), struck),
                struck,
            )
        })
}

fn entry() -> impl Strategy<Value = (Row, bool)> {
    let note = prop_oneof![
        any::<String>(),
        Just("=1+1".to_owned()),
        Just("'quoted".to_owned()),
        Just("@a,\"b\"\r\nc".to_owned())
    ];
    (
        0..Happening::all().count(),
        0.0..1.0_f64,
        1..100_000_i64,
        0..3_i64,
        note,
        any::<bool>(),
    )
        .prop_map(|(index, share, minutes, span, note, struck)| {
            let kind = Happening::all().nth(index).expect("counted");
            let to = NOW - SignedDuration::from_mins(minutes);
            let when = When {
                from: to - SignedDuration::from_hours(span),
                to,
            };
            let tank = tank();
            // What a cell cannot hold at its ends.
            let note: String = note
                .trim()
                .chars()
                .filter(|letter| *letter != '\0')
                .take(300)
                .collect();
            let entry = Entry {
                amount: kind
                    .amount
                    .map(|measure| measure.low + share * (measure.high - measure.low)),
                on: match kind.on {
                    reed_core::log::OnWhat::Tank => On::Tank,
                    reed_core::log::OnWhat::Filter => On::Filter(tank.filters[0].number),
                    reed_core::log::OnWhat::Group => On::Group(tank.stock[0].name.clone()),
                },
                note: note.trim().to_owned(),
                ..Entry::of(kind, when)
            };
            (Row::Entry(Box::new(entry), struck), struck)
        })
}

proptest! {
    #![proptest_config(Config { failure_persistence: None, ..Config::with_cases(200) })]

    /// Whatever the log holds comes back as it was, in whatever words its notes are; and no cell of
    /// it begins as a formula does.
    #[test]
    fn a_sheet_that_is_written_is_read_as_it_was(rows_in in proptest::collection::vec(prop_oneof![reading(), entry()], 1..20)) {
        let mut writer = Writer::new(Units::BASE);
        for (row, struck) in &rows_in {
            match row {
                Row::Reading(reading, _) => writer.reading(reading, *struck),
                Row::Entry(entry, _) => writer.entry(entry, *struck),
            }
        }
        let text = writer.finish();
        let mut reader = csv::Reader::from_reader(text.as_bytes());
        for record in reader.records() {
            for cell in record.expect("it is such a file").iter() {
                let begins = cell.starts_with(['=', '+', '-', '@', '\t', '\r']);
                prop_assert_eq!(begins, false, "{:?}", cell);
            }
        }
        let back = rows(&text, Some(DateOrder::Year));
        prop_assert_eq!(back.len(), rows_in.len());
        for (row, (expected, _)) in back.into_iter().zip(rows_in) {
            match (row.expect("our own row"), expected) {
                (Row::Reading(one, struck), Row::Reading(other, was)) => {
                    prop_assert_eq!((one.analyte, one.taken_at, one.kit, struck), (other.analyte, other.taken_at, other.kit, was));
                    prop_assert_eq!((one.value - other.value).abs() < 1e-9 && (one.spread - other.spread).abs() < 1e-9, true);
                }
                (one, other) => prop_assert_eq!(one, other),
            }
        }
    }

    /// No file at all stops it.
    #[test]
    fn any_bytes_are_read_or_refused(bytes in proptest::collection::vec(any::<u8>(), 0..400)) {
        if let Ok(text) = std::str::from_utf8(&bytes)
            && Sheet::open(&bytes).is_ok()
        {
            rows(text, None);
        }
    }
}
