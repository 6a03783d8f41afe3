//! A new migration file must be noticed.
fn main() {
    println!("cargo:rerun-if-changed=migrations");
}
