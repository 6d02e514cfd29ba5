-- Photos of an entry. The pictures themselves are files beside the database, named by what is in them; a row without an entry
-- was taken for a form that is still being filled in.
CREATE TABLE photos (
    id          INTEGER PRIMARY KEY AUTOINCREMENT,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    entry_id    INTEGER REFERENCES entries (id),
    file        TEXT NOT NULL,                  -- SHA-256 of the picture, in hexadecimal
    width       INTEGER NOT NULL,               -- px, of the picture as kept
    height      INTEGER NOT NULL,
    made_at     TEXT NOT NULL,
    struck_at   TEXT                            -- withdrawn
) STRICT;
CREATE INDEX photos_by_entry ON photos (entry_id) WHERE entry_id IS NOT NULL;
CREATE INDEX photos_waiting ON photos (made_at) WHERE entry_id IS NULL;
CREATE INDEX photos_by_file ON photos (file);
