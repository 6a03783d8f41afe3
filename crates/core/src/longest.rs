//! Texts that stand on records.

/// Longest text of a field of a sheet, an instrument or a customer, in characters: it fits a line of paper.
pub const LONGEST_FIELD: usize = 120;
