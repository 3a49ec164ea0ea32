//! What may be typed of a water.

use crate::water::Chemistry;
use crate::water::reading::{Reading, Water, WaterDraft, Waters};
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};

impl WaterDraft {
    /// The water, under `id`; `others` are the household's, for a blend.
    ///
    /// # Errors
    /// One problem per wrong field: an empty or long name, a number outside its range, a blend of unknown parts.
    pub fn check(self, id: String, others: &Waters) -> Result<Water, Problems> {
        let mut problems = Problems::default();
        let name = problems.note(murlo_base::text::name("name", &self.name));
        let reading = self.reading.into_meant().map_err(|p| p.within("reading"));
        let water = Water {
            id,
            name: name.unwrap_or_default(),
            reading: problems.note(reading).unwrap_or(Reading::Unknown {}),
            price_a_litre: self.price_a_litre,
        };
        problems.note(water.check_contents(others));
        problems.or(Some(water))
    }
}

impl Water {
    /// Checks what a foreign file can break as well as a form.
    ///
    /// # Errors
    /// One problem per wrong name or number outside its range; a blend of itself, of another blend or of what is not there.
    pub fn check(&self, others: &Waters) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(murlo_base::text::name("name", &self.name));
        problems.note(self.check_contents(others));
        problems.or(Some(()))
    }

    /// For a blend: another blend that it is a part of.
    fn part_of<'a>(&self, others: &'a Waters) -> Option<&'a Self> {
        self.reading.parts().next()?;
        others
            .values()
            .find(|other| other.reading.parts().any(|part| part == self.id))
    }

    fn check_contents(&self, others: &Waters) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if self.reading.parts().any(|part| part == self.id) {
            problems.note::<(), _>(Err(Problem::new(
                Code::Contradiction,
                "reading.first_id",
                "a blend cannot be one of its own parts: choose two other waters",
            )));
        } else if let Some(whole) = self.part_of(others) {
            let message = format!(
                "this water is part of \"{}\", and a blend is made of unblended waters",
                whole.name
            );
            problems.note::<(), _>(Err(Problem::new(
                Code::Contradiction,
                "reading.by",
                message,
            )));
        } else {
            problems.note(Chemistry::of(&self.reading, others).map_err(|p| p.within("reading")));
        }
        if let Some(price) = self.price_a_litre {
            problems.note(bounds::PRICE.check("price_a_litre", price));
        }
        problems.or(Some(()))
    }
}
