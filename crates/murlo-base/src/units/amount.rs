//! Amounts of an agent: by volume or by mass, which are never taken for each other.

use serde::{Deserialize, Serialize};
use std::cmp::Ordering;

/// So much of an agent.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Amount {
    /// Millilitres of a liquid.
    Ml(f64),
    /// Grams of a powder or of tablets.
    G(f64),
}

impl Amount {
    /// Its number, in its own unit: mL or g.
    #[must_use]
    pub const fn number(self) -> f64 {
        match self {
            Self::Ml(number) | Self::G(number) => number,
        }
    }

    /// So many times as much.
    ///
    /// # Example
    /// ```
    /// use murlo_base::units::Amount;
    /// assert_eq!(Amount::G(12.0).times(2.0), Amount::G(24.0));
    /// ```
    #[must_use]
    pub fn times(self, n: f64) -> Self {
        match self {
            Self::Ml(ml) => Self::Ml(ml * n),
            Self::G(g) => Self::G(g * n),
        }
    }

    /// Both together; nothing where one is a volume and the other a mass.
    ///
    /// # Example
    /// ```
    /// use murlo_base::units::Amount;
    /// assert_eq!(Amount::Ml(355.0).with(Amount::Ml(710.0)), Some(Amount::Ml(1065.0)));
    /// assert_eq!(Amount::Ml(355.0).with(Amount::G(25.0)), None);
    /// ```
    #[must_use]
    pub fn with(self, other: Self) -> Option<Self> {
        match (self, other) {
            (Self::Ml(a), Self::Ml(b)) => Some(Self::Ml(a + b)),
            (Self::G(a), Self::G(b)) => Some(Self::G(a + b)),
            (Self::Ml(_), Self::G(_)) | (Self::G(_), Self::Ml(_)) => None,
        }
    }

    /// Its unit: "mL", "g".
    #[must_use]
    pub const fn unit(self) -> &'static str {
        match self {
            Self::Ml(_) => "mL",
            Self::G(_) => "g",
        }
    }
}

/// A volume and a mass are neither more nor less than each other.
impl PartialOrd for Amount {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        match (self, other) {
            (Self::Ml(a), Self::Ml(b)) | (Self::G(a), Self::G(b)) => a.partial_cmp(b),
            (Self::Ml(_), Self::G(_)) | (Self::G(_), Self::Ml(_)) => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_volume_and_a_mass_are_never_compared_or_summed() {
        for (one, other, order) in [
            (Amount::Ml(1.0), Amount::Ml(2.0), Some(Ordering::Less)),
            (Amount::G(2.0), Amount::G(2.0), Some(Ordering::Equal)),
            (Amount::G(1.0), Amount::Ml(2.0), None),
            (Amount::Ml(1.0), Amount::G(2.0), None),
        ] {
            assert_eq!(one.partial_cmp(&other), order);
            assert_eq!(one.with(other).is_some(), order.is_some());
        }
        assert_eq!((Amount::Ml(3.0).unit(), Amount::G(3.0).unit()), ("mL", "g"));
        assert_eq!(
            (Amount::Ml(3.0).number(), Amount::G(4.0).times(0.5).number()),
            (3.0, 2.0)
        );
    }
}
