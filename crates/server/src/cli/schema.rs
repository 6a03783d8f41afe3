//! `ombret schema FORMAT`: the JSON Schema of an open format, cut out of the OpenAPI document, so
//! that there is one source for both.

use std::collections::BTreeMap;

use serde_json::{Value, json};

const IN_DOCUMENT: &str = "#/components/schemas/";

/// An open format that has a schema.
#[derive(Clone, Copy, Debug, PartialEq, Eq, clap::ValueEnum)]
pub enum Format {
    /// The job file.
    Job,
    /// The profile of an indicator.
    Profile,
}

impl Format {
    const fn root_and_title(self) -> (&'static str, &'static str) {
        match self {
            Self::Job => ("JobFile", "Ombret job file"),
            Self::Profile => ("Profile", "Ombret profile of an indicator"),
        }
    }
}

/// The schema of a format, with every definition that it needs.
///
/// # Errors
/// Where the document cannot be written as JSON.
pub fn schema(format: Format) -> Result<Value, serde_json::Error> {
    let (root, title) = format.root_and_title();
    let document = serde_json::to_value(crate::http::document())?;
    let schemas = &document["components"]["schemas"];
    let mut wanted = vec![root.to_owned()];
    let mut found = BTreeMap::new();
    while let Some(name) = wanted.pop() {
        if found.contains_key(&name) {
            continue;
        }
        let mut schema = schemas[&name].clone();
        point_to_definitions(&mut schema, &mut wanted);
        found.insert(name, schema);
    }
    let root = found.remove(root).unwrap_or_default();
    let mut out = json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": title,
        "$defs": found,
    });
    if let (Some(out), Value::Object(root)) = (out.as_object_mut(), root) {
        out.extend(root);
    }
    Ok(out)
}

fn point_to_definitions(value: &mut Value, wanted: &mut Vec<String>) {
    match value {
        Value::Object(object) => {
            for (key, inner) in object.iter_mut() {
                match inner {
                    Value::String(target) if key == "$ref" => {
                        if let Some(name) = target.strip_prefix(IN_DOCUMENT).map(str::to_owned) {
                            *target = format!("#/$defs/{name}");
                            wanted.push(name);
                        }
                    }
                    inner => point_to_definitions(inner, wanted),
                }
            }
        }
        Value::Array(items) => items.iter_mut().for_each(|item| point_to_definitions(item, wanted)),
        _ => {}
    }
}
