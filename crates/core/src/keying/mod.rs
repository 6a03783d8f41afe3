//! Keying: an indicator's profile, the keying sheet made of it, the simulated indicator.

mod compare;
mod edit;
mod facts;
pub mod learn;
mod machine;
mod messages;
mod plan;
mod presses;
mod profile;
mod proof;
mod read;
mod sheet;

pub use compare::{Difference, FieldDiffers, Part, compare, with_parts};
pub use edit::{rewrite_profile, write_profile};
pub use facts::{FieldError, NumberField, ProfileFacts};
pub use machine::{Act, KeptValue, Machine, MachineView, Showing};
pub use messages::{Circumstances, MessageKind, MessageView, look_up};
pub use plan::{
    CAPTURED, CannotEnter, KeyingPlan, OperatingSettings, OperatingSettingsForm, PadPlan, RangeMode, Slot,
    Task, Values,
};
pub use presses::{DigitKeys, fewest_presses, naive_presses};
pub use profile::{
    Cycle, End, Group, Meaning, Menu, MenuStyle, Message, MessageMeaning, Node, NumberEntry, OptionValue,
    PROFILE_FORMAT, PROFILE_VERSION, Parameter, Profile, Save, SaveHow, Starts, WIDEST, WayIn,
};
pub use proof::Proof;
pub use read::{LONGEST_PROFILE, ProfileProblem, read_profile};
pub use sheet::{KeyMove, KeyPhase, KeyStep, KeyingSheet, Press, keying_sheet};
