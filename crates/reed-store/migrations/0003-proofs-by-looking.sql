-- Some changes are proved by a reading, others by looking again: bubbles that are gone need no kit.

ALTER TABLE proofs RENAME TO proofs_of_readings;
DROP INDEX proofs_by_choice;
CREATE TABLE proofs (                           -- a reading or a look judged against what was promised
    id          INTEGER PRIMARY KEY,
    choice_id   INTEGER NOT NULL REFERENCES choices (id),
    reading_id  INTEGER REFERENCES readings (id),
    seen_at     TEXT,                           -- when it was looked at, by the clock on the wall
    verdict     TEXT NOT NULL CHECK (verdict IN ('proved', 'partly', 'not-proved')),
    words       TEXT NOT NULL,
    judged_at   TEXT NOT NULL,
    CHECK ((reading_id IS NULL) <> (seen_at IS NULL))
) STRICT;
INSERT INTO proofs SELECT id, choice_id, reading_id, NULL, verdict, words, judged_at FROM proofs_of_readings;
DROP TABLE proofs_of_readings;
CREATE INDEX proofs_by_choice ON proofs (choice_id, id);
