-- Devices that send what they read. What one sends is known again by the device, by what was read and
-- by the moment, so that a post that comes twice is stored once.

CREATE TABLE devices (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    name        TEXT NOT NULL,
    token       TEXT NOT NULL UNIQUE,           -- SHA-256 of what it shows: the records alone open nothing
    made_at     TEXT NOT NULL,
    heard_at    TEXT,                           -- when it sent something last
    dropped_at  TEXT                            -- it may send no more
) STRICT;
CREATE INDEX devices_by_tank ON devices (tank_id, id);

ALTER TABLE readings ADD COLUMN device_id INTEGER REFERENCES devices (id);
ALTER TABLE readings ADD COLUMN device_at TEXT; -- the moment by the device's clock, in UTC: an hour that the wall shows twice is two
CREATE UNIQUE INDEX readings_by_device ON readings (device_id, analyte, device_at) WHERE device_id IS NOT NULL;
