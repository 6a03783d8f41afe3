//! The scale: its sheet, the list of its inspection, what its plate and cells allow, its signal.

mod form;
mod inspection_list;
mod setup;
mod sheet;
mod signal_bar;
mod stage;
mod wiring;

pub use form::SheetForm;
pub use inspection_list::{Caution, CheckItem, CheckWords, cautions_for, check_label, checklist, inspection};
pub use setup::{
    Alternative, Cells, Check, Finding, Indicator, Plate, SetupInputs, alternatives, decimals_text, judge,
    overall,
};
pub use sheet::{Build, FineRange, HouseTests, ProfileRef, ScaleKind, ScaleSheet, StaysOn};
pub use signal_bar::{SignalBar, SignalMark, signal_bar};
pub use stage::Stage;
pub use wiring::{WIRE_COLOURS, WIRES, Wire, wiring_says};
