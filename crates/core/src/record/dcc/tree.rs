//! An XML document as a small tree, with bounds: nothing outside it is followed, and no file can make
//! it large or deep.

use quick_xml::Reader;
use quick_xml::escape::resolve_predefined_entity;
use quick_xml::events::{BytesStart, Event};

use super::MOST_BYTES;
use crate::refusal::Refusal;
use crate::wording::Text;

/// Deepest nesting.
const DEEPEST: usize = 40;
/// Most elements.
const MOST_ELEMENTS: usize = 100_000;

/// An element with its prefix taken off.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Element {
    /// Local name.
    pub name: String,
    /// Attributes.
    pub attributes: Vec<(String, String)>,
    /// Text directly in it.
    pub text: String,
    /// Elements in it.
    pub children: Vec<Element>,
}

impl Element {
    /// Children of a name.
    pub fn all<'a>(&'a self, name: &'a str) -> impl Iterator<Item = &'a Element> {
        self.children.iter().filter(move |c| c.name == name)
    }

    /// The first of a name.
    pub fn child(&self, name: &str) -> Option<&Element> {
        self.children.iter().find(|c| c.name == name)
    }

    /// Down a path.
    pub fn down(&self, path: &str) -> Option<&Element> {
        path.split('/').try_fold(self, |at, name| at.child(name))
    }

    /// Down a path that has to be there.
    ///
    /// # Errors
    /// A [`Refusal`] that names what is missing and where.
    pub fn needed(&self, path: &str) -> Result<&Element, Refusal> {
        self.down(path).ok_or_else(|| broken(&format!("{}/{path}", self.name), text!("dcc-is-missing")))
    }

    /// Its text, or that of its first content.
    pub fn says(&self) -> String {
        match self.child("content") {
            Some(content) => content.text.trim().to_owned(),
            None => self.text.trim().to_owned(),
        }
    }
}

/// What is wrong with a file, and where.
pub fn broken(place: &str, what: Text) -> Refusal {
    Refusal::from(Refused::Broken { place: place.to_owned(), what })
}

/// Reads a document.
///
/// # Errors
/// A [`Refusal`] with the place.
pub fn parse(text: &str) -> Result<Element, Refusal> {
    if text.len() > MOST_BYTES {
        return Err(Refusal::from(Refused::TooLarge));
    }
    let mut reader = Reader::from_str(text);
    let (mut stack, mut root, mut count): (Vec<Element>, Option<Element>, usize) = (Vec::new(), None, 0);
    loop {
        let at = reader.buffer_position();
        let wrong = |what: Text| Refusal::from(Refused::AtByte { at, what });
        let event =
            reader.read_event().map_err(|e| wrong(text!("dcc-not-well-formed", why = e.to_string())))?;
        let closed = match event {
            Event::Start(start) => {
                count += 1;
                if stack.len() >= DEEPEST || count > MOST_ELEMENTS {
                    return Err(wrong(text!("dcc-too-long")));
                }
                if root.is_some() {
                    return Err(wrong(text!("dcc-second-root")));
                }
                stack.push(opened(&start).map_err(|why| wrong(text!("dcc-not-well-formed", why)))?);
                None
            }
            Event::Empty(start) => {
                count += 1;
                if count > MOST_ELEMENTS {
                    return Err(wrong(text!("dcc-too-long")));
                }
                Some(opened(&start).map_err(|why| wrong(text!("dcc-not-well-formed", why)))?)
            }
            Event::End(_) => stack.pop(),
            Event::Text(text) => {
                add(&mut stack, &text);
                None
            }
            Event::CData(data) => {
                add(&mut stack, &data);
                None
            }
            Event::GeneralRef(name) => {
                let plain = name
                    .resolve_char_ref()
                    .map_err(|e| wrong(text!("dcc-not-well-formed", why = e.to_string())))?
                    .map(String::from);
                let text = plain
                    .or_else(|| resolve_predefined_entity(&name).map(str::to_owned))
                    .ok_or_else(|| wrong(text!("dcc-entity", name = name.to_string())))?;
                add(&mut stack, &text);
                None
            }
            Event::DocType(_) => return Err(wrong(text!("dcc-document-type"))),
            Event::Eof => break,
            _ => None,
        };
        if let Some(closed) = closed {
            match stack.last_mut() {
                Some(parent) => parent.children.push(closed),
                None => root = Some(closed),
            }
        }
    }
    if !stack.is_empty() {
        return Err(Refusal::from(Refused::EndsInTheMiddle));
    }
    root.ok_or_else(|| Refusal::from(Refused::NoContent))
}

fn add(stack: &mut [Element], text: &str) {
    if let Some(top) = stack.last_mut() {
        top.text.push_str(text);
    }
}

fn opened(start: &BytesStart) -> Result<Element, String> {
    let mut attributes = Vec::new();
    for attribute in start.attributes() {
        let attribute = attribute.map_err(|e| e.to_string())?;
        attributes.push((attribute.key.as_ref().to_owned(), attribute.value.into_owned()));
    }
    Ok(Element { name: start.local_name().as_ref().to_owned(), attributes, ..Element::default() })
}

crate::refusals! {
    enum Refused {
        Broken { place: String, what: Text } = "bad_dcc" at "file":
            text!("dcc-broken", place, what),
            then text!("dcc-ask-again");
        TooLarge = "bad_dcc" at "file": text!("dcc-too-large"), then text!("dcc-ask-again");
        AtByte { at: u64, what: Text } = "bad_dcc" at "file":
            text!("dcc-at-byte", at, what),
            then text!("dcc-ask-again");
        EndsInTheMiddle = "bad_dcc" at "file": text!("dcc-ends-in-the-middle"), then text!("dcc-ask-again");
        NoContent = "bad_dcc" at "file": text!("dcc-no-content"), then text!("dcc-ask-again");
    }
}
