//! Real SQLite files, in one program.

mod devices;
mod erase;
mod files;
mod household;
mod journal;
