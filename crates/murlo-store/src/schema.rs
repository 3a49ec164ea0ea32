//! The schema, and the steps to it from every schema that landed.

use rusqlite_migration::{M, Migrations};

/// The newest schema.
pub(crate) const LATEST: i64 = 8;

pub(crate) fn migrations() -> Migrations<'static> {
    Migrations::new(vec![
        M::up(include_str!("../migrations/0001_facts.sql")),
        M::up(include_str!("../migrations/0002_journal.sql")),
        M::up(include_str!("../migrations/0003_photos.sql")),
        M::up(include_str!("../migrations/0004_cupboard.sql")),
        M::up(include_str!("../migrations/0005_rounds.sql")),
        M::up(include_str!("../migrations/0006_photos.sql")),
        M::up(include_str!("../migrations/0007_ways.sql")),
        M::up(include_str!("../migrations/0008_devices.sql")),
    ])
}
