//! Names of the answers; the running clean judges by them.

/// Question: does anybody notice acid?
pub const SMELL: &str = "smell";
/// Question: is the water as clear as the reference?
pub const CLEAR: &str = "clear";
/// Question: does a light still ask for descaling?
pub const LIGHT: &str = "light";
/// Question: how was it smelled? A nose that hangs over acid tires.
pub const NOSE: &str = "nose";
/// After some minutes in fresh air.
pub const FRESH: &str = "fresh";
/// With a glass of plain water beside it.
pub const BESIDE: &str = "beside";
/// By somebody who was not there before.
pub const SECOND: &str = "second";
/// Just now, where the bath ran.
pub const TIRED: &str = "tired";
/// Question: do chips still come?
pub const FLAKES: &str = "flakes";
/// Question: is the cup as hot as it should be?
pub const HEAT: &str = "heat";
/// Question: does it rattle?
pub const SOUND: &str = "sound";
/// Question: what did the bath bring out? It teaches how fast chalk grows; the verdict does not depend on it.
pub const SHOWED: &str = "showed";
/// A lot of chalk came out, as from a brewer that suffered from it.
pub const CHALK: &str = "chalk";
/// A little came out, which tells nothing about how fast it grew.
pub const SOME: &str = "some";
/// Nothing came out.
pub const NOTHING: &str = "nothing";
/// Nobody looked.
pub const UNSEEN: &str = "unseen";
/// The good answer to each other question.
pub const GOOD: &str = "good";
/// The answer that asks for more work.
pub const BAD: &str = "bad";
