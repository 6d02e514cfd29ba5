-- Readings of an hour together, so that years of a probe are drawn without reading each of them. Made of `readings`, and made
-- anew for an hour whenever something in it changes.
CREATE TABLE reading_hours (
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    analyte     TEXT NOT NULL,
    hour        TEXT NOT NULL,                  -- as 2026-03-10T08
    least       REAL NOT NULL,
    most        REAL NOT NULL,
    total       REAL NOT NULL,
    many        INTEGER NOT NULL,
    PRIMARY KEY (tank_id, analyte, hour)
) STRICT, WITHOUT ROWID;

INSERT INTO reading_hours
SELECT tank_id, analyte, substr(taken_at, 1, 13), min(value), max(value), sum(value), count(*)
FROM readings WHERE struck_at IS NULL GROUP BY 1, 2, 3;
