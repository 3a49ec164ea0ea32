//! The front end's files, as the program brings them.

use std::borrow::Cow;

/// A file of the front end.
pub struct File {
    /// Its media type.
    pub kind: String,
    /// What its content is known by.
    pub tag: String,
    /// Its content.
    pub data: Cow<'static, [u8]>,
}

/// Gives the file of a name.
pub type Shell = fn(&str) -> Option<File>;
