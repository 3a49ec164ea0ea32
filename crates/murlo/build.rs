//! The front end is embedded at compile time; an absent build leaves an empty folder so that the server still compiles.
fn main() {
    let dist = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/dist");
    std::fs::create_dir_all(&dist).expect("web/dist can be made");
    println!("cargo::rerun-if-changed={}", dist.display());
}
