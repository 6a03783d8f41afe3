//! Writes a changed profile into its text: what did not change keeps its lines and its comments.

use toml_edit::{ArrayOfTables, DocumentMut, Item, Table, TableLike};

use super::profile::Profile;

/// What tells one element of a list from another.
const NAMED_BY: [&str; 4] = ["label", "text", "id", "act"];

/// The text of a profile.
pub fn write_profile(profile: &Profile) -> String {
    fresh(profile).map(|document| document.to_string()).unwrap_or_default()
}

/// `text` with everything in it as `profile` says; read again it gives exactly `profile`. A text that is no profile is
/// written anew.
pub fn rewrite_profile(text: &str, profile: &Profile) -> String {
    let kept = with_comments(text, profile);
    kept.filter(|kept| toml::from_str::<Profile>(kept).is_ok_and(|read| read == *profile))
        .unwrap_or_else(|| write_profile(profile))
}

fn fresh(profile: &Profile) -> Option<DocumentMut> {
    let mut document: DocumentMut = toml::to_string(profile).ok()?.parse().ok()?;
    for (_, item) in document.iter_mut() {
        let Some(tables) = item.as_array_of_tables_mut() else { continue };
        for table in tables.iter_mut() {
            // Options stand in one line, as people write them.
            for (_, inner) in table.iter_mut() {
                inner.make_value();
            }
            table.fmt();
            table.decor_mut().set_prefix("\n");
        }
    }
    Some(document)
}

fn with_comments(text: &str, profile: &Profile) -> Option<String> {
    let before: Profile = toml::from_str(text).ok()?;
    let mut document: DocumentMut = text.parse().ok()?;
    let (was, now) = (fresh(&before)?, fresh(profile)?);
    change(document.as_table_mut(), was.as_table(), now.as_table());
    let mut place = 0;
    number_tables(document.as_table_mut(), &mut place);
    Some(document.to_string())
}

fn same(one: Option<&Item>, other: Option<&Item>) -> bool {
    match (one, other) {
        (Some(one), Some(other)) => plain(one) == plain(other),
        (None, None) => true,
        _ => false,
    }
}

/// A thing without the space around it.
fn plain(item: &Item) -> String {
    match item.clone().into_value() {
        Ok(mut value) => {
            value.decor_mut().clear();
            value.to_string()
        }
        Err(other) => other.to_string(),
    }
}

/// Changes in `table` what differs between `was` and `now`.
fn change(table: &mut dyn TableLike, was: &dyn TableLike, now: &dyn TableLike) {
    let gone: Vec<String> =
        was.iter().map(|(key, _)| key.to_owned()).filter(|key| now.get(key).is_none()).collect();
    for key in gone {
        table.remove(&key);
    }
    for (key, new) in now.iter() {
        let old = was.get(key);
        if same(old, Some(new)) {
            continue;
        }
        match (table.get_mut(key), old) {
            (Some(Item::ArrayOfTables(tables)), Some(Item::ArrayOfTables(was))) => {
                if let Item::ArrayOfTables(now) = new {
                    *tables = change_list(tables, was, now);
                }
            }
            (Some(item), Some(old)) if item.is_table_like() && old.is_table_like() && new.is_table_like() => {
                if let (Some(table), Some(old), Some(new)) =
                    (item.as_table_like_mut(), old.as_table_like(), new.as_table_like())
                {
                    change(table, old, new);
                }
            }
            (Some(item), _) => {
                let mut new = new.clone();
                if item.is_value() {
                    new.make_value();
                }
                *item = new;
            }
            (None, _) => {
                table.insert(key, new.clone());
            }
        }
    }
}

/// Whether a new element at a place is an old one.
type Way<'a> = &'a dyn Fn(usize, &Table, usize) -> bool;

/// The elements of `now`, each with the lines of the one that it was, where there is one.
fn change_list(list: &ArrayOfTables, was: &ArrayOfTables, now: &ArrayOfTables) -> ArrayOfTables {
    let text = |table: &Table| plain(&Item::Table(table.clone()));
    let name = |table: &Table| NAMED_BY.iter().find_map(|key| table.get(key).map(plain));
    let old: Vec<(&Table, &Table)> = list.iter().zip(was.iter()).collect();
    let mut of: Vec<Option<usize>> = vec![None; now.len()];
    // First what is the same, then what is called the same, then what stands at the same place.
    let ways: [Way; 3] = [
        &|_, new, i| text(old[i].1) == text(new),
        &|_, new, i| name(new).is_some_and(|n| name(old[i].1) == Some(n)),
        &|at, _, i| at == i && now.len() == old.len(),
    ];
    for way in ways {
        for (at, new) in now.iter().enumerate().filter(|(at, _)| of[*at].is_none()).collect::<Vec<_>>() {
            of[at] = (0..old.len()).find(|i| !of.contains(&Some(*i)) && way(at, new, *i));
        }
    }
    let mut out = ArrayOfTables::new();
    for (new, of) in now.iter().zip(of) {
        out.push(match of {
            Some(of) => {
                let mut table = old[of].0.clone();
                change(&mut table, old[of].1, new);
                table
            }
            None => new.clone(),
        });
    }
    out
}

/// Tables stand in the order in which they are listed.
fn number_tables(table: &mut Table, place: &mut usize) {
    table.set_position(*place);
    *place += 1;
    for (_, item) in table.iter_mut() {
        match item {
            Item::Table(inner) => number_tables(inner, place),
            Item::ArrayOfTables(inner) => inner.iter_mut().for_each(|t| number_tables(t, place)),
            _ => {}
        }
    }
}
