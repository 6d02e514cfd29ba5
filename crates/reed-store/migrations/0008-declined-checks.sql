-- Checks that could not be done when they were asked for, and why; taken back by deleting the row.
CREATE TABLE declined (
    case_id     INTEGER NOT NULL REFERENCES cases (id),
    check_id    TEXT NOT NULL,                  -- id in the catalogue
    why         TEXT NOT NULL CHECK (why IN ('cannot-look', 'do-not-know', 'no-kit')),
    at          TEXT NOT NULL,                  -- by the clock on the wall
    PRIMARY KEY (case_id, check_id)
) STRICT, WITHOUT ROWID;
