//! Real SQLite files, in one program.

mod devices;
mod files;
mod household;
mod journal;
