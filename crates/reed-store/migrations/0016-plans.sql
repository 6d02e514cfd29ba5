-- Plans of several changes; proofs of several parts, which may leave it open; what changes cost
-- here; what a cured case leaves to be watched.

CREATE TABLE plans (                            -- a plan the keeper decided on
    id          INTEGER PRIMARY KEY,
    case_id     INTEGER NOT NULL REFERENCES cases (id),
    stages      TEXT NOT NULL,                  -- what is made when: days from the beginning and ids of changes, JSON
    made_at     TEXT NOT NULL,
    dropped_at  TEXT
) STRICT;
CREATE INDEX plans_by_case ON plans (case_id, id);

ALTER TABLE choices ADD COLUMN also TEXT NOT NULL DEFAULT '';    -- ids of changes that are made with it, parted by spaces
ALTER TABLE choices ADD COLUMN against TEXT NOT NULL DEFAULT ''; -- ids of the faults it was chosen against, likeliest first
ALTER TABLE choices ADD COLUMN plan_id INTEGER REFERENCES plans (id);

ALTER TABLE proofs RENAME TO proofs_of_one_part;
DROP INDEX proofs_by_choice;
CREATE TABLE proofs (                           -- a reading or a look judged against what was promised
    id          INTEGER PRIMARY KEY,
    choice_id   INTEGER NOT NULL REFERENCES choices (id),
    part        TEXT NOT NULL DEFAULT '',       -- what had to be shown: id of what is read or of the sign; empty of the first
    reading_id  INTEGER REFERENCES readings (id),
    seen_at     TEXT,                           -- when it was looked at, by the clock on the wall
    verdict     TEXT NOT NULL CHECK (verdict IN ('proved', 'partly', 'not-proved', 'cannot-tell')),
    words       TEXT NOT NULL,
    judged_at   TEXT NOT NULL,
    CHECK ((reading_id IS NULL) <> (seen_at IS NULL))
) STRICT;
INSERT INTO proofs (id, choice_id, reading_id, seen_at, verdict, words, judged_at)
    SELECT id, choice_id, reading_id, seen_at, verdict, words, judged_at FROM proofs_of_one_part;
DROP TABLE proofs_of_one_part;
CREATE INDEX proofs_by_choice ON proofs (choice_id, id);

CREATE TABLE prices (                           -- what a change costs here, where that is not what its card says
    change      TEXT PRIMARY KEY,               -- id in the catalogue
    euros       REAL NOT NULL,
    minutes     REAL NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE duties (                           -- what is watched after a case
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    case_id     INTEGER NOT NULL REFERENCES cases (id),
    words       TEXT NOT NULL,
    analyte     TEXT,                           -- what is read for it; absent where it is done by hand
    every_hours INTEGER NOT NULL,
    from_at     TEXT NOT NULL,                  -- by the clock on the wall
    until_at    TEXT NOT NULL,
    why         TEXT NOT NULL,
    dropped_at  TEXT
) STRICT;
CREATE INDEX duties_by_tank ON duties (tank_id, until_at);

CREATE TABLE duty_ticks (                       -- a duty was done by hand
    duty_id     INTEGER NOT NULL REFERENCES duties (id),
    at          TEXT NOT NULL,                  -- by the clock on the wall
    PRIMARY KEY (duty_id, at)
) STRICT, WITHOUT ROWID;
