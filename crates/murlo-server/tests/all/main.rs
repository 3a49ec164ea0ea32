//! The API over a real store, in one program: each file of tests would be linked anew.

mod any_input;
mod api;
mod begun;
mod between_cleans;
mod buttons;
mod cupboard;
mod devices;
mod documented;
mod erase;
mod first_minute;
mod imports;
mod kit;
mod leaving;
mod letters;
mod members;
mod over_days;
mod pages;
mod rounds;
mod small_works;
mod ways;
mod week;
mod whole_clean;
