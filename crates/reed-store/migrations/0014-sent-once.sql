-- What a page kept while the network was away, and sent later: stored once, however often it comes.
CREATE TABLE sent (
    id          TEXT PRIMARY KEY,               -- drawn by the page
    at          TEXT NOT NULL                   -- when it came
) STRICT, WITHOUT ROWID;

-- Files that became tanks: the same one brought in again would be the same tank twice.
CREATE TABLE brought_in (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    digest      TEXT NOT NULL                   -- SHA-256 of the file, in hexadecimal
) STRICT;
CREATE INDEX brought_in_by_digest ON brought_in (digest);
