//! The built front end, embedded in the program.

use murlo_server::File;

#[cfg(feature = "shell")]
#[derive(rust_embed::RustEmbed)]
#[folder = "../../web/dist"]
struct Dist;

/// The file of the front end under this name.
#[cfg(feature = "shell")]
pub fn file(name: &str) -> Option<File> {
    Dist::get(name).map(|file| File {
        kind: file.metadata.mimetype().to_owned(),
        data: file.data,
    })
}

/// Built without it.
#[cfg(not(feature = "shell"))]
pub fn file(_: &str) -> Option<File> {
    None
}
