-- What happened to the water of a tank, and what is planned: the same thing before and after now.

CREATE TABLE events (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    what        TEXT NOT NULL,                  -- id in the catalogue
    amount      REAL NOT NULL,                  -- in the unit of its kind; 0 where it has none
    at          TEXT NOT NULL,                  -- by the clock on the wall
    made_at     TEXT NOT NULL,
    struck_at   TEXT                            -- withdrawn
) STRICT;
CREATE INDEX events_by_tank ON events (tank_id, at);
-- The latest of one sort among a million.
CREATE INDEX readings_by_analyte ON readings (tank_id, analyte, taken_at);
