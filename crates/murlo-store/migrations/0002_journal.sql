-- What happens to brewers between cleans. `lasting` marks the few entries that matter beyond the next clean, so that
-- overviews need not read years of brews.
CREATE TABLE journal (
    id TEXT PRIMARY KEY,
    archived INTEGER NOT NULL DEFAULT 0,
    brewer_id TEXT NOT NULL REFERENCES brewers (id),
    day TEXT NOT NULL,
    lasting INTEGER NOT NULL,
    body TEXT NOT NULL
) STRICT;
CREATE INDEX journal_by_brewer ON journal (brewer_id, day);
CREATE INDEX journal_lasting ON journal (brewer_id) WHERE lasting = 1;
CREATE INDEX journal_by_day ON journal (day) WHERE lasting = 0;
