-- What is in the cupboard beside agents, and what happened to levels; a level itself is never kept.
CREATE TABLE supplies (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
CREATE TABLE movements (id TEXT PRIMARY KEY, archived INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL) STRICT;
