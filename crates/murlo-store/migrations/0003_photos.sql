-- Photos of glasses, already shrunk and without anything but their pixels.
CREATE TABLE photos (
    id TEXT PRIMARY KEY,
    clean_id TEXT NOT NULL REFERENCES cleans (id),
    jpeg BLOB NOT NULL
) STRICT;
CREATE INDEX photos_by_clean ON photos (clean_id);
