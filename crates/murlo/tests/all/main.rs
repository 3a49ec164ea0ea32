//! The program as people run it, in one program of tests.

mod command;
mod demo;
mod faults;
mod killed;
mod kit;
mod lines;
#[cfg(unix)]
mod stopping;
mod words;
