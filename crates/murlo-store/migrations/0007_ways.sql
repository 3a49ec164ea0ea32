-- Ways of cleaning that a household keeps, each with all it was before.
CREATE TABLE ways (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
-- Cleans that are spread over days.
CREATE TABLE over_days (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
