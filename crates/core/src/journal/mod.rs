//! A job is a journal: its entries, the chain that seals them, the file they travel in, and the state that they
//! fold into.

mod attachment;
mod cells;
mod chain;
mod conditions;
mod digits;
pub mod entries;
mod entry;
mod fold;
mod heard;
mod outcome;
mod phase;
mod positions;
mod progress;
mod rests;
mod review;
mod signature;
mod state;
mod used_piece;
mod values;

pub(crate) use attachment::check_signature;
pub use attachment::{AttachedFile, CustomerSignature, MEDIA, MOST_FILE_BYTES, SIGNED_ON, media_of};
pub(crate) use cells::{alike, says, typed};
pub(crate) use chain::verify;
pub use chain::{ChainError, genesis, hex_of_bytes, seal};
pub use conditions::{Conditions, Needs, Particulars, Remark, Review};
pub(crate) use digits::{keyed_in, max_digits, span_digits};
pub(crate) use entry::every_kind;
pub use entry::{Body, Entry, Sealed};
pub use fold::fold;
pub use heard::{Heard, Observation, Silence};
pub use outcome::Outcome;
pub use phase::Phase;
pub(crate) use phase::{outline, readings_of, setup_for};
pub(crate) use positions::{Position, cells, position, positions, supports};
pub(crate) use progress::{open_faults, proof_readings, provable, unseen};
pub(crate) use rests::{most_points, rests_on};
pub use review::four_eyes;
pub use signature::{RecordSignature, SignatureError, Statement, bytes_of_hex, signed_by};
pub use state::{
    Adjusted, CapturedPoint, CheckState, Discrimination, How, JobState, NoFigureReading, PadState, Reading,
    SetupOrigin,
};
pub use used_piece::UsedPiece;
pub use values::{
    Before, Capture, CheckFinding, Counters, Direction, FIRST_PAD, NoFigure, PadBefore, Purpose, ReadStage,
    Settlement, Setup, Signer, SpanOnRecord, TOGETHER, Taken,
};
