//! The built front end, embedded in the program.

use murlo_server::File;
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Dist;

/// The file of the front end under this name.
pub fn file(name: &str) -> Option<File> {
    Dist::get(name).map(|file| File {
        kind: file.metadata.mimetype().to_owned(),
        data: file.data,
    })
}
