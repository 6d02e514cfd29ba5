-- What is entered most often is counted without looking at each entry.
CREATE INDEX entries_often ON entries (tank_id, to_at, happening, on_what) WHERE struck_at IS NULL;
