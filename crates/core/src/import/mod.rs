//! Tables that a workshop brings: customers, scales, weights and earlier results, row by row.

mod customers;
mod results;
mod scales;
mod table;
mod weights;

pub use customers::{CUSTOMER_COLUMNS, customer_row, read_customers};
pub use results::{EarlierResult, RESULT_COLUMNS, read_results};
pub use scales::{SCALE_COLUMNS, ScaleDefaults, read_scales, scale_row};
pub use table::{Grid, Looked, MOST_ROWS, Mapping, Row, RowError, Taken, defused, read_rows, write_rows};
pub use weights::{PIECE_COLUMNS, piece_row, read_pieces};
