//! The house: arrows between files go one way. No circle of files anywhere, and each room of the core uses only
//! the rooms that its line in the table names.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use syn::visit::{self, Visit};

/// The rooms of the core, from the ground up, and what each may use beside itself. A room that is not here is not
/// known; an arrow that is not here is refused by name.
const ROOMS: &[(&str, &[&str])] = &[
    ("grade", &[]),
    ("longest", &[]),
    ("ten_digits", &[]),
    ("wording", &[]),
    ("refusal", &["wording"]),
    ("working", &["wording"]),
    ("quantity", &["wording", "refusal"]),
    ("statistics", &["wording", "refusal"]),
    ("keying", &["wording", "refusal", "quantity"]),
    ("signal", &["wording", "refusal", "quantity"]),
    ("tolerance", &["wording", "refusal", "quantity"]),
    ("adjust", &["wording", "refusal", "working", "quantity", "tolerance"]),
    ("weights", &["grade", "longest", "wording", "refusal", "working", "quantity", "tolerance"]),
    ("measurement", &["wording", "refusal", "quantity", "tolerance", "weights", "ten_digits"]),
    (
        "scale",
        &[
            "grade",
            "longest",
            "wording",
            "refusal",
            "working",
            "quantity",
            "keying",
            "tolerance",
            "adjust",
            "measurement",
        ],
    ),
    ("customer", &["longest", "wording", "refusal", "tolerance", "scale"]),
    (
        "journal",
        &[
            "wording",
            "refusal",
            "quantity",
            "keying",
            "tolerance",
            "adjust",
            "weights",
            "measurement",
            "scale",
        ],
    ),
    (
        "assessment",
        &[
            "grade",
            "wording",
            "refusal",
            "working",
            "quantity",
            "keying",
            "tolerance",
            "adjust",
            "weights",
            "measurement",
            "scale",
            "journal",
        ],
    ),
    (
        "diagnosis",
        &[
            "ten_digits",
            "grade",
            "wording",
            "refusal",
            "quantity",
            "tolerance",
            "keying",
            "adjust",
            "weights",
            "scale",
            "journal",
            "assessment",
        ],
    ),
    (
        "job",
        &[
            "grade",
            "wording",
            "refusal",
            "quantity",
            "keying",
            "tolerance",
            "adjust",
            "weights",
            "measurement",
            "scale",
            "journal",
            "assessment",
        ],
    ),
    ("live", &["wording", "quantity", "signal", "journal"]),
    (
        "answers",
        &[
            "wording",
            "refusal",
            "quantity",
            "keying",
            "adjust",
            "weights",
            "journal",
            "assessment",
            "diagnosis",
            "job",
        ],
    ),
    ("practice", &["wording", "quantity", "adjust", "scale", "journal", "assessment"]),
    ("schedule", &["wording", "refusal", "quantity", "measurement", "journal", "assessment"]),
    (
        "questions",
        &[
            "wording",
            "refusal",
            "working",
            "quantity",
            "signal",
            "tolerance",
            "adjust",
            "weights",
            "measurement",
            "scale",
            "diagnosis",
            "job",
            "schedule",
        ],
    ),
    (
        "offline",
        &[
            "wording",
            "refusal",
            "keying",
            "adjust",
            "signal",
            "weights",
            "scale",
            "journal",
            "assessment",
            "diagnosis",
            "job",
            "live",
            "answers",
            "questions",
        ],
    ),
    (
        "record",
        &[
            "wording",
            "refusal",
            "quantity",
            "measurement",
            "scale",
            "journal",
            "assessment",
            "diagnosis",
            "job",
        ],
    ),
    (
        "import",
        &[
            "wording",
            "refusal",
            "quantity",
            "tolerance",
            "weights",
            "measurement",
            "scale",
            "customer",
            "record",
        ],
    ),
];

/// Where an item stands: the file, as the path of its module.
type Module = Vec<String>;

struct House {
    files: BTreeMap<Module, syn::File>,
    /// What a module passes on under a name of its own.
    passed_on: BTreeMap<(Module, String), Vec<String>>,
}

fn sources(folder: &Path, out: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            sources(&path, out);
        } else if path.extension().is_some_and(|e| e == "rs") {
            out.push(path);
        }
    }
}

fn for_tests(attrs: &[syn::Attribute]) -> bool {
    attrs.iter().any(|a| a.path().is_ident("cfg") && quote_of(&a.meta).contains("test"))
}

fn quote_of(meta: &syn::Meta) -> String {
    match meta {
        syn::Meta::List(list) => list.tokens.to_string(),
        _ => String::new(),
    }
}

/// Every path that a `use` brings in, with the name that it goes by here.
fn brought(tree: &syn::UseTree, before: &[String], out: &mut Vec<(Vec<String>, String)>) {
    let with = |name: &syn::Ident| {
        let mut path = before.to_vec();
        path.push(name.to_string());
        path
    };
    match tree {
        syn::UseTree::Path(path) => brought(&path.tree, &with(&path.ident), out),
        syn::UseTree::Name(name) if name.ident == "self" => {
            out.push((before.to_vec(), before.last().cloned().unwrap_or_default()));
        }
        syn::UseTree::Name(name) => out.push((with(&name.ident), name.ident.to_string())),
        syn::UseTree::Rename(rename) => out.push((with(&rename.ident), rename.rename.to_string())),
        syn::UseTree::Glob(_) => out.push((before.to_vec(), "*".into())),
        syn::UseTree::Group(group) => group.items.iter().for_each(|item| brought(item, before, out)),
    }
}

impl House {
    fn of(src: &Path) -> Self {
        let mut paths = Vec::new();
        sources(src, &mut paths);
        let mut files = BTreeMap::new();
        for path in paths {
            let relative = path.strip_prefix(src).unwrap().with_extension("");
            let mut module: Module =
                relative.components().map(|c| c.as_os_str().to_string_lossy().into_owned()).collect();
            match module.last().map(String::as_str) {
                Some("main") => continue,
                Some("mod" | "lib") => drop(module.pop()),
                _ => {}
            }
            let text = std::fs::read_to_string(&path).unwrap();
            files.insert(module, syn::parse_file(&text).unwrap());
        }
        let mut house = Self { files, passed_on: BTreeMap::new() };
        let mut passed_on = BTreeMap::new();
        for (module, file) in &house.files {
            for item in &file.items {
                if let syn::Item::Use(item) = item
                    && !matches!(item.vis, syn::Visibility::Inherited)
                {
                    let mut all = Vec::new();
                    brought(&item.tree, &[], &mut all);
                    for (path, name) in all {
                        passed_on.insert((module.clone(), name), house.absolute(module, &path));
                    }
                }
            }
        }
        house.passed_on = passed_on;
        house
    }

    /// A path from the crate's root; what is from elsewhere stays as it is.
    fn absolute(&self, here: &Module, path: &[String]) -> Vec<String> {
        let mut at = here.clone();
        let mut rest = path;
        match path.first().map(String::as_str) {
            Some("crate") => {
                at.clear();
                rest = &path[1..];
            }
            Some("self") => rest = &path[1..],
            Some("super") => {
                while rest.first().is_some_and(|p| p == "super") {
                    at.pop();
                    rest = &rest[1..];
                }
            }
            // A child module by its bare name.
            Some(first) => {
                let mut child = here.clone();
                child.push(first.to_owned());
                if !self.files.contains_key(&child) {
                    at = vec!["::".into()];
                }
            }
            None => {}
        }
        at.extend(rest.iter().cloned());
        at
    }

    /// The file in which what a path names is defined.
    fn defined(&self, path: &[String]) -> Option<Module> {
        if path.first().is_some_and(|p| p == "::") {
            return None;
        }
        let depth = (0..=path.len()).rev().find(|n| self.files.contains_key(&path[..*n]))?;
        let module = path[..depth].to_vec();
        match path.get(depth) {
            Some(name) => match self.passed_on.get(&(module.clone(), name.clone())) {
                Some(on) if on[..] != path[..] => self.defined(on).or(Some(module)),
                _ => Some(module),
            },
            None => Some(module),
        }
    }

    /// Which files a file takes something from.
    fn arrows(&self) -> BTreeMap<Module, BTreeSet<Module>> {
        let mut out = BTreeMap::new();
        for (module, file) in &self.files {
            let mut seen = Seen { house: self, here: module, names: BTreeMap::new(), to: BTreeSet::new() };
            for item in &file.items {
                seen.learn(item);
            }
            seen.visit_file(file);
            seen.to.remove(module);
            out.insert(module.clone(), seen.to);
        }
        out
    }
}

struct Seen<'a> {
    house: &'a House,
    here: &'a Module,
    /// Modules that go by a name here.
    names: BTreeMap<String, Vec<String>>,
    to: BTreeSet<Module>,
}

impl Seen<'_> {
    fn learn(&mut self, item: &syn::Item) {
        let syn::Item::Use(item) = item else { return };
        let mut all = Vec::new();
        brought(&item.tree, &[], &mut all);
        let passes_on = !matches!(item.vis, syn::Visibility::Inherited);
        for (path, name) in all {
            let path = self.house.absolute(self.here, &path);
            // What is only passed on is no use of it.
            if !passes_on {
                self.point_at(&path);
            }
            self.names.insert(name, path);
        }
    }

    fn point_at(&mut self, path: &[String]) {
        // A folder's own file, named as a whole, is used by what is named in it.
        if let Some(module) = self.house.defined(path)
            && !(module == path
                && self.house.files.keys().any(|m| m.len() > path.len() && m.starts_with(path)))
        {
            self.to.insert(module);
        }
    }
}

impl<'ast> Visit<'ast> for Seen<'_> {
    fn visit_item_use(&mut self, _: &'ast syn::ItemUse) {}

    fn visit_item_mod(&mut self, item: &'ast syn::ItemMod) {
        if !for_tests(&item.attrs) {
            visit::visit_item_mod(self, item);
        }
    }

    fn visit_path(&mut self, path: &'ast syn::Path) {
        let segments: Vec<String> = path.segments.iter().map(|s| s.ident.to_string()).collect();
        if segments.len() > 1 {
            let first = &segments[0];
            if ["crate", "super", "self"].contains(&first.as_str()) {
                let absolute = self.house.absolute(self.here, &segments);
                self.point_at(&absolute);
            } else if let Some(module) = self.names.get(first).filter(|m| self.house.files.contains_key(*m)) {
                let mut whole = module.clone();
                whole.extend(segments[1..].iter().cloned());
                self.point_at(&whole);
            }
        }
        visit::visit_path(self, path);
    }
}

/// Groups of files that reach each other, the smallest first.
fn circles(arrows: &BTreeMap<Module, BTreeSet<Module>>) -> Vec<BTreeSet<Module>> {
    let reach = |from: &Module| {
        let (mut seen, mut next) = (BTreeSet::new(), vec![from.clone()]);
        while let Some(at) = next.pop() {
            for to in arrows.get(&at).into_iter().flatten() {
                if seen.insert(to.clone()) {
                    next.push(to.clone());
                }
            }
        }
        seen
    };
    let reached: BTreeMap<&Module, BTreeSet<Module>> = arrows.keys().map(|m| (m, reach(m))).collect();
    let mut out: Vec<BTreeSet<Module>> = Vec::new();
    for module in arrows.keys() {
        if reached[module].contains(module) && !out.iter().any(|c| c.contains(module)) {
            let back = |other: &&Module| reached[module].contains(*other) && reached[*other].contains(module);
            out.push(arrows.keys().filter(back).cloned().collect());
        }
    }
    out.sort_by_key(BTreeSet::len);
    out
}

fn arrows_of(crate_name: &str) -> BTreeMap<Module, BTreeSet<Module>> {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(crate_name).join("src");
    House::of(&src).arrows()
}

#[test]
fn no_files_stand_in_a_circle() {
    for name in ["core", "server", "paper", "bench"] {
        let arrows = arrows_of(name);
        let told: Vec<String> = circles(&arrows)
            .iter()
            .map(|circle| {
                let lines: Vec<String> = circle
                    .iter()
                    .map(|from| {
                        let to: Vec<String> =
                            arrows[from].intersection(circle).map(|m| m.join("::")).collect();
                        format!("  {} → {}", from.join("::"), to.join(", "))
                    })
                    .collect();
                lines.join("\n")
            })
            .collect();
        assert!(told.is_empty(), "{name}: files in a circle:\n{}", told.join("\n\n"));
    }
}

#[test]
fn each_room_of_the_core_uses_only_what_lies_below_it() {
    let mut wrong = BTreeSet::new();
    for (from, to) in arrows_of("core") {
        let Some(room) = from.first() else { continue };
        let may = ROOMS.iter().find(|(name, _)| name == room).map(|(_, may)| *may);
        let Some(may) = may else {
            wrong.insert(format!("{room} is no room of the table"));
            continue;
        };
        for other in to.iter().filter_map(|t| t.first()) {
            if other != room && !may.contains(&other.as_str()) {
                wrong.insert(format!("{room} → {other}"));
            }
        }
    }
    assert!(wrong.is_empty(), "not in the table of rooms:\n{}", Vec::from_iter(wrong).join("\n"));
    // What a room uses lies below it.
    for (at, (room, may)) in ROOMS.iter().enumerate() {
        for other in *may {
            assert!(ROOMS[..at].iter().any(|(below, _)| below == other), "{room} lies below {other}");
        }
    }
    // A line that allows what nobody does hides the next who does.
    let used: BTreeSet<(String, String)> = arrows_of("core")
        .into_iter()
        .flat_map(|(from, to)| {
            to.into_iter().filter_map(move |t| Some((from.first()?.clone(), t.first()?.clone())))
        })
        .collect();
    for (room, may) in ROOMS {
        for other in *may {
            assert!(used.contains(&((*room).into(), (*other).into())), "{room} does not use {other}");
        }
    }
}
