-- Devices that are signed in, with what they are called, whose they are and what they may do; of what a device holds only a
-- hash. Neither they nor the codes travel in an export.
CREATE TABLE devices (
    id TEXT PRIMARY KEY,
    token_hash TEXT NOT NULL UNIQUE,
    made_at INTEGER NOT NULL,
    seen_at INTEGER NOT NULL,
    archived INTEGER NOT NULL DEFAULT 0,
    body TEXT NOT NULL
) STRICT;
INSERT INTO devices (id, token_hash, made_at, seen_at, body)
    SELECT lower(hex(randomblob(16))), token_hash, created_at, created_at, '{"name":"Signed in before","kind":"full"}' FROM sessions;
DROP TABLE sessions;
-- Codes to take a device in, each once.
CREATE TABLE invitations (code_hash TEXT PRIMARY KEY, made_at INTEGER NOT NULL, body TEXT NOT NULL) STRICT;
