//! All tests that drive the browser, in one program: they share its start, and short ones fill the time that long
//! ones wait.

mod adjust;
mod archive;
mod beside;
mod by_hand;
mod check;
mod doors;
mod honest;
mod keyboard;
mod kinds;
mod languages;
mod live;
mod moves_in;
mod on_site;
mod people;
mod practice;
mod records;
mod review;
mod set_up;
mod stranger;
mod sweep;
mod teach;
mod troubles;
mod two_instances;
mod weights;
mod wrong;
