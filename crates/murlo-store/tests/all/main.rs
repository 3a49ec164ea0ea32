//! Real SQLite files, in one program.

mod files;
mod household;
mod journal;
