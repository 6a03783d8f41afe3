//! A workshop's tables come in: text or a spreadsheet as cells, columns mapped by a person, every wrong row
//! told, and nothing taken where anything is wrong. Source: RFC 4180 for text.

mod customers;
mod grid;
mod results;
mod scales;
mod weights;

pub use customers::{CUSTOMER_COLUMNS, customer_row, read_customers};
pub use grid::{Grid, Looked, MOST_ROWS, Mapping, Row, RowError, Taken, defused, read_rows, write_rows};
pub use results::{EarlierResult, RESULT_COLUMNS, read_results};
pub use scales::{SCALE_COLUMNS, ScaleDefaults, read_scales, scale_row};
pub use weights::{PIECE_COLUMNS, piece_row, read_pieces};
