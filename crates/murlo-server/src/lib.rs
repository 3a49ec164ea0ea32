//! Murlo's HTTP API, and the front end's files as the program brings them.
//!
//! Parses, authorises, calls and answers. Holds no SQL (`murlo-store` does) and no rules (the crates below do).

mod access;
mod api;
mod archive;
mod asking;
mod assets;
mod cards;
mod documented;
mod error;
mod guesses;
mod house;
mod invitation;
mod known;
mod lines;
mod page;
mod past;
mod post;
mod reached;
mod routes;
mod seen;
mod serve;
mod shell;
mod sign_in;
mod state;
mod table;
mod water_views;

pub use invitation::invitation;
pub use post::{MailServer, Post};
pub use reached::Reached;
pub use routes::openapi;
pub use serve::run;
pub use shell::{File, Shell};
pub use sign_in::hash_passcode;
pub use state::{AppState, TimeSource};
