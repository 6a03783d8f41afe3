//! What the typesetter may see: one source, its data, the files beside it, the fonts. Nothing of the
//! machine, nothing of the network.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde_json::Value;
use time::OffsetDateTime;
use typst::diag::{FileError, FileResult};
use typst::foundations::{Bytes, Datetime, Duration};
use typst::syntax::{FileId, RootedPath, Source, VirtualPath, VirtualRoot};
use typst::text::{Font, FontBook};
use typst::utils::LazyHash;
use typst::{Library, LibraryExt, World};
use typst_kit::fonts::FontStore;

/// A file that travels inside the PDF, or a drawing that the sheet shows.
#[derive(Clone, Debug)]
pub struct Beside {
    /// Name.
    pub name: String,
    /// Content.
    pub bytes: Vec<u8>,
}

/// The product's own faces; what they lack comes from the typesetter's.
const FACES: [&[u8]; 6] = [
    include_bytes!("../fonts/next-400.ttf"),
    include_bytes!("../fonts/next-700.ttf"),
    include_bytes!("../fonts/next-ext-400.ttf"),
    include_bytes!("../fonts/next-ext-700.ttf"),
    include_bytes!("../fonts/mono-400.ttf"),
    include_bytes!("../fonts/mono-700.ttf"),
];

static FONTS: LazyLock<FontStore> = LazyLock::new(|| {
    let mut store = FontStore::new();
    for face in FACES {
        store.extend(Font::iter(Bytes::new(face)).map(|font| {
            let info = font.info().clone();
            (font, info)
        }));
    }
    store.extend(typst_kit::fonts::embedded());
    store
});

static LIBRARY: LazyLock<LazyHash<Library>> = LazyLock::new(|| LazyHash::new(Library::default()));

/// True where some face has this character.
fn known(c: char) -> bool {
    FONTS.book().shows(c)
}

trait Coverage {
    fn shows(&self, c: char) -> bool;
}

impl Coverage for LazyHash<FontBook> {
    fn shows(&self, c: char) -> bool {
        (0..).map_while(|i| self.info(i)).any(|info| info.coverage.contains(u32::from(c)))
    }
}

/// Takes what no face can show out of every text: PDF/A has no place for a missing sign.
pub fn printable(value: &mut Value) {
    match value {
        Value::String(text)
            if text.chars().any(|c| !c.is_ascii() && !known(c) || c.is_control() && c != '\n') =>
        {
            *text = text
                .chars()
                .filter(|c| !c.is_control() || *c == '\n')
                .map(|c| if c.is_ascii() || known(c) { c } else { '?' })
                .collect();
        }
        Value::Array(items) => items.iter_mut().for_each(printable),
        Value::Object(map) => map.values_mut().for_each(printable),
        _ => {}
    }
}

/// One sheet's world.
pub struct Desk {
    main: Source,
    files: BTreeMap<String, Bytes>,
    on: OffsetDateTime,
}

impl Desk {
    /// A sheet with its data.
    pub fn new(source: &'static str, data: Vec<u8>, beside: Vec<Beside>, on: OffsetDateTime) -> Self {
        let mut files: BTreeMap<String, Bytes> =
            beside.into_iter().map(|b| (b.name, Bytes::new(b.bytes))).collect();
        files.insert("data.json".into(), Bytes::new(data));
        Self { main: Source::new(id_of("main.typ"), source.to_owned()), files, on }
    }
}

#[expect(clippy::expect_used, reason = "the name is a constant of this file")]
fn id_of(name: &str) -> FileId {
    RootedPath::new(VirtualRoot::Project, VirtualPath::new(name).expect("a plain name")).intern()
}

impl World for Desk {
    fn library(&self) -> &LazyHash<Library> {
        &LIBRARY
    }

    fn book(&self) -> &LazyHash<FontBook> {
        FONTS.book()
    }

    fn main(&self) -> FileId {
        self.main.id()
    }

    fn source(&self, id: FileId) -> FileResult<Source> {
        if id == self.main.id() { Ok(self.main.clone()) } else { Err(FileError::AccessDenied) }
    }

    fn file(&self, id: FileId) -> FileResult<Bytes> {
        let name = id.vpath().get_without_slash();
        self.files.get(name).cloned().ok_or(FileError::AccessDenied)
    }

    fn font(&self, index: usize) -> Option<Font> {
        FONTS.font(index)
    }

    fn today(&self, _offset: Option<Duration>) -> Option<Datetime> {
        Datetime::from_ymd(self.on.year(), u8::from(self.on.month()), self.on.day())
    }
}
