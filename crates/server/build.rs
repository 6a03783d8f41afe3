//! A rebuilt front end must be noticed where it is built into the binary.
fn main() {
    println!("cargo:rerun-if-changed=../../web/dist/index.html");
}
