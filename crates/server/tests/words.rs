//! The catalogue: one wording for each message in each language, read by Rust and by the page alike. Every message
//! that is said is there, with the arguments that it is said with; none is there that nobody says.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use fluent_syntax::ast::{self, Entry};
use ombret_core::diagnosis::table;
use ombret_core::scale::{ScaleKind, WIRES, cautions_for, checklist};
use ombret_core::wording::{Language, Text};
use proc_macro2::{Delimiter, TokenStream, TokenTree};
use syn::visit::{self, Visit};

/// Messages whose name is put together from what they are about.
const FAMILIES: [&str; 9] =
    ["cause-", "inspect-", "caution-", "wire-", "form-", "problem-", "thing-", "paper-", "verbatim"];

/// The same on the page.
const PAGE_FAMILIES: [&str; 13] = [
    "role-",
    "grade-",
    "loads-grade-",
    "decision-form-rule-",
    "common-and-between",
    "seen-form-sort-",
    "ask-rest-",
    "step-list-act-",
    "profile-view-",
    "profile-part-",
    "profile-field-",
    "profile-value-",
    "profile-form-how-",
];

fn top() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

pub(crate) fn files(folder: &Path, ends: &[&str], out: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            files(&path, ends, out);
        } else if ends.iter().any(|end| path.to_string_lossy().ends_with(end)) {
            out.push(path);
        }
    }
}

/// The variables of a pattern.
fn variables(pattern: &ast::Pattern<&str>, out: &mut BTreeSet<String>) {
    for element in &pattern.elements {
        if let ast::PatternElement::Placeable { expression } = element {
            of_expression(expression, out);
        }
    }
}

fn of_expression(expression: &ast::Expression<&str>, out: &mut BTreeSet<String>) {
    match expression {
        ast::Expression::Inline(inline) => of_inline(inline, out),
        ast::Expression::Select { selector, variants } => {
            of_inline(selector, out);
            variants.iter().for_each(|variant| variables(&variant.value, out));
        }
    }
}

fn of_inline(inline: &ast::InlineExpression<&str>, out: &mut BTreeSet<String>) {
    match inline {
        ast::InlineExpression::VariableReference { id } => {
            out.insert(id.name.to_owned());
        }
        ast::InlineExpression::Placeable { expression } => of_expression(expression, out),
        _ => {}
    }
}

/// Every message of a language with its variables; of the page alone, or of the rules alone.
fn catalogue(language: Language, page: bool) -> BTreeMap<String, BTreeSet<String>> {
    let mut paths = Vec::new();
    files(&top().join("words").join(language.tag()), &[".ftl"], &mut paths);
    let mut out = BTreeMap::new();
    for path in paths.iter().filter(|p| p.parent().is_some_and(|f| f.ends_with("page")) == page) {
        let text = std::fs::read_to_string(path).unwrap();
        let resource =
            fluent_syntax::parser::parse(text.as_str()).unwrap_or_else(|(_, e)| panic!("{path:?}: {e:?}"));
        for entry in &resource.body {
            let Entry::Message(message) = entry else { continue };
            let mut named = BTreeSet::new();
            variables(message.value.as_ref().unwrap(), &mut named);
            let twice = out.insert(message.id.name.to_owned(), named);
            assert!(twice.is_none(), "{path:?}: {} stands twice", message.id.name);
        }
    }
    out
}

/// What the sources say: messages with the arguments that each is said with.
#[derive(Default)]
struct Said(Vec<(String, BTreeSet<String>)>);

impl Said {
    fn read(&mut self, tokens: TokenStream) {
        let mut parts: Vec<Vec<TokenTree>> = vec![Vec::new()];
        for token in tokens.clone() {
            match &token {
                TokenTree::Punct(p) if p.as_char() == ',' => parts.push(Vec::new()),
                _ => parts.last_mut().unwrap().push(token),
            }
        }
        if let [TokenTree::Literal(key)] = parts[0].as_slice() {
            let named = parts[1..].iter().filter_map(|p| match p.first() {
                Some(TokenTree::Ident(name)) => Some(name.to_string().trim_start_matches("r#").to_owned()),
                _ => None,
            });
            self.0.push((key.to_string().trim_matches('"').to_owned(), named.collect()));
        }
        self.within(tokens);
    }

    /// Messages inside other macros and inside arguments.
    fn within(&mut self, tokens: TokenStream) {
        let all: Vec<TokenTree> = tokens.into_iter().collect();
        for (at, token) in all.iter().enumerate() {
            let TokenTree::Group(group) = token else { continue };
            let named = |back: usize, is: &str| at >= back && all[at - back].to_string() == is;
            if group.delimiter() == Delimiter::Parenthesis && named(2, "text") && named(1, "!") {
                self.read(group.stream());
            } else {
                self.within(group.stream());
            }
        }
    }
}

impl<'ast> Visit<'ast> for Said {
    fn visit_macro(&mut self, mac: &'ast syn::Macro) {
        if mac.path.is_ident("text") {
            self.read(mac.tokens.clone());
        } else {
            self.within(mac.tokens.clone());
        }
        visit::visit_macro(self, mac);
    }

    fn visit_expr_call(&mut self, call: &'ast syn::ExprCall) {
        if let (syn::Expr::Path(path), Some(syn::Expr::Lit(key))) = (&*call.func, call.args.first())
            && path.path.segments.iter().map(|s| s.ident.to_string()).collect::<Vec<_>>() == ["Text", "new"]
            && let syn::Lit::Str(key) = &key.lit
        {
            self.0.push((key.value(), BTreeSet::new()));
        }
        visit::visit_expr_call(self, call);
    }
}

fn said() -> Vec<(String, BTreeSet<String>)> {
    let mut paths = Vec::new();
    files(&top().join("crates/core/src"), &[".rs"], &mut paths);
    files(&top().join("crates/server/src"), &[".rs"], &mut paths);
    let mut said = Said::default();
    for path in paths.iter().filter(|p| !p.components().any(|c| c.as_os_str() == "wording")) {
        said.visit_file(&syn::parse_file(&std::fs::read_to_string(path).unwrap()).unwrap());
    }
    said.0
}

#[test]
fn every_message_that_is_said_is_there_with_its_arguments_and_none_is_there_for_nobody() {
    let there = catalogue(Language::En, false);
    let said = said();
    assert!(said.len() > 1_000, "{} messages were found", said.len());
    let mut wrong = Vec::new();
    for (key, named) in &said {
        match there.get(key) {
            None => wrong.push(format!("{key} is said and not in the catalogue")),
            Some(wanted) if wanted != named && !named.is_empty() => {
                wrong.push(format!("{key} is said with {named:?} and takes {wanted:?}"));
            }
            Some(wanted) if named.is_empty() && !wanted.is_empty() && !said_by_hand(key) => {
                wrong.push(format!("{key} is said without {wanted:?}"));
            }
            Some(_) => {}
        }
    }
    let used: BTreeSet<&String> = said.iter().map(|(key, _)| key).collect();
    let family = |key: &str| FAMILIES.iter().any(|f| key.starts_with(f));
    wrong
        .extend(there.keys().filter(|k| !family(k) && !used.contains(k)).map(|k| format!("nobody says {k}")));
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Messages whose arguments are put in one by one.
fn said_by_hand(key: &str) -> bool {
    key == "keying-title"
}

#[test]
fn every_language_has_every_message_with_the_same_arguments() {
    for page in [false, true] {
        let english = catalogue(Language::En, page);
        for language in Language::ALL {
            let other = catalogue(language, page);
            for key in english.keys().chain(other.keys()) {
                assert_eq!(english.get(key), other.get(key), "{language:?} {key}");
            }
        }
    }
    let both: BTreeSet<String> = catalogue(Language::En, false).into_keys().collect();
    assert!(
        catalogue(Language::En, true).keys().all(|k| !both.contains(k)),
        "a message of the page and of the rules"
    );
}

#[test]
fn what_is_named_by_what_it_is_about_is_there_too() {
    let mut named: Vec<Text> =
        table().iter().flat_map(|c| [c.label.clone(), c.can.clone(), c.cannot.clone()]).collect();
    named.extend(WIRES.iter().map(ombret_core::scale::Wire::label));
    for kind in ScaleKind::ALL {
        named.extend(checklist(kind).flat_map(|item| [item.label(), item.why()]));
        named.extend(checklist(kind).filter_map(|item| item.words()).flat_map(|w| [w.ok, w.fault, w.note]));
        named.extend(cautions_for(kind).map(|c| c.says));
    }
    let (mut kept, mut missing) = (BTreeSet::new(), BTreeSet::new());
    for text in &named {
        kept.insert(text.key().to_owned());
        for language in Language::ALL.iter().filter(|l| !l.knows(text.key())) {
            missing.insert(format!("{language:?} {}", text.key()));
        }
    }
    assert!(missing.is_empty(), "{missing:?}");
    let about = |key: &String| ["cause-", "caution-", "wire-"].iter().any(|f| key.starts_with(f));
    let idle: Vec<String> =
        catalogue(Language::En, false).into_keys().filter(|k| about(k) && !kept.contains(k)).collect();
    assert!(idle.is_empty(), "nobody says {idle:?}");
}

#[test]
fn the_page_says_only_what_is_there_and_nothing_is_there_for_nobody() {
    let mut paths = Vec::new();
    files(&top().join("web/src"), &[".vue", ".ts"], &mut paths);
    let there: BTreeSet<String> = catalogue(Language::En, true).into_keys().collect();
    // What stands in for the server says some of what the server says.
    let rules: BTreeSet<String> = catalogue(Language::En, false).into_keys().collect();
    let mut used = BTreeSet::new();
    for path in paths.iter().filter(|p| !p.ends_with("api/schema.d.ts")) {
        let text = std::fs::read_to_string(path).unwrap();
        for call in ["$t('", "say('", "message('"] {
            for found in text.split(call).skip(1) {
                let key = found.split('\'').next().unwrap();
                assert!(
                    there.contains(key) || rules.contains(key),
                    "{path:?} says “{key}”, which is not in the catalogue"
                );
            }
        }
        used.extend(text.split(['\'', '`']).filter(|part| there.contains(*part)).map(str::to_owned));
    }
    let family = |key: &String| PAGE_FAMILIES.iter().any(|f| key.starts_with(f));
    let idle: Vec<&String> = there.iter().filter(|k| !family(k) && !used.contains(*k)).collect();
    assert!(idle.is_empty(), "nobody says {idle:?}");
}

#[test]
fn what_is_refused_is_a_variant_with_its_data_and_never_put_together_on_the_spot() {
    let mut sources = Vec::new();
    for of in ["crates/core/src", "crates/server/src", "crates/paper/src"] {
        files(&top().join(of), &[".rs"], &mut sources);
    }
    assert!(sources.len() > 200, "{}", sources.len());
    for path in sources {
        let text = std::fs::read_to_string(&path).unwrap();
        assert!(!text.contains("Refusal::because("), "{}: declare it with refusals!", path.display());
    }
}
