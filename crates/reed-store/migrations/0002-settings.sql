-- What the keeper chose for the whole program. Tanks stored before this version keep their form: they are brought up to
-- date when they are read.

CREATE TABLE settings (
    name        TEXT PRIMARY KEY,
    value       TEXT NOT NULL                   -- JSON
) STRICT;
