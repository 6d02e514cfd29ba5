//! Puts the assets into the binary.

fn main() {
    memory_serve::load_directory("./assets");
}
