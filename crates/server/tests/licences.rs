//! What the program is built from: every crate and every package of the pages has a licence that deny.toml
//! allows, and comes from the public registry. No network is asked.

use std::path::PathBuf;
use std::process::Command;

use serde_json::Value;
use spdx::{Expression, ParseMode};

fn root() -> PathBuf {
    PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
}

struct Rules(toml::Table);

impl Rules {
    fn read() -> Self {
        Self(toml::from_str(&std::fs::read_to_string(root().join("deny.toml")).unwrap()).unwrap())
    }

    fn texts(&self, table: &str, key: &str) -> Vec<&str> {
        self.0[table][key].as_array().unwrap().iter().map(|v| v.as_str().unwrap()).collect()
    }

    /// The licence that stands in for one that a crate does not name.
    fn clarified(&self, name: &str) -> Option<&str> {
        let all = self.0["licenses"]["clarify"].as_array().unwrap();
        all.iter().find(|c| c["crate"].as_str() == Some(name)).map(|c| c["expression"].as_str().unwrap())
    }

    fn allows(&self, name: &str, expression: &str) -> bool {
        let mut allowed = self.texts("licenses", "allow");
        let exceptions = self.0["licenses"]["exceptions"].as_array().unwrap();
        for own in exceptions.iter().filter(|e| e["crate"].as_str() == Some(name)) {
            allowed.extend(own["allow"].as_array().unwrap().iter().map(|v| v.as_str().unwrap()));
        }
        let read = Expression::parse_mode(expression, ParseMode::LAX).unwrap();
        read.evaluate(|asked| allowed.contains(&asked.to_string().as_str()))
    }
}

#[test]
fn every_crate_has_a_licence_that_is_allowed_and_comes_from_the_registry() {
    let host = String::from_utf8(Command::new("rustc").arg("-vV").output().unwrap().stdout).unwrap();
    let host = host.lines().find_map(|line| line.strip_prefix("host: ")).unwrap();
    let told = Command::new(env!("CARGO"))
        .current_dir(root())
        .args(["metadata", "--offline", "--locked", "--format-version", "1", "--filter-platform", host])
        .output()
        .unwrap();
    assert!(told.status.success(), "{}", String::from_utf8_lossy(&told.stderr));
    let told: Value = serde_json::from_slice(&told.stdout).unwrap();
    let rules = Rules::read();
    let registries = rules.texts("sources", "allow-registry");
    let packages = told["packages"].as_array().unwrap();
    assert!(packages.len() > 300, "{}", packages.len());
    for package in packages {
        let name = package["name"].as_str().unwrap();
        let licence = package["license"].as_str().or_else(|| rules.clarified(name));
        assert!(licence.is_some_and(|l| rules.allows(name, l)), "{name}: {licence:?}");
        let source = package["source"].as_str();
        let known = source.is_none_or(|s| registries.iter().any(|r| s == format!("registry+{r}")));
        assert!(known, "{name} comes from {source:?}");
    }
}

#[test]
fn every_package_of_the_pages_has_a_licence_that_is_allowed() {
    let lock = std::fs::read_to_string(root().join("web/package-lock.json")).unwrap();
    let lock: Value = serde_json::from_str(&lock).unwrap();
    let rules = Rules::read();
    let packages = lock["packages"].as_object().unwrap();
    assert!(packages.len() > 100, "{}", packages.len());
    for (place, package) in packages.iter().filter(|(place, _)| !place.is_empty()) {
        let name = place.rsplit("node_modules/").next().unwrap();
        let licence = package["license"].as_str().unwrap_or_default();
        assert!(!licence.is_empty() && rules.allows(name, licence), "{name}: {licence}");
    }
}

#[test]
fn a_licence_that_is_not_allowed_is_found() {
    let rules = Rules::read();
    assert!(
        rules.allows("x", "MIT OR GPL-3.0-only") && rules.allows("x", "(Apache-2.0 OR MIT) AND BSD-3-Clause")
    );
    assert!(!rules.allows("x", "GPL-3.0-only") && !rules.allows("x", "MIT AND AGPL-3.0-only"));
    assert!(!rules.allows("x", "OFL-1.1"));
}
