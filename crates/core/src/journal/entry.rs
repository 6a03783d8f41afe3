//! The entries of a journal. They are written once; a correction is a new entry that strikes one
//! out.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::conditions::Needs;
use super::entries::{self, Kind, Stamp};
use super::state::JobState;
use super::values::Signer;
use crate::wording::Text;

/// One entry of a journal.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Entry {
    /// Identity, made by the client (UUID v7), so that sending twice is harmless.
    pub id: Uuid,
    /// Place in the journal, from 1.
    pub seq: u32,
    /// When it was made.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who made it.
    pub by: Signer,
    /// What it says.
    pub body: Body,
}

/// An entry with its place in the hash chain.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Sealed {
    /// The entry.
    #[serde(flatten)]
    pub entry: Entry,
    /// Hash of the entry before, or of the job's identity for the first.
    pub prev: String,
    /// Hash over this entry and `prev`.
    pub hash: String,
}

/// Every kind of entry. A new one is a line here, a file in `entries` (what is stored, what it does to the state,
/// how the journal tells it) and one in `job::kinds` (what a page sends, what must hold).
macro_rules! every_kind {
    ($with:ident) => {
        $with! {
            Started,
            LookedOver,
            FaultSettled,
            ToleranceChosen,
            Read,
            NoFigureRead,
            SetupFound,
            Discriminated,
            DecisionChosen,
            #[serde(rename = "school_chosen")]
            SpanWeightRuleChosen,
            CountersRead,
            LeftAlone,
            SetUp,
            ZeroCaptured,
            SpanChosen,
            SpanCaptured,
            PointCaptured,
            ZeroSaved,
            FactorSet,
            InternalMatched,
            SelfAdjusted,
            AdjustmentSaved,
            AdjustmentAbandoned,
            SealedUp,
            Remarked,
            ConditionsRead,
            Attached,
            CustomerSigned,
            SheetCorrected,
            StoppedShort,
            StruckOut,
            Closed,
            SentBack,
            Approved,
            Amended,
        }
    };
}
pub(crate) use every_kind;

macro_rules! body {
    ($($(#[$stored:meta])? $kind:ident,)*) => {
        /// What an entry says.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
        #[serde(tag = "kind", rename_all = "snake_case")]
        pub enum Body {
            $(
                $(#[$stored])?
                #[doc = concat!("See [`entries::", stringify!($kind), "`].")]
                $kind(entries::$kind),
            )*
        }

        $(
            impl From<entries::$kind> for Body {
                fn from(kind: entries::$kind) -> Self {
                    Self::$kind(kind)
                }
            }
        )*

        impl Body {
            fn kind(&self) -> &dyn Kind {
                match self {
                    $(Self::$kind(kind) => kind,)*
                }
            }
        }
    };
}
every_kind!(body);

impl Body {
    /// In a sentence, for the journal's list and the record.
    pub fn says(&self, state: &JobState) -> Text {
        self.kind().says(state)
    }

    /// Who may make this entry.
    pub fn needs(&self) -> Needs {
        self.kind().needs()
    }

    /// The pad that it is about; 0: all of them.
    pub(crate) fn pad(&self) -> u8 {
        self.kind().pad()
    }

    /// How late it is among the steps of an adjustment; none where it is none of them.
    pub(crate) fn rank(&self) -> Option<u8> {
        self.kind().rank()
    }
}

impl Entry {
    /// Takes effect on the state of the job that it is an entry of.
    pub(super) fn take_effect(&self, state: &mut JobState) {
        let kind = self.body.kind();
        // What a customer signed is the work as it stood: more work takes the signature off.
        if kind.is_work() {
            state.customer = None;
        }
        kind.take_effect(&Stamp { id: self.id, at: self.at, by: &self.by }, state);
    }
}
