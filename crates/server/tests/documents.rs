//! What is generated is current, what is published is kept to, and the core stays pure.

use std::io::Write;
use std::path::PathBuf;
use std::process::{Command, Stdio};

use ombret::cli::Format;
use serde_json::{Value, json};

fn root() -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn read(path: &str) -> String {
    std::fs::read_to_string(root().join(path)).unwrap_or_else(|e| panic!("{path}: {e}"))
}

fn ombret(args: &[&str], input: &str) -> (bool, String, String) {
    let mut child = Command::new(env!("CARGO_BIN_EXE_ombret"))
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    let mut stdin = child.stdin.take().unwrap();
    let input = input.to_owned();
    // Written beside reading: the pipe is shorter than the questions.
    let writer = std::thread::spawn(move || stdin.write_all(input.as_bytes()));
    let out = child.wait_with_output().unwrap();
    writer.join().unwrap().unwrap();
    (out.status.success(), String::from_utf8(out.stdout).unwrap(), String::from_utf8(out.stderr).unwrap())
}

#[test]
fn the_published_documents_are_current() {
    let openapi: Value = serde_json::from_str(&read("docs/openapi.json")).unwrap();
    assert_eq!(openapi, serde_json::to_value(ombret::http::document()).unwrap(), "run ./ombret generate");
    let schema: Value = serde_json::from_str(&read("docs/job-file.schema.json")).unwrap();
    assert_eq!(schema, ombret::cli::schema(Format::Job).unwrap(), "run ./ombret generate");
    let schema: Value = serde_json::from_str(&read("docs/profile.schema.json")).unwrap();
    assert_eq!(schema, ombret::cli::schema(Format::Profile).unwrap(), "run ./ombret generate");
}

#[test]
fn where_a_rule_stands_in_the_code_is_where_its_document_says() {
    let core = root().join("crates/core/src");
    let named: Vec<String> = read("docs/rules.md")
        .lines()
        .filter_map(|line| line.split_once("Code: "))
        .flat_map(|(_, named)| named.split('`').skip(1).step_by(2).map(str::to_owned).collect::<Vec<_>>())
        .collect();
    assert!(named.len() > 30, "{named:?}");
    let gone: Vec<&String> = named
        .iter()
        .filter(|name| {
            let at = core.join(name.replace("::", "/"));
            !at.is_dir() && !at.with_extension("rs").is_file()
        })
        .collect();
    assert!(gone.is_empty(), "no such room or file: {gone:?}");
}

/// A colour that is not set is no error to a browser: what it was for is drawn black, or not at all.
#[test]
fn every_style_variable_that_a_page_uses_is_set() {
    let mut files = Vec::new();
    crate::words::files(&root().join("web/src"), &[".css", ".vue", ".ts"], &mut files);
    let sources: Vec<String> = files.iter().map(|file| std::fs::read_to_string(file).unwrap()).collect();
    let used = regex::Regex::new(r"var\((--[a-z0-9-]+)").unwrap();
    let set = regex::Regex::new(r"(--[a-z0-9-]+)'?:\s").unwrap();
    let all = |of: &regex::Regex| -> std::collections::BTreeSet<String> {
        sources.iter().flat_map(|text| of.captures_iter(text)).map(|found| found[1].to_owned()).collect()
    };
    let (used, set) = (all(&used), all(&set));
    assert!(used.len() > 10, "{used:?}");
    assert_eq!(used.difference(&set).collect::<Vec<_>>(), Vec::<&String>::new());
}

#[test]
fn every_operation_has_a_name_of_its_own() {
    let document = serde_json::to_value(ombret::http::document()).unwrap();
    let mut names: Vec<&str> = document["paths"]
        .as_object()
        .unwrap()
        .values()
        .flat_map(|methods| methods.as_object().unwrap().values())
        .filter_map(|operation| operation["operationId"].as_str())
        .collect();
    let all = names.len();
    names.sort_unstable();
    names.dedup();
    assert!(all >= 15 && names.len() == all, "{names:?}");
}

#[test]
fn a_job_file_keeps_to_its_published_schema() {
    let schema: Value = serde_json::from_str(&read("docs/job-file.schema.json")).unwrap();
    let validator = jsonschema::validator_for(&schema).unwrap();
    let mut file: Value = serde_json::from_str(&read("crates/server/tests/foreign.ombret-job.json")).unwrap();
    let errors: Vec<String> = validator.iter_errors(&file).map(|e| e.to_string()).collect();
    assert!(errors.is_empty(), "{errors:?}");
    file["entries"][0]["body"]["kind"] = json!("something_else");
    assert!(!validator.is_valid(&file));
}

#[test]
fn assess_prints_a_file_and_says_what_is_wrong_with_a_bad_one() {
    let file = root().join("crates/server/tests/foreign.ombret-job.json");
    let (good, out, _) = ombret(&["assess", file.to_str().unwrap()], "");
    assert!(
        good && out.contains("As found")
            && out.contains("OUTSIDE")
            && out.contains("In tolerance")
            && out.contains("Signed by"),
        "{out}"
    );
    let altered = std::env::temp_dir().join(format!("{}.json", uuid::Uuid::new_v4()));
    std::fs::write(&altered, std::fs::read_to_string(&file).unwrap().replacen("Back shop", "Front shop", 1))
        .unwrap();
    let (good, _, err) = ombret(&["assess", altered.to_str().unwrap()], "");
    std::fs::remove_file(altered).unwrap();
    assert!(!good && err.contains("entry 1 was changed"), "{err}");
    assert!(!ombret(&["assess", "/nowhere"], "").0);
}

#[test]
fn calc_answers_every_line_in_order_and_survives_bad_ones() {
    let lines = [
        json!({"rule": "R1", "input": {"op": "convert", "mass": {"value": "2", "unit": "lb"}, "to": "kg"}})
            .to_string(),
        "nonsense".into(),
        String::new(),
        json!({"rule": "R99", "input": {}}).to_string(),
        json!({"rule": "R2", "input": {"op": "division", "d": "0.3"}}).to_string(),
    ];
    let (good, out, _) = ombret(&["calc"], &lines.join("\n"));
    let answers: Vec<Value> = out.lines().map(|l| serde_json::from_str(l).unwrap()).collect();
    assert!(good);
    assert_eq!(answers.len(), lines.len());
    assert_eq!(answers[0]["result"]["mass"]["value"], "0.90718474");
    assert_eq!(answers[1]["result"]["refused"], "bad_line");
    assert_eq!(answers[3]["result"]["refused"], "unknown_rule");
    assert_eq!(
        (&answers[4]["rule"], &answers[4]["result"]["refused"], &answers[4]["result"]["lower"]),
        (&json!("R2"), &json!("not_in_series"), &json!("0.2"))
    );
    let (_, listed, _) = ombret(&["calc", "--list"], "");
    assert!(["R1 ", "R3a", "R17"].iter().all(|rule| listed.contains(rule)), "{listed}");
}

#[test]
fn the_program_does_not_start_with_a_weak_secret_where_others_can_reach_it() {
    let out = Command::new(env!("CARGO_BIN_EXE_ombret"))
        .arg("serve")
        .envs([
            ("OMBRET_LISTEN", "0.0.0.0:0"),
            ("OMBRET_DATABASE_URL", "postgres://127.0.0.1/none"),
            ("OMBRET_SECRET", "short"),
        ])
        .output()
        .unwrap();
    assert!(!out.status.success() && String::from_utf8_lossy(&out.stderr).contains("too weak"));
}

#[test]
fn the_core_knows_no_io_and_no_interface() {
    let tree = Command::new(env!("CARGO"))
        .args(["tree", "-p", "ombret-core", "-e", "normal", "--offline", "--prefix", "none"])
        .current_dir(root())
        .output()
        .unwrap();
    let tree = String::from_utf8(tree.stdout).unwrap();
    assert!(tree.contains("bigdecimal"), "cargo tree said nothing: {tree}");
    for barred in ["tokio", "axum", "sqlx", "anyhow", "rand", "reqwest", "hyper"] {
        assert!(
            !tree.lines().any(|l| l.starts_with(&format!("{barred} v"))),
            "{barred} has come into the core"
        );
    }
}

#[test]
fn every_demo_profile_keeps_to_the_published_schema() {
    let schema: Value = serde_json::from_str(&read("docs/profile.schema.json")).unwrap();
    let validator = jsonschema::validator_for(&schema).unwrap();
    let folder = root().join("demo/profiles");
    let mut seen = 0;
    for file in std::fs::read_dir(folder).unwrap() {
        let text = std::fs::read_to_string(file.unwrap().path()).unwrap();
        let value: Value = toml::from_str(&text).unwrap();
        let wrong: Vec<String> =
            validator.iter_errors(&value).map(|e| format!("{}: {e}", e.instance_path())).collect();
        assert!(wrong.is_empty(), "{wrong:?}");
        seen += 1;
    }
    assert!(seen >= 8);
    assert!(!validator.is_valid(&serde_json::json!({"format": "ombret.profile", "version": 1, "name": "x"})));
}
