//! Where a brewer's water is filled in, and how that is emptied and cleaned.

use crate::Brewer;

/// Where water is filled in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Tank {
    /// A reservoir that comes off and is washed at the sink.
    TakenOff,
    /// A reservoir that stays: it is tipped out over the sink and wiped.
    Fixed,
    /// An opening for a cup at a time.
    Opening,
}

impl Brewer {
    /// How its water is reached: by its loose parts, where a reservoir stands among them or not.
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::{Family, Part, Tank};
    /// let names = |family: Family| family.parts().iter().map(|p| p.name.clone()).collect::<Vec<_>>();
    /// assert!(names(Family::PodReservoir).contains(&"reservoir".to_owned()));
    /// // Many carafe brewers have one that does not come off.
    /// assert!(!names(Family::Drip).contains(&"reservoir".to_owned()));
    /// assert_ne!(Tank::TakenOff, Tank::Fixed);
    /// ```
    #[must_use]
    pub fn tank(&self) -> Tank {
        let is_reservoir = |name: &str| {
            let name = name.to_lowercase();
            (name.contains("reservoir") || name.contains("tank")) && !name.contains("lid")
        };
        match self.takes_a_cup_at_a_time() {
            true => Tank::Opening,
            false if self.parts().iter().any(|part| is_reservoir(&part.name)) => Tank::TakenOff,
            false => Tank::Fixed,
        }
    }
}
