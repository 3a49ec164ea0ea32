-- Facts keep identity, order and relations in columns and their description as one JSON document typed by the core.
-- Nothing is computed here; archived rows are what people deleted and may want back.
CREATE TABLE settings (
    only_row INTEGER PRIMARY KEY CHECK (only_row = 1),
    body TEXT NOT NULL
) STRICT;

CREATE TABLE homes (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
CREATE TABLE waters (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
CREATE TABLE agents (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
CREATE TABLE brewers (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
CREATE TABLE past_cleans (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;

CREATE TABLE cleans (
    id TEXT PRIMARY KEY,
    brewer_id TEXT NOT NULL REFERENCES brewers (id),
    circuit_id TEXT NOT NULL,
    plan TEXT NOT NULL
) STRICT;
CREATE INDEX cleans_by_brewer ON cleans (brewer_id);

-- Append-only. `closing` marks the few events that end or reopen a clean, so that overviews need not read the rest.
CREATE TABLE clean_events (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    clean_id TEXT NOT NULL REFERENCES cleans (id),
    closing INTEGER NOT NULL,
    body TEXT NOT NULL
) STRICT;
CREATE INDEX clean_events_by_clean ON clean_events (clean_id, seq);
CREATE INDEX clean_events_closing ON clean_events (clean_id, seq) WHERE closing = 1;

-- Signed-in devices; only a hash of what the device holds.
CREATE TABLE sessions (token_hash TEXT PRIMARY KEY, created_at INTEGER NOT NULL) STRICT;
CREATE TABLE passcode (only_row INTEGER PRIMARY KEY CHECK (only_row = 1), phc TEXT NOT NULL) STRICT;
