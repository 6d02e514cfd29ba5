-- What thinning took out of an hour of what a device read. With the readings that stayed it makes the
-- hour as it was, and an hour that stands here takes no reading a second time.

CREATE TABLE thinned_hours (
    tank_id    INTEGER NOT NULL REFERENCES tanks (id),
    analyte    TEXT NOT NULL,
    hour       TEXT NOT NULL,               -- such as 2026-03-10T08, by the clock beside the tank
    device_id  INTEGER NOT NULL REFERENCES devices (id),
    total      REAL NOT NULL,               -- sum of what went
    many       INTEGER NOT NULL,            -- how many readings went
    PRIMARY KEY (tank_id, analyte, hour, device_id)
) STRICT, WITHOUT ROWID;
