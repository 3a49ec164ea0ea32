//! A brewer as it is known: circuits with their water path, its filter, what it may have, and what holds for it.

use crate::beforehand::Beforehand;
use crate::family::{Family, Outlet};
use crate::habit::Habit;
use crate::job::Cadence;
use crate::mechanics::Mechanics;
use crate::needles::Needle;
use crate::operation::{Operation, Part, Places, ReaderWindow};
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_chemistry::carbonate::Heat;
use murlo_chemistry::cleaning::{Heats, Path};
use murlo_chemistry::heater::{Heater, Way};
use murlo_chemistry::washout::Washout;
use serde::{Deserialize, Serialize};

/// A heater with its water path; scale, cleaning history and rinse state belong to it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Circuit {
    /// Identity within the brewer.
    pub id: String,
    /// Where its water comes out.
    pub outlet: Outlet,
    /// How it heats.
    pub heater: Heater,
    /// Water that stays behind in heater and tubes, mL.
    pub hold_up_ml: f64,
    /// One dispense at its largest setting; a full carafe for grounds, mL.
    pub dispense_ml: f64,
    /// Water the level sensor leaves in the reservoir, mL.
    pub dead_volume_ml: f64,
    /// Wetted area, cm².
    pub area_cm2: f64,
    /// Crust at which the brewer suffers, µm.
    pub limit_um: f64,
    /// Share of the scale potential that sticks.
    pub plating: f64,
    /// Spread of its logarithm.
    pub plating_sigma: f64,
    /// Temperature of the water in it, °C, when it differs from what is usual for its heater.
    #[serde(default)]
    pub temp_c: Option<f64>,
    /// Share of the brewer's cups that run through this circuit.
    #[serde(default = "whole")]
    pub share: f64,
    /// How rinse water washes it out, when it differs from what is usual for its heater.
    #[serde(default)]
    pub washout: Option<Washout>,
    /// Its own reservoir to the top mark, mL, when it does not share the brewer's.
    #[serde(default)]
    pub reservoir_ml: Option<f64>,
    /// Its button recipe.
    #[serde(default)]
    pub operation: Operation,
    /// What it does by itself.
    #[serde(default)]
    pub mechanics: Mechanics,
}

const fn whole() -> f64 {
    1.0
}

/// One circuit of a household: which brewer's, and which of its circuits.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct CircuitKey {
    /// The brewer.
    pub brewer_id: String,
    /// The circuit, among those of its brewer.
    pub circuit_id: String,
}

impl CircuitKey {
    /// The circuit of that id on that brewer.
    #[must_use]
    pub fn new(brewer_id: &str, circuit_id: &str) -> Self {
        Self {
            brewer_id: brewer_id.to_owned(),
            circuit_id: circuit_id.to_owned(),
        }
    }
}

impl Brewer {
    /// The key of one of its circuits.
    #[must_use]
    pub fn key_of(&self, circuit: &Circuit) -> CircuitKey {
        CircuitKey::new(&self.id, &circuit.id)
    }
}

impl Circuit {
    /// How rinse water washes it out.
    #[must_use]
    pub fn washout(&self) -> Washout {
        self.washout.unwrap_or_else(|| self.heater.washout())
    }

    /// How hot its water gets, and what stays dissolved in it.
    #[must_use]
    pub fn heat(&self) -> Heat {
        let usual = self.heater.defaults().heat;
        Heat {
            temp_c: self.temp_c.unwrap_or(usual.temp_c),
            ..usual
        }
    }

    /// The path that a bath takes through it.
    #[must_use]
    pub fn path(&self, brewer: &Brewer) -> Path {
        Path {
            heats: Heats {
                heater: self.heater,
                heater_c: self.heat().temp_c,
                brew_min: brewer.brew_minutes,
            },
            hold_ml: self.hold_up_ml,
        }
    }

    /// Chalk at which the brewer suffers, mg.
    #[must_use]
    pub fn limit_mg(&self) -> f64 {
        murlo_chemistry::film_mg(self.limit_um, self.area_cm2)
    }

    /// "pod side", "carafe side".
    #[must_use]
    pub const fn name(&self) -> &'static str {
        match self.outlet {
            Outlet::Pod => "pod side",
            Outlet::Capsule => "capsule side",
            Outlet::Grounds => "carafe side",
        }
    }
}

/// A water filter in the reservoir, with what it does to hardness and how long it lasts.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Filter {
    /// Share of carbonate hardness a fresh one takes out; plain charcoal takes out none.
    pub takes_out: f64,
    /// Days it lasts.
    pub days: f64,
    /// Reservoir fills it lasts.
    pub fills: f64,
    /// What a new one costs.
    pub price: Option<f64>,
}

impl Filter {
    /// Plain charcoal for 60 days or 60 fills.
    pub const CHARCOAL: Self = Self {
        takes_out: 0.0,
        days: 60.0,
        fills: 60.0,
        price: None,
    };

    /// Days it lasts in `brewer`, by days or by fills at today's habit, whichever is sooner.
    #[must_use]
    pub fn life_days(&self, brewer: &Brewer) -> f64 {
        let fills_a_day = brewer.habit().mean_litres() * 1000.0 / brewer.reservoir_ml;
        if fills_a_day > 0.0 {
            self.days.min(self.fills / fills_a_day)
        } else {
            self.days
        }
    }

    /// Share of carbonate hardness it takes out at `age` of its life (0 new, 1 over): falls evenly to nothing.
    #[must_use]
    pub fn share_at(&self, age: f64) -> f64 {
        self.takes_out * (1.0 - age).max(0.0)
    }

    /// "takes out 50 % of the carbonate hardness when new, falling evenly to nothing at the end of its life".
    #[must_use]
    pub fn effect_text(&self) -> String {
        if self.takes_out > 0.0 {
            format!(
                "takes out {:.0} % of the carbonate hardness when new, falling evenly to nothing at the end of its life",
                100.0 * self.takes_out
            )
        } else {
            "takes out taste, but no hardness".to_owned()
        }
    }

    fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(bounds::SHARE.check("filter.takes_out", self.takes_out));
        problems.note(bounds::EVERY_DAYS.check("filter.days", self.days));
        problems.note(bounds::EVERY_BREWS.check("filter.fills", self.fills));
        problems.note(
            self.price
                .map_or(Ok(0.0), |p| bounds::PRICE.check("filter.price", p)),
        );
        problems.or(Some(()))
    }
}

/// What a brewer's descaling goes by; the earliest wins, and half a year is always the end.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Policy {
    /// Computed chalk.
    pub chalk: bool,
    /// The brewer's own light.
    pub light: bool,
    /// A number of days.
    pub days: Option<u32>,
    /// A number of brews.
    pub brews: Option<u32>,
}

impl Default for Policy {
    fn default() -> Self {
        Self {
            chalk: true,
            light: false,
            days: None,
            brews: None,
        }
    }
}

impl Policy {
    /// "computed chalk or 90 days, whichever is first".
    #[must_use]
    pub fn words(&self) -> String {
        let mut parts = Vec::new();
        if self.chalk {
            parts.push("computed chalk".to_owned());
        }
        if self.light {
            parts.push("the brewer's light".to_owned());
        }
        parts.extend(self.days.map(|d| text::count(d, "day", "days")));
        parts.extend(self.brews.map(|b| text::count(b, "brew", "brews")));
        match parts.len() {
            0 => "half a year".to_owned(),
            1 => parts.remove(0),
            _ => format!("{}, whichever is first", parts.join(" or ")),
        }
    }

    pub(crate) fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(self.days.map_or(Ok(0.0), |d| {
            bounds::EVERY_DAYS.check("policy.days", f64::from(d))
        }));
        problems.note(self.brews.map_or(Ok(0.0), |b| {
            bounds::EVERY_BREWS.check("policy.brews", f64::from(b))
        }));
        problems.or(Some(()))
    }
}

/// A value that holds from a day on, until the next one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Since<T> {
    /// First day.
    pub from: Date,
    /// What holds.
    pub value: T,
}

/// The carafe and its marks, which are not measuring cups.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Carafe {
    /// How many marks it has.
    pub marks: f64,
    /// mL from one mark to the next.
    pub mark_ml: f64,
}

/// Above its top mark a carafe has room for so much more, as a share of what it is marked for. Judged.
const BRIM: f64 = 0.15;

impl Carafe {
    /// What it is marked for, mL.
    #[must_use]
    pub fn marked_ml(&self) -> f64 {
        self.marks * self.mark_ml
    }

    /// What it holds before it runs over, mL.
    #[must_use]
    pub fn brim_ml(&self) -> f64 {
        self.marked_ml() * (1.0 + BRIM)
    }
}

/// A brewer and its facts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Brewer {
    /// Identity.
    pub id: String,
    /// The home it stands in.
    pub home_id: String,
    /// What people call it.
    pub nickname: String,
    /// Its kind.
    pub family: Family,
    /// Reservoir to its top mark, mL.
    pub reservoir_ml: f64,
    /// Its carafe, if it has one.
    pub carafe: Option<Carafe>,
    /// One line of the reservoir, mL, when it has evenly spaced ones.
    #[serde(default)]
    pub reservoir_line_ml: Option<f64>,
    /// The water filter in the reservoir, if there is one.
    pub filter: Option<Filter>,
    /// Whether it has a cleaning programme of its own.
    pub self_clean: bool,
    /// Minutes of a normal full brew (drip), the yardstick for its programme.
    pub brew_minutes: Option<f64>,
    /// What its descaling goes by.
    #[serde(default)]
    pub policy: Policy,
    /// Whether its descaling light only counts water.
    #[serde(default)]
    pub light_counts: bool,
    /// Agents its maker forbids.
    #[serde(default)]
    pub forbids: Vec<String>,
    /// First day of use, as far as known.
    pub in_use_since: Date,
    /// Last descaling before Murlo kept count.
    pub last_descaled: Option<Date>,
    /// What is told of the time before `in_use_since`, when that is only the first day that Murlo knows.
    #[serde(default)]
    pub beforehand: Option<Beforehand>,
    /// The waters it was filled with, oldest first; never empty.
    pub waters: Vec<Since<String>>,
    /// What was brewed with it, oldest first; never empty.
    pub habits: Vec<Since<Habit>>,
    /// Its circuits; never empty.
    pub circuits: Vec<Circuit>,
    /// Its needles; those usual for its family while nobody has looked.
    #[serde(default)]
    pub needles: Option<Vec<Needle>>,
    /// Its loose parts; those usual for its family while nobody has looked.
    #[serde(default)]
    pub parts: Option<Vec<Part>>,
    /// Where guide, disc and adapter are kept.
    #[serde(default)]
    pub places: Places,
    /// How the reader window of a coded-capsule brewer lies.
    #[serde(default)]
    pub reader: Option<ReaderWindow>,
    /// Whether its hot-water outlet is used, which then gets its own pass.
    #[serde(default)]
    pub hot_water: bool,
    /// How often its small works are done, where that differs from what is usual.
    #[serde(default)]
    pub cadences: Vec<Cadence>,
}

impl Brewer {
    /// Whether something can have been done to it on `day`: its first known day is only the first day of use where no more is
    /// told of the time before.
    #[must_use]
    pub fn may_know_of(&self, day: Date) -> bool {
        day >= self.in_use_since || (self.beforehand.is_some() && self.last_descaled.is_none())
    }

    /// Its needles.
    #[must_use]
    pub fn needles(&self) -> Vec<Needle> {
        self.needles
            .clone()
            .unwrap_or_else(|| Needle::usual(self.family))
    }

    /// Its loose parts.
    #[must_use]
    pub fn parts(&self) -> Vec<Part> {
        self.parts.clone().unwrap_or_else(|| self.family.parts())
    }

    /// How a bath is run through `circuit`.
    #[must_use]
    pub fn way(&self, circuit: &Circuit) -> Way {
        // The pod side of a combination is pressed cup by cup, unless it is known to run by itself.
        let usual = self.self_clean && !(self.carafe.is_some() && circuit.outlet == Outlet::Pod);
        match (self.family, circuit.outlet) {
            _ if circuit.mechanics.programme.unwrap_or(usual) => Way::Programme,
            (Family::OneCupPod, _) => Way::CupAtATime,
            (_, Outlet::Grounds) => Way::Halves,
            _ => Way::Presses,
        }
    }

    /// Whether `circuit` has a cleaning mode that is pressed cup by cup: as told, else when somebody has written down how
    /// it is entered.
    #[must_use]
    pub fn has_mode(&self, circuit: &Circuit) -> bool {
        let written = self.family == Family::PodReservoir && !circuit.operation.enter.is_empty();
        circuit.mechanics.mode.unwrap_or(written)
    }

    /// Whether `circuit` has a hot-water outlet that is used; of a combination, its pod side.
    #[must_use]
    pub fn has_hot_water(&self, circuit: &Circuit) -> bool {
        self.hot_water
            && !self.takes_a_cup_at_a_time()
            && (self.circuits.len() == 1 || circuit.outlet != Outlet::Grounds)
    }

    /// Whether it reads a code, and so lets nothing through without a disc or a capsule.
    #[must_use]
    pub fn is_coded(&self) -> bool {
        self.family == Family::CodedCapsule
    }

    /// Whether a cup of water is poured in for each cup that comes.
    #[must_use]
    pub fn takes_a_cup_at_a_time(&self) -> bool {
        self.family == Family::OneCupPod
    }

    /// The reservoir that feeds `circuit`, mL: never more than its carafe holds, whatever was typed before that was asked.
    #[must_use]
    pub fn reservoir_of(&self, circuit: &Circuit) -> f64 {
        let reservoir = circuit.reservoir_ml.unwrap_or(self.reservoir_ml);
        self.carafe_of(circuit)
            .map_or(reservoir, |carafe| reservoir.min(carafe.brim_ml()))
    }

    /// The carafe into which `circuit` runs, where it does.
    #[must_use]
    pub fn carafe_of(&self, circuit: &Circuit) -> Option<Carafe> {
        self.carafe.filter(|_| circuit.outlet == Outlet::Grounds)
    }

    /// Whether its circuits can be cleaned at the same time.
    #[must_use]
    pub fn has_own_reservoirs(&self) -> bool {
        self.circuits.iter().any(|c| c.reservoir_ml.is_some())
    }

    /// Whether a clean of `running` keeps one of `other` from starting.
    #[must_use]
    pub fn blocks(&self, running: &str, other: &str) -> bool {
        running == other || !self.has_own_reservoirs()
    }

    /// The circuit with this id.
    ///
    /// # Errors
    /// `UnknownId` naming those it has.
    pub fn circuit(&self, field: &str, id: &str) -> Result<&Circuit, Problem> {
        self.circuits.iter().find(|c| c.id == id).ok_or_else(|| {
            let known: Vec<_> = self.circuits.iter().map(|c| c.id.as_str()).collect();
            let message = format!(
                "this brewer has no side \"{id}\": give {}",
                known.join(" or ")
            );
            Problem::new(Code::UnknownId, field, message)
        })
    }
    /// The water it is filled with now.
    #[must_use]
    pub fn water_id(&self) -> &str {
        &self
            .waters
            .last()
            .expect("a brewer always has a water")
            .value
    }

    /// What is brewed with it now.
    #[must_use]
    pub fn habit(&self) -> Habit {
        self.habits
            .last()
            .expect("a brewer always has a habit")
            .value
    }

    /// Checks what a form cannot break but a foreign file can.
    ///
    /// # Errors
    /// One problem per field outside its range, empty list, or history out of order.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        problems.note(text::name("nickname", &self.nickname));
        problems.note(bounds::RESERVOIR.check("reservoir_ml", self.reservoir_ml));
        if let Some(carafe) = &self.carafe {
            problems.note(bounds::CARAFE_MARKS.check("carafe.marks", carafe.marks));
            problems.note(bounds::CARAFE_MARK.check("carafe.mark_ml", carafe.mark_ml));
        }
        problems.note(
            self.brew_minutes
                .map_or(Ok(0.0), |m| bounds::MINUTES.check("brew_minutes", m)),
        );
        if let Some(line) = self.reservoir_line_ml {
            problems.note(bounds::RESERVOIR_LINE.check("reservoir_line_ml", line));
        }
        if let Some(filter) = &self.filter {
            problems.note(filter.check());
        }
        problems.note(self.policy.check());
        for (field, days) in [
            (
                "waters",
                self.waters.iter().map(|s| s.from).collect::<Vec<_>>(),
            ),
            ("habits", self.habits.iter().map(|s| s.from).collect()),
        ] {
            if days.is_empty() || !days.is_sorted() {
                problems.0.push(Problem::new(
                    Code::WrongType,
                    field,
                    "give at least one entry, oldest first",
                ));
            }
        }
        for habit in &self.habits {
            problems.note(check_habit("habits", &habit.value));
        }
        if self.circuits.is_empty() {
            problems.0.push(Problem::new(
                Code::Missing,
                "circuits",
                "a brewer has at least one circuit",
            ));
        }
        for circuit in &self.circuits {
            let of = |name: &str| format!("circuits.{}.{name}", circuit.id);
            problems.note(bounds::HOLD_UP.check(&of("hold_up_ml"), circuit.hold_up_ml));
            problems.note(bounds::DISPENSE.check(&of("dispense_ml"), circuit.dispense_ml));
            problems.note(bounds::DEAD_VOLUME.check(&of("dead_volume_ml"), circuit.dead_volume_ml));
            problems.note(bounds::AREA.check(&of("area_cm2"), circuit.area_cm2));
            problems.note(bounds::CRUST.check(&of("limit_um"), circuit.limit_um));
            problems.note(
                circuit
                    .temp_c
                    .map_or(Ok(0.0), |t| bounds::HEATER.check(&of("temp_c"), t)),
            );
            problems.note(bounds::SOME.check(&of("plating"), circuit.plating));
            problems.note(bounds::SIGMA.check(&of("plating_sigma"), circuit.plating_sigma));
            problems.note(bounds::SHARE.check(&of("share"), circuit.share));
            let own = circuit.reservoir_ml.map_or(Ok(0.0), |ml| {
                bounds::RESERVOIR.check(&of("reservoir_ml"), ml)
            });
            problems.note(own);
            problems.note(circuit.operation.check(&of("operation")));
            problems.note(circuit.mechanics.check(&of("mechanics")));
        }
        problems.note(Needle::check_all(self.needles.as_deref().unwrap_or(&[])));
        problems.note(self.places.check());
        for (i, cadence) in self.cadences.iter().enumerate() {
            let checked = cadence.check(self);
            problems.note(checked.map_err(|p| p.within(&format!("cadences.{i}"))));
        }
        for (i, part) in self.parts.iter().flatten().enumerate() {
            problems.note(text::name(&format!("parts.{i}.name"), &part.name));
        }
        problems.or(Some(()))
    }
}

fn check_habit(field: &str, habit: &Habit) -> Result<(), Problems> {
    let mut problems = Problems::default();
    problems.note(bounds::CUPS.check(&format!("{field}.weekday_cups"), habit.weekday_cups));
    problems.note(bounds::CUPS.check(&format!("{field}.weekend_cups"), habit.weekend_cups));
    problems.note(bounds::CUP.check(&format!("{field}.cup_ml"), habit.cup_ml));
    problems.or(Some(()))
}
