//! A value of the database as a cell of a sheet, and back, to the last bit.

use rusqlite::types::{Value, ValueRef};

use super::Column;

/// Marks what could be mistaken: an empty text where a cell may stand for nothing, and a text that
/// begins with the mark.
const MARK: char = '\\';

/// How a value stands in its cell.
pub(super) fn cell(column: &Column, value: ValueRef<'_>) -> String {
    match value {
        ValueRef::Null => String::new(),
        ValueRef::Integer(number) => number.to_string(),
        // The shortest that reads back as the same number.
        ValueRef::Real(number) => format!("{number:?}"),
        ValueRef::Text(bytes) | ValueRef::Blob(bytes) => {
            let text = String::from_utf8_lossy(bytes);
            if text.starts_with(MARK) || (text.is_empty() && column.may_be_empty) {
                format!("{MARK}{text}")
            } else {
                text.into_owned()
            }
        }
    }
}

/// What a cell stands for, or what is accepted there.
pub(super) fn value(column: &Column, cell: &str) -> Result<Value, &'static str> {
    if cell.is_empty() && column.may_be_empty {
        return Ok(Value::Null);
    }
    match column.kind.as_str() {
        "INTEGER" => cell
            .parse()
            .map(Value::Integer)
            .map_err(|_| "a whole number"),
        "REAL" => cell
            .parse()
            .ok()
            .filter(|number: &f64| number.is_finite())
            .map(Value::Real)
            .ok_or("a number"),
        _ => Ok(Value::Text(
            cell.strip_prefix(MARK).unwrap_or(cell).to_owned(),
        )),
    }
}

#[cfg(test)]
mod tests {
    use rusqlite::types::{Value, ValueRef};

    use super::{Column, cell, value};

    #[test]
    fn whatever_stands_in_the_database_comes_back() {
        let values = [
            Value::Null,
            Value::Integer(i64::MIN),
            Value::Integer(0),
            Value::Real(0.1 + 0.2),
            Value::Real(-0.0),
            Value::Real(5e-324),
            Value::Real(f64::MAX),
            Value::Text(String::new()),
            Value::Text("\\".to_owned()),
            Value::Text("\\\\N, \"x\"\r\n; =1+1 'ä".to_owned()),
            Value::Text(" 7 ".to_owned()),
        ];
        for original in values {
            for may_be_empty in [true, false] {
                if matches!(original, Value::Null) && !may_be_empty {
                    continue;
                }
                let column = Column {
                    name: "x".to_owned(),
                    kind: match original {
                        Value::Integer(_) => "INTEGER",
                        Value::Real(_) => "REAL",
                        _ => "TEXT",
                    }
                    .to_owned(),
                    may_be_empty,
                };
                let written = cell(&column, ValueRef::from(&original));
                let back = value(&column, &written).expect("accepted");
                assert_eq!(format!("{back:?}"), format!("{original:?}"), "{written:?}");
            }
        }
    }
}
