-- What was brought in from a file at once, so that all of it can be taken back at once.
CREATE TABLE batches (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    name        TEXT NOT NULL,                  -- of the file
    made_at     TEXT NOT NULL
) STRICT;
ALTER TABLE readings ADD COLUMN batch_id INTEGER REFERENCES batches (id);
ALTER TABLE entries ADD COLUMN batch_id INTEGER REFERENCES batches (id);
CREATE INDEX readings_by_batch ON readings (batch_id) WHERE batch_id IS NOT NULL;
CREATE INDEX entries_by_batch ON entries (batch_id) WHERE batch_id IS NOT NULL;
