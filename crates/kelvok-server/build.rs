//! The web application is embedded as it was last built; an unbuilt one is embedded as nothing.

fn main() {
    let dist = "../../web/dist";
    println!("cargo:rerun-if-changed={dist}");
    if let Err(error) = std::fs::create_dir_all(dist) {
        println!("cargo:warning=cannot make {dist}: {error}");
    }
}
