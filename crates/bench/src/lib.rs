//! A simulated scale: a platform on load cells, a converter, an indicator with its keys. It speaks
//! the line format over TCP like any indicator; a second port takes the technician's hands (put
//! weights on, take them off, press keys). Floating point throughout: this is the physical world.

mod answer;
mod cells;
mod indicator;
mod menu;
mod operator;
mod platform;
pub mod post;
mod scale;
mod serve;
pub mod third;

pub use answer::{Answer, Standing};
pub use cells::{Cell, CellSettings, shares};
pub use indicator::{Calibration, Indicator, Keeps, KeyRefusal, Manners, Panel};
pub use menu::Menu;
pub use operator::{Command, CommandError};
pub use platform::{Platform, PlatformSettings, Surroundings};
pub use scale::{Condition, InternalWeight, PadSettings, Scale, ScaleSettings, SettingsError};
pub use serve::{Bench, Ports};
