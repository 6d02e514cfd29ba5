-- The latest of each thing that a device reads, and whether it calls for somebody.

CREATE TABLE watches (
    device_id  INTEGER NOT NULL REFERENCES devices (id),
    analyte    TEXT NOT NULL,
    at         TEXT NOT NULL,               -- the moment of its latest reading, by the device's clock
    value      REAL NOT NULL,
    gap_s      REAL,                        -- usual time from one reading to the next; none after one
    side       TEXT,                        -- below or above its bounds; none inside
    since      TEXT NOT NULL,               -- since when it has been there
    worst      REAL NOT NULL,
    in_a_row   INTEGER NOT NULL,            -- readings that speak for another state
    is_raised  INTEGER NOT NULL,
    seen_at    TEXT,                        -- when the keeper said that somebody sees to it
    PRIMARY KEY (device_id, analyte)
) STRICT, WITHOUT ROWID;

-- Bounds that the keeper set; both empty: nothing of it rings.
CREATE TABLE bounds (
    tank_id  INTEGER NOT NULL REFERENCES tanks (id),
    analyte  TEXT NOT NULL,
    low      REAL,
    high     REAL,
    PRIMARY KEY (tank_id, analyte)
) STRICT, WITHOUT ROWID;

INSERT INTO watches (device_id, analyte, at, value, since, worst, in_a_row, is_raised)
SELECT device_id, analyte, max(device_at), value, '1970-01-01T00:00:00Z', 0, 0, 0 FROM readings
WHERE device_id IS NOT NULL AND struck_at IS NULL GROUP BY device_id, analyte;
