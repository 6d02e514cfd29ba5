-- Times: *_at by the program's clock are UTC (RFC 3339); seen_at and taken_at are the clock on the wall beside the tank.
-- Nothing a keeper typed is overwritten: a correction is a new row, a withdrawal is a mark on the old one.

CREATE TABLE tanks (
    id          INTEGER PRIMARY KEY,
    created_at  TEXT NOT NULL,
    removed_at  TEXT                            -- put away; can be taken back
) STRICT;

CREATE TABLE tank_revisions (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    made_at     TEXT NOT NULL,
    why         TEXT NOT NULL,                  -- in the keeper's words: "first entry", "changed by hand", title of a change
    tank        TEXT NOT NULL                   -- the tank as in a document, JSON
) STRICT;
CREATE INDEX tank_revisions_by_tank ON tank_revisions (tank_id, id);

CREATE TABLE cases (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    opened_at   TEXT NOT NULL
) STRICT;
CREATE INDEX cases_by_tank ON cases (tank_id, id);

CREATE TABLE case_marks (                       -- the latest mark is the state of the case
    id          INTEGER PRIMARY KEY,
    case_id     INTEGER NOT NULL REFERENCES cases (id),
    mark        TEXT NOT NULL CHECK (mark IN ('closed', 'reopened')),
    words       TEXT NOT NULL,                  -- why
    made_at     TEXT NOT NULL
) STRICT;
CREATE INDEX case_marks_by_case ON case_marks (case_id, id);

CREATE TABLE answers (                          -- the latest row of a finding counts
    id          INTEGER PRIMARY KEY,
    case_id     INTEGER NOT NULL REFERENCES cases (id),
    finding     TEXT NOT NULL,                  -- id in the catalogue
    answer      TEXT NOT NULL CHECK (answer IN ('yes', 'no', 'not-looked')),
    seen_at     TEXT NOT NULL,                  -- when seen; for an event, when it happened
    entered_at  TEXT NOT NULL
) STRICT;
CREATE INDEX answers_by_case ON answers (case_id, id);

CREATE TABLE readings (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    analyte     TEXT NOT NULL,                  -- id in the catalogue
    value       REAL NOT NULL,                  -- in the analyte's unit; nitrogen compounds as N
    spread      REAL NOT NULL CHECK (spread > 0),
    kit         TEXT,                           -- id of the kit, if said
    taken_at    TEXT NOT NULL,
    entered_at  TEXT NOT NULL,
    struck_at   TEXT                            -- withdrawn by the keeper
) STRICT;
CREATE INDEX readings_by_tank ON readings (tank_id, taken_at);

CREATE TABLE choices (                          -- a change the keeper decided on
    id          INTEGER PRIMARY KEY,
    case_id     INTEGER NOT NULL REFERENCES cases (id),
    change      TEXT NOT NULL,                  -- id in the catalogue
    now         TEXT NOT NULL,                  -- forecast without the change, as promised then, JSON
    after       TEXT,                           -- forecast with it; absent where it could not be computed
    chosen_at   TEXT NOT NULL,
    dropped_at  TEXT,
    done_at     TEXT,                           -- all steps taken
    done_wall   TEXT                            -- the same by the clock on the wall: readings before it belong to the old state
) STRICT;
CREATE INDEX choices_by_case ON choices (case_id, id);

CREATE TABLE step_ticks (                       -- the latest row of a step counts
    id          INTEGER PRIMARY KEY,
    choice_id   INTEGER NOT NULL REFERENCES choices (id),
    step        INTEGER NOT NULL,               -- from 0
    done        INTEGER NOT NULL CHECK (done IN (0, 1)),
    made_at     TEXT NOT NULL
) STRICT;
CREATE INDEX step_ticks_by_choice ON step_ticks (choice_id, id);

CREATE TABLE proofs (                           -- a reading judged against what was promised
    id          INTEGER PRIMARY KEY,
    choice_id   INTEGER NOT NULL REFERENCES choices (id),
    reading_id  INTEGER NOT NULL REFERENCES readings (id),
    verdict     TEXT NOT NULL CHECK (verdict IN ('proved', 'partly', 'not-proved')),
    words       TEXT NOT NULL,
    judged_at   TEXT NOT NULL
) STRICT;
CREATE INDEX proofs_by_choice ON proofs (choice_id, id);
