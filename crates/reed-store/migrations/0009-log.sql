-- The log of a tank: everything that happened or is planned. What was entered as events of the water, and what was answered
-- with yes of a thing that happens, go into it; nothing is lost and nothing is overwritten: a correction is a new row that
-- replaces the old one, a withdrawal is a mark.

CREATE TABLE entries (
    id          INTEGER PRIMARY KEY,
    tank_id     INTEGER NOT NULL REFERENCES tanks (id),
    happening   TEXT NOT NULL,                  -- id of its kind
    from_at     TEXT NOT NULL,                  -- no earlier, by the clock on the wall
    to_at       TEXT NOT NULL,                  -- no later; the same where the minute is known
    on_what     TEXT NOT NULL DEFAULT '',       -- JSON; empty: the whole tank
    amount      REAL,                           -- in the unit of its kind, where it was said
    note        TEXT NOT NULL DEFAULT '',
    details     TEXT NOT NULL DEFAULT '',       -- JSON; empty: none
    case_id     INTEGER REFERENCES cases (id),  -- told as an answer of this case, to this question
    finding     TEXT,
    replaces    INTEGER REFERENCES entries (id),
    made_at     TEXT NOT NULL,
    struck_at   TEXT                            -- withdrawn, or replaced
) STRICT;
CREATE INDEX entries_by_tank ON entries (tank_id, to_at);
CREATE INDEX entries_by_kind ON entries (tank_id, happening, to_at);
CREATE INDEX entries_by_case ON entries (case_id) WHERE case_id IS NOT NULL;
CREATE INDEX entries_replaced ON entries (replaces) WHERE replaces IS NOT NULL;

INSERT INTO entries (tank_id, happening, from_at, to_at, amount, made_at, struck_at)
SELECT tank_id, what, at, at,
       CASE WHEN what IN ('skip', 'medicine', 'chlorine', 'media-out', 'binder', 'bottle') THEN NULL ELSE amount END,
       made_at, struck_at
FROM events ORDER BY id;
DROP TABLE events;

-- The answers that counted. How exactly a day was known was not kept: the moment stands for it.
INSERT INTO entries (tank_id, happening, from_at, to_at, case_id, finding, made_at)
SELECT cases.tank_id, kinds.happening, answers.seen_at, answers.seen_at, answers.case_id, answers.finding, answers.entered_at
FROM answers
JOIN cases ON cases.id = answers.case_id
JOIN (
    SELECT column1 AS finding, column2 AS happening FROM (VALUES
        ('water-changed', 'change'),
        ('conditioner-forgotten', 'chlorine'),
        ('refill-colder', 'refill-colder'),
        ('temperature-step', 'temperature-step'),
        ('low-oxygen-episode', 'oxygen-low'),
        ('filter-cleaned', 'filter-opened'),
        ('media-rinsed-under-tap', 'tap-rinse'),
        ('media-replaced', 'new-media'),
        ('filter-or-media-new', 'filter-new'),
        ('second-filter-added', 'second-filter'),
        ('impeller-serviced', 'impeller-serviced'),
        ('chemical-media-added', 'chemical-medium'),
        ('pump-stopped', 'stop'),
        ('air-source-stopped', 'air-stopped'),
        ('equipment-moved', 'equipment-moved'),
        ('stock-added', 'animals'),
        ('animal-missing', 'missing'),
        ('feeding-raised', 'feed'),
        ('fed-by-stand-in', 'fed-by-stand-in'),
        ('food-changed', 'food-changed'),
        ('medicated', 'medicine'),
        ('antibiotic-used', 'antibiotic'),
        ('copper-used', 'copper'),
        ('binding-conditioner-used', 'binder'),
        ('bacteria-dosed', 'bottle'),
        ('tank-set-up', 'set-up'),
        ('soap-near-tank', 'soap'))
) AS kinds ON kinds.finding = answers.finding
WHERE answers.answer = 'yes'
  AND answers.id IN (SELECT max(id) FROM answers GROUP BY case_id, finding)
ORDER BY answers.id;

-- Words of notes, for the search; nothing that was there before has any.
CREATE VIRTUAL TABLE entry_words USING fts5 (note, content = 'entries', content_rowid = 'id', tokenize = "unicode61 remove_diacritics 2");
CREATE TRIGGER entries_words_in AFTER INSERT ON entries WHEN new.note <> '' BEGIN
    INSERT INTO entry_words (rowid, note) VALUES (new.id, new.note);
END;
