-- Photos of visits and brewers beside those of cleans.
ALTER TABLE photos RENAME TO photos_of_glasses;
DROP INDEX photos_by_clean;
CREATE TABLE photos (
    id TEXT PRIMARY KEY,
    shows TEXT NOT NULL,
    clean_id TEXT REFERENCES cleans (id),
    visit_id TEXT REFERENCES visits (id),
    brewer_id TEXT REFERENCES brewers (id),
    at TEXT,
    archived INTEGER NOT NULL DEFAULT 0,
    jpeg BLOB NOT NULL,
    CHECK ((clean_id IS NOT NULL) + (visit_id IS NOT NULL) + (brewer_id IS NOT NULL) = 1)
) STRICT;
INSERT INTO photos (id, shows, clean_id, jpeg) SELECT id, 'glass', clean_id, jpeg FROM photos_of_glasses;
DROP TABLE photos_of_glasses;
CREATE INDEX photos_by_clean ON photos (clean_id);
CREATE INDEX photos_by_visit ON photos (visit_id);
CREATE INDEX photos_by_brewer ON photos (brewer_id);
