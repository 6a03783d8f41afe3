//! What was seen, in divisions, and what is known of the scale.

use uuid::Uuid;

use crate::tolerance::Class;

/// What the display did that showed no figure.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Blank {
    /// Sign for too much: above Max + 9 d.
    Above,
    /// Sign for too little: below −20 d.
    Below,
    /// An error text.
    Error,
    /// Nothing at all.
    Off,
}

/// What was shown.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Shown {
    /// A figure, in divisions; before rounding where that is known.
    Figure(f64),
    /// No figure.
    Blank(Blank),
}

/// A reading, in divisions.
#[derive(Clone, Debug, PartialEq)]
pub struct Seen {
    /// The entry it stands in.
    pub entry: Uuid,
    /// Load.
    pub load: f64,
    /// What the display did.
    pub shown: Shown,
    /// Reached coming down.
    pub down: bool,
    /// Where it stood, from the left and from the rear edge, 0 to 1; none: in the middle.
    pub place: Option<(f64, f64)>,
    /// Known before rounding.
    pub fine: bool,
    /// Seconds since the first reading.
    pub at_s: f64,
    /// Width of the flicker, in divisions, where one was written down.
    pub flicker: Option<f64>,
    /// Internal counts, where they were read.
    pub counts: Option<f64>,
}

impl Seen {
    /// A typed reading in the middle, of which nothing else is known.
    pub const fn of(load: f64, shown: f64, at_s: f64) -> Self {
        Self {
            entry: Uuid::nil(),
            load,
            shown: Shown::Figure(shown),
            down: false,
            place: None,
            fine: false,
            at_s,
            flicker: None,
            counts: None,
        }
    }

    /// The figure, where one was shown.
    pub const fn figure(&self) -> Option<f64> {
        match self.shown {
            Shown::Figure(figure) => Some(figure),
            Shown::Blank(_) => None,
        }
    }

    /// Indication less load, in divisions; none where no figure was shown.
    pub fn error(&self) -> Option<f64> {
        Some(self.figure()? - self.load)
    }
}

/// What the internal counts should be by the cells' data.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CountsExpected {
    /// Counts a division.
    pub per_division: f64,
    /// Dead load, in divisions, about.
    pub dead: f64,
}

/// What is known of the scale.
#[derive(Clone, Debug, PartialEq)]
pub struct Facts {
    /// Max in divisions.
    pub n: f64,
    /// Tolerance at Max, in divisions.
    pub mpe_max: f64,
    /// Where the cells are, from the left and from the rear edge.
    pub cells: Vec<(f64, f64)>,
    /// The span weight of the last adjustment on record, in divisions.
    pub span: Option<f64>,
    /// Masses of the kit's pieces, in divisions.
    pub pieces: Vec<f64>,
    /// Predicted standard uncertainty at Max of that adjustment, in divisions.
    pub u_span: Option<f64>,
    /// Signal per division is below what the cells can tell, or there are more than ten thousand.
    pub too_fine: bool,
    /// Seconds from power-on to the first reading.
    pub on_s: Option<f64>,
    /// Internal counts by the cells' data.
    pub counts: Option<CountsExpected>,
    /// One of the last digit of the display, in divisions.
    pub digit: f64,
    /// Highest indication before the display goes blank, in divisions, by the book.
    pub shown_to: f64,
}

impl Facts {
    /// A scale of so many divisions with its tolerance at Max, of which nothing else is known; both in divisions.
    pub fn of(n: f64, mpe_max: f64) -> Self {
        Self {
            n,
            mpe_max,
            cells: Vec::new(),
            span: None,
            pieces: Vec::new(),
            u_span: None,
            too_fine: false,
            on_s: None,
            counts: None,
            digit: 1.0,
            shown_to: n + 9.0,
        }
    }

    /// The masses of the kit, each once, in divisions.
    pub(super) fn kinds(&self) -> Vec<f64> {
        let mut kinds = self.pieces.clone();
        kinds.sort_by(f64::total_cmp);
        kinds.dedup();
        kinds
    }
}

/// True where a division is finer than the cells can tell: the signal for one is too weak, or a trade scale has
/// more than ten thousand of them. Laboratory balances (classes I and II) are made for more. Source: OIML
/// R 76-1:2006, table 3.
pub fn too_fine(n: f64, class: Option<Class>, weak_signal: bool) -> bool {
    weak_signal || n > 10_000.0 && !matches!(class, Some(Class::I | Class::II))
}
