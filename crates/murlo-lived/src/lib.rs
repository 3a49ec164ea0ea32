//! A world that knows better: true brewers and people who do what the product says over HTTP, now and then wrongly, and what it
//! says held to the truth after every act.
//!
//! The simulated brewer proves plans with the facts they were made from; here the brewer is otherwise than was told, the person
//! miscounts, walks off and comes back, the other phone presses too. `docs/lived.md` has the table of what may differ. Seeds are
//! arguments. It may use everything that ships; nothing that ships may use it.
#![deny(missing_docs)]

mod already;
mod chalked;
mod chance;
mod cleaner;
mod homes;
mod kept;
mod line;
mod pouring;
mod world;

pub use chalked::{Chalked, ShownWindow};
pub use cleaner::{Cleaner, LivedRound};
pub use world::{Lived, World};
