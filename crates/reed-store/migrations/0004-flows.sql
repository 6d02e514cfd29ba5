-- What the flow model found, by the scene it was asked about: the same tank is not computed twice.

CREATE TABLE flows (
    scene       TEXT PRIMARY KEY,               -- key of the scene, which says what the model was asked
    facts       TEXT NOT NULL,                  -- JSON
    field       BLOB NOT NULL,                  -- speeds, packed for a picture
    computed_at TEXT NOT NULL
) STRICT;
