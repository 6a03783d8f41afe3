//! Connected indicators: one reader for each scale that somebody looks at, lines in, readings out.
//! Nothing here knows whether an indicator is simulated.

/// Where the page looks for the link program, on its own machine.
pub const LINK_PORT: u16 = 7413;

mod benches;
mod device;
mod operator;
mod others;
mod reader;

pub use benches::Benches;
pub use device::{Allowed, Device, DeviceError, SerialPort};
pub use operator::{OperatorError, answer_text, operate};
pub use others::{Nobody, Others};
pub use reader::{Readers, Signal};
