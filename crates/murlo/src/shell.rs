//! The built front end, embedded in the program.

use murlo_server::File;

#[cfg(feature = "shell")]
#[derive(rust_embed::RustEmbed)]
#[folder = "../../web/dist"]
struct Dist;

/// Enough of a content's hash to know it by.
#[cfg(feature = "shell")]
fn known_by(hash: [u8; 32]) -> String {
    hash.iter().take(12).map(|b| format!("{b:02x}")).collect()
}

/// The file of the front end under this name.
#[cfg(feature = "shell")]
pub fn file(name: &str) -> Option<File> {
    Dist::get(name).map(|file| File {
        kind: file.metadata.mimetype().to_owned(),
        tag: known_by(file.metadata.sha256_hash()),
        data: file.data,
    })
}

/// Built without it.
#[cfg(not(feature = "shell"))]
pub fn file(_: &str) -> Option<File> {
    None
}
