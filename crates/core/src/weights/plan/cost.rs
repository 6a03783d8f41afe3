//! What is compared between plans: how many of each mass, and what moving them costs.

/// How many of each mass are on.
pub(crate) type Counts = Vec<u16>;

/// Work, moves: compared in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Cost {
    pub work: i128,
    pub moves: u32,
}
