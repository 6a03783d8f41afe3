//! A rebuilt front end must be noticed where it is built into the binary. `./ombret test` on a fresh clone builds it at
//! the same time, and names the lock that is held until it is there.
fn main() {
    println!("cargo::rerun-if-env-changed=OMBRET_PAGE_LOCK");
    let Some(lock) = std::env::var_os("OMBRET_PAGE_LOCK") else {
        println!("cargo::rerun-if-changed=../../web/dist/index.html");
        return;
    };
    if let Err(error) = std::fs::File::open(lock).and_then(|lock| lock.lock()) {
        println!("cargo::error=the page cannot be waited for: {error}");
    }
}
