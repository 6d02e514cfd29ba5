-- Where there are several filters, a finding of a filter says which show it: their numbers, with commas between; empty where nobody said.
ALTER TABLE answers ADD COLUMN filters TEXT NOT NULL DEFAULT '';
