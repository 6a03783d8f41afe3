//! All tests of the server, in one program: the server and what it stands on are linked once.

#![allow(
    clippy::unwrap_used,
    clippy::expect_used,
    clippy::float_cmp,
    clippy::type_complexity,
    reason = "what cannot be had fails a test and says where; figures of a test are small and meant"
)]

mod api;
mod archive;
mod backup;
mod beside;
mod coming_home;
mod customers;
mod documents;
mod doors;
mod factors;
mod figures;
mod golden;
mod history;
mod house;
mod instances;
mod intake;
mod judgement;
mod kit;
mod lessons;
mod licences;
mod link;
mod listed;
mod live;
mod mail;
mod owners;
mod people;
mod practice;
mod profiles;
mod records;
mod rooms;
mod same_core;
mod serving;
mod ways;
mod words;
