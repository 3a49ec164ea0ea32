-- Visits to homes, and the unguessable address at which a calendar may read them; the address never travels in an export.
CREATE TABLE visits (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
CREATE TABLE feed (only_row INTEGER PRIMARY KEY CHECK (only_row = 1), token TEXT NOT NULL) STRICT;
