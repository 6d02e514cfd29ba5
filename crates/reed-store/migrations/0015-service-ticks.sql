-- Steps of a filter's service sheet that are done; a sheet is over when the filter was opened since.
CREATE TABLE service_ticks (
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    filter      INTEGER NOT NULL,               -- its number in the tank
    step        TEXT NOT NULL,                  -- id of the step
    at          TEXT NOT NULL,                  -- when it was ticked, by the clock on the wall
    PRIMARY KEY (tank_id, filter, step)
) STRICT, WITHOUT ROWID;
