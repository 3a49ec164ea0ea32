//! What carries requests from a kitchen's devices: connections with their limits and time-outs, TLS under an authority of the
//! household's own, its name announced on the network. Knows addresses, certificates and sockets; nothing of brewers.
#![deny(missing_docs)]

mod announced;
mod authority;
mod certificates;
mod connections;
mod places;

pub use announced::{Announced, addresses};
pub use authority::{Authority, NAME};
pub use certificates::Certificates;
pub use connections::{Arrived, serve};
pub use places::{ConnectionPlaces, network};
