-- Arrangements that were tried in the flow model and kept beside the tank, changes chosen as tried, and what real water did.

CREATE TABLE tries (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    name        TEXT NOT NULL,
    moves       TEXT NOT NULL,                  -- number:x,y,z[,around,up];… in cm and degrees
    made_at     TEXT NOT NULL,
    dropped_at  TEXT
) STRICT;
CREATE INDEX tries_by_tank ON tries (tank_id, id);

ALTER TABLE choices ADD COLUMN moves TEXT;      -- where things go, of a change chosen as it was tried

CREATE TABLE drift_tests (                      -- a pinch let go at the surface, seen again somewhere
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    pinch       TEXT NOT NULL,                  -- of what
    from_x_cm   REAL NOT NULL,
    from_y_cm   REAL NOT NULL,
    to_x_cm     REAL NOT NULL,
    to_y_cm     REAL NOT NULL,
    to_z_cm     REAL NOT NULL,
    seconds     REAL NOT NULL,
    factor      REAL NOT NULL,                  -- how much likelier the model of that day makes it than chance
    made_at     TEXT NOT NULL,
    struck_at   TEXT                            -- withdrawn
) STRICT;
CREATE INDEX drift_tests_by_tank ON drift_tests (tank_id, id);
