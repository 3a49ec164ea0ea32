//! A brewer as it is typed: a sheet whose every field is checked by what it means.

use crate::draft::side::{NeedleDraft, Side, SideDraft, Volumes, blank, untouched};
use crate::{
    Beforehand, Brewer, Carafe, Circuit, Family, Filter, Habit, Heating, Mechanics, Needle,
    Operation, Outlet, Part, Places, Policy, ReaderWindow, Since,
};
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{FL_OZ_ML, Units, parse_volume, trim};
use murlo_base::{bounds, text};
use murlo_chemistry::heater::Heater;
use murlo_chemistry::washout::Washout;
use serde::{Deserialize, Serialize};

/// A brewer as typed into a form: volumes are texts with units, read by the core.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BrewerDraft {
    /// What people call it.
    pub nickname: String,
    /// The home it stands in.
    pub home_id: String,
    /// Its kind.
    pub family: Family,
    /// The water it is filled with.
    pub water_id: String,
    /// Reservoir to its top mark: "48 fl oz", "11 marks".
    pub reservoir: String,
    /// The largest dispense of a pod or capsule brewer.
    pub dispense: Option<String>,
    /// Water that stays in heater and tubes.
    pub hold_up: String,
    /// Water the sensor leaves in the reservoir.
    pub dead_volume: String,
    /// Marks on the carafe of a drip brewer.
    pub carafe_marks: Option<f64>,
    /// Size of one carafe mark.
    pub carafe_mark: Option<String>,
    /// Minutes of a normal full brew of a drip brewer.
    pub brew_minutes: Option<f64>,
    /// One line of the reservoir, when it has evenly spaced ones.
    #[serde(default)]
    pub reservoir_line: Option<String>,
    /// Whether a water filter sits in the reservoir.
    pub filter: bool,
    /// Per cent of carbonate hardness a fresh filter takes out.
    #[serde(default)]
    pub filter_takes_out: f64,
    /// Days it lasts.
    #[serde(default = "usual_life")]
    pub filter_days: f64,
    /// Reservoir fills it lasts.
    #[serde(default = "usual_life")]
    pub filter_fills: f64,
    /// What a new one costs.
    #[serde(default)]
    pub filter_price: Option<f64>,
    /// How rinse water washes it out; by its heater unless said.
    #[serde(default)]
    pub washout: Option<Washout>,
    /// What its descaling goes by.
    #[serde(default)]
    pub policy: Policy,
    /// Whether its descaling light only counts water.
    #[serde(default)]
    pub light_counts: bool,
    /// Agents its maker forbids.
    #[serde(default)]
    pub forbids: Vec<String>,
    /// Whether it has a cleaning programme.
    pub self_clean: bool,
    /// Cups a day, Monday to Friday.
    pub weekday_cups: f64,
    /// Cups a day, Saturday and Sunday.
    pub weekend_cups: f64,
    /// One cup.
    pub cup: String,
    /// First day of use.
    pub in_use_since: Date,
    /// Last descaling, if its day is known.
    pub last_descaled: Option<Date>,
    /// What is told of the time before `in_use_since`, where that is no more than the first day that Murlo knows.
    #[serde(default)]
    pub beforehand: Option<Beforehand>,
    /// Its button recipe; of the carafe side for a combination.
    #[serde(default)]
    pub operation: Operation,
    /// What that side does by itself.
    #[serde(default)]
    pub mechanics: Mechanics,
    /// The pod side of a combination.
    #[serde(default)]
    pub other_side: Option<SideDraft>,
    /// Its needles; those usual for its family when absent.
    #[serde(default)]
    pub needles: Option<Vec<NeedleDraft>>,
    /// Its loose parts; those usual for its family when absent.
    #[serde(default)]
    pub parts: Option<Vec<Part>>,
    /// Where guide, disc and adapter are kept.
    #[serde(default)]
    pub places: Places,
    /// How the reader window of a coded-capsule brewer lies.
    #[serde(default)]
    pub reader: Option<ReaderWindow>,
    /// The figures by which chalk is reckoned in its first heater.
    #[serde(default)]
    pub heating: Heating,
    /// Whether its hot-water outlet is used.
    #[serde(default)]
    pub hot_water: bool,
}

pub(crate) const fn usual_life() -> f64 {
    Filter::CHARCOAL.days
}

impl BrewerDraft {
    /// Another brewer like this one, elsewhere: its figures, ritual and needles; not its name, its past or its places.
    #[must_use]
    pub fn another_like(brewer: &Brewer, units: Units, today: Date) -> Self {
        Self {
            nickname: String::new(),
            in_use_since: today,
            last_descaled: None,
            beforehand: Some(Beforehand::default()),
            places: Places::default(),
            ..Self::of(brewer, units)
        }
    }

    /// The form again for a brewer that exists.
    #[must_use]
    pub fn of(brewer: &Brewer, units: Units) -> Self {
        let circuit = &brewer.circuits[0];
        let habit = brewer.habit();
        let drip = circuit.outlet == Outlet::Grounds;
        let shown = |ml: f64| match units {
            Units::Us => format!("{} fl oz", trim(ml / FL_OZ_ML, 1)),
            Units::Metric => format!("{} mL", trim(ml, 1)),
        };
        // A reservoir is told in marks, so those are told as they are.
        let exact = |ml: f64| match units {
            Units::Us => format!("{} fl oz", trim(ml / FL_OZ_ML, 2)),
            Units::Metric => shown(ml),
        };
        let filter = brewer.filter.unwrap_or(Filter::CHARCOAL);
        let marks = brewer
            .carafe
            .map(|c| brewer.reservoir_ml / c.mark_ml)
            .filter(|m| (m - m.round()).abs() < 1e-6);
        Self {
            nickname: brewer.nickname.clone(),
            home_id: brewer.home_id.clone(),
            family: brewer.family,
            water_id: brewer.water_id().to_owned(),
            reservoir: marks
                .map_or_else(|| shown(brewer.reservoir_ml), |m| format!("{m:.0} marks")),
            dispense: (!drip).then(|| shown(circuit.dispense_ml)),
            hold_up: shown(circuit.hold_up_ml),
            dead_volume: shown(circuit.dead_volume_ml),
            carafe_marks: brewer.carafe.map(|c| c.marks),
            carafe_mark: brewer.carafe.map(|c| exact(c.mark_ml)),
            brew_minutes: brewer.brew_minutes,
            reservoir_line: brewer.reservoir_line_ml.map(shown),
            filter: brewer.filter.is_some(),
            filter_takes_out: 100.0 * filter.takes_out,
            filter_days: filter.days,
            filter_fills: filter.fills,
            filter_price: filter.price,
            washout: circuit.washout,
            policy: brewer.policy,
            light_counts: brewer.light_counts,
            forbids: brewer.forbids.clone(),
            self_clean: brewer.self_clean,
            weekday_cups: habit.weekday_cups,
            weekend_cups: habit.weekend_cups,
            cup: shown(habit.cup_ml),
            in_use_since: brewer.in_use_since,
            last_descaled: brewer.last_descaled,
            beforehand: brewer.beforehand,
            operation: circuit.operation.clone(),
            mechanics: circuit.mechanics.clone(),
            other_side: brewer.circuits.get(1).map(|side| SideDraft {
                heating: Heating::of(side),
                dispense: shown(side.dispense_ml),
                hold_up: shown(side.hold_up_ml),
                dead_volume: shown(side.dead_volume_ml),
                share: 100.0 * side.share,
                reservoir: side.reservoir_ml.map(shown),
                operation: side.operation.clone(),
                mechanics: side.mechanics.clone(),
            }),
            needles: brewer.needles.as_deref().map(NeedleDraft::all),
            parts: Some(brewer.parts()),
            places: brewer.places.clone(),
            reader: brewer.reader,
            heating: Heating::of(circuit),
            hot_water: brewer.hot_water,
        }
    }

    /// The brewer this form describes, under `id`. A changed water or habit holds from `today`; the past keeps its own.
    ///
    /// # Errors
    /// One problem per wrong field. Ids of home and water are only checked for shape here.
    pub fn check(
        &self,
        id: String,
        before: Option<&Brewer>,
        today: Date,
    ) -> Result<Brewer, Problems> {
        let mut problems = Problems::default();
        let nickname = problems.note(text::name("nickname", &self.nickname));
        problems.note(text::id("home_id", &self.home_id));
        problems.note(text::id("water_id", &self.water_id));
        let volumes = problems.note(self.volumes(before));
        let habit = problems.note(self.habit(volumes.as_ref()));
        let reservoir_ml = volumes.as_ref().map(|v| v.reservoir_ml);
        let other = problems.note(self.other(reservoir_ml, before)).flatten();
        let operation = problems.note(self.operation.check("operation"));
        problems.note(self.mechanics.check("mechanics"));
        let heating = problems.note(self.heating.check("heating"));
        let places = problems.note(self.places.check());
        let needles = problems.note(self.read_needles()).flatten();
        for (i, part) in self.parts.iter().flatten().enumerate() {
            problems.note(text::name(&format!("parts.{i}.name"), &part.name));
        }
        let filter = problems.note(self.filter()).flatten();
        problems.note(self.policy.check());
        for id in &self.forbids {
            problems.note(text::id("forbids", id));
        }
        problems.note(
            self.brew_minutes
                .map_or(Ok(0.0), |m| bounds::MINUTES.check("brew_minutes", m)),
        );
        problems.note(self.days(today));
        let checked = (|| {
            let (nickname, volumes, habit) = (nickname?, volumes?, habit?);
            let circuits = self.circuits(&volumes, other, heating?, operation?, before);
            let waters = before.map(|b| b.waters.as_slice());
            let habits = before.map(|b| b.habits.as_slice());
            Some(Brewer {
                id,
                home_id: self.home_id.clone(),
                nickname,
                family: self.family,
                reservoir_ml: volumes.reservoir_ml,
                carafe: volumes.carafe,
                reservoir_line_ml: volumes.line_ml,
                filter,
                policy: self.policy,
                light_counts: self.light_counts,
                forbids: self.forbids.clone(),
                self_clean: self.self_clean,
                brew_minutes: self.brew_minutes,
                in_use_since: self.in_use_since,
                last_descaled: self.last_descaled,
                beforehand: self.beforehand,
                waters: carry_on(waters, self.water_id.clone(), self.in_use_since, today),
                habits: carry_on(habits, habit, self.in_use_since, today),
                circuits,
                needles,
                parts: self.parts.clone(),
                places: places?,
                reader: self.reader,
                hot_water: self.hot_water,
                cadences: Vec::new(),
            })
        })();
        let checked = checked.map(|brewer| brewer.with_cadences_of(before));
        problems.or(checked)
    }

    fn volumes(&self, before: Option<&Brewer>) -> Result<Volumes, Problems> {
        let mut problems = Problems::default();
        let drip = self.family.has_carafe();
        let carafe = drip.then(|| problems.note(self.carafe())).flatten();
        let mark_ml = carafe.map(|c| c.mark_ml);
        let was = before.map(|b| (b, &b.circuits[0]));
        let mut read = |field, typed: &str, bound, mark, was: Option<f64>| {
            let now = problems.note(parse_volume(field, typed, bound, mark));
            now.map(|now| untouched(now, was))
        };
        let reservoir = read(
            "reservoir",
            &self.reservoir,
            &bounds::RESERVOIR,
            mark_ml,
            was.map(|(b, _)| b.reservoir_ml).filter(|_| !drip),
        );
        let hold_up = read(
            "hold_up",
            &self.hold_up,
            &bounds::HOLD_UP,
            mark_ml,
            was.map(|(_, c)| c.hold_up_ml),
        );
        let dead = read(
            "dead_volume",
            &self.dead_volume,
            &bounds::DEAD_VOLUME,
            mark_ml,
            was.map(|(_, c)| c.dead_volume_ml),
        );
        let dispense = if drip {
            reservoir
        } else {
            let typed = self.dispense.as_deref().unwrap_or_default();
            let was = was.map(|(_, c)| c.dispense_ml);
            read("dispense", typed, &bounds::DISPENSE, None, was)
        };
        let was_cup = was.map(|(b, _)| b.habit().cup_ml);
        let cup = read("cup", &self.cup, &bounds::CUP, mark_ml, was_cup);
        let line = match self.reservoir_line.as_deref().map(str::trim) {
            None | Some("") => None,
            Some(typed) => {
                let was = was.and_then(|(b, _)| b.reservoir_line_ml);
                let bound = &bounds::RESERVOIR_LINE;
                read("reservoir_line", typed, bound, mark_ml, was)
            }
        };
        if let (Some(reservoir), Some(dispense), Some(dead)) = (reservoir, dispense, dead)
            && dispense + dead > reservoir * 1.000_001
            && !drip
        {
            let most = Units::Metric.volume(reservoir - dead);
            problems.0.push(Problem::new(
                Code::TooMuch,
                "dispense",
                format!("one dispense is more than the reservoir gives: at most {most}"),
            ));
        }
        if let (Some(carafe), Some(reservoir)) = (carafe, reservoir) {
            problems.note(self.fits(reservoir, &carafe, before));
        }
        let volumes = (|| {
            Some(Volumes {
                carafe,
                reservoir_ml: reservoir?,
                hold_up_ml: hold_up?,
                dead_ml: dead?,
                dispense_ml: dispense?,
                cup_ml: cup?,
                line_ml: line,
            })
        })();
        problems.or(volumes)
    }

    /// How much is brewed; the counts are checked even where the cup could not be read.
    fn habit(&self, volumes: Option<&Volumes>) -> Result<Habit, Problems> {
        let mut problems = Problems::default();
        problems.note(bounds::CUPS.check("weekday_cups", self.weekday_cups));
        problems.note(bounds::CUPS.check("weekend_cups", self.weekend_cups));
        problems.or(Some(Habit {
            weekday_cups: self.weekday_cups,
            weekend_cups: self.weekend_cups,
            cup_ml: volumes.map_or(0.0, |v| v.cup_ml),
        }))
    }

    fn other(
        &self,
        reservoir_ml: Option<f64>,
        before: Option<&Brewer>,
    ) -> Result<Option<Side>, Problems> {
        let was = before.and_then(|b| b.circuits.get(1));
        match (&self.other_side, self.family) {
            (Some(side), Family::Combination) => side.read(reservoir_ml, was).map(Some),
            (None, Family::Combination) => {
                let message = "tell of the pod side: its dispense, hold-up and share";
                Err(Problem::new(Code::Missing, "other_side", message).into())
            }
            _ => Ok(None),
        }
    }

    fn read_needles(&self) -> Result<Option<Vec<Needle>>, Problems> {
        let mut problems = Problems::default();
        let needles = self.needles.as_ref().map(|drafts| {
            let read = drafts
                .iter()
                .enumerate()
                .filter_map(|(i, draft)| problems.note(draft.read(&format!("needles.{i}"))));
            read.collect::<Vec<_>>()
        });
        problems.note(Needle::check_all(needles.as_deref().unwrap_or(&[])));
        problems.or(Some(needles))
    }

    fn filter(&self) -> Result<Option<Filter>, Problems> {
        if !self.filter {
            return Ok(None);
        }
        let mut problems = Problems::default();
        problems.note(bounds::PER_CENT.check("filter_takes_out", self.filter_takes_out));
        problems.note(bounds::EVERY_DAYS.check("filter_days", self.filter_days));
        problems.note(bounds::EVERY_BREWS.check("filter_fills", self.filter_fills));
        problems.note(
            self.filter_price
                .map_or(Ok(0.0), |p| bounds::PRICE.check("filter_price", p)),
        );
        problems.or(Some(Some(Filter {
            takes_out: self.filter_takes_out / 100.0,
            days: self.filter_days,
            fills: self.filter_fills,
            price: self.filter_price,
        })))
    }

    fn days(&self, today: Date) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(bounds::day("in_use_since", self.in_use_since));
        if self.in_use_since > today {
            problems.0.push(Problem::new(
                Code::OutOfRange,
                "in_use_since",
                "the first day of use lies in the future: give today or earlier",
            ));
        }
        let is_odd = |d: Date| d > today || d < self.in_use_since;
        if self.last_descaled.is_some_and(is_odd) {
            problems.0.push(Problem::new(
                Code::OutOfRange,
                "last_descaled",
                "give a day between the first day of use and today, or leave it empty",
            ));
        }
        problems.or(Some(()))
    }

    fn circuits(
        &self,
        volumes: &Volumes,
        other: Option<Side>,
        heating: Heating,
        operation: Operation,
        before: Option<&Brewer>,
    ) -> Vec<Circuit> {
        let (outlet, heater) = self.family.path();
        let old = |id: &str| {
            before
                .filter(|b| b.family == self.family)
                .and_then(|b| b.circuits.iter().find(|c| c.id == id))
        };
        let mut circuits = vec![heating.set(Circuit {
            hold_up_ml: volumes.hold_up_ml,
            dispense_ml: volumes.dispense_ml,
            dead_volume_ml: volumes.dead_ml,
            share: other.as_ref().map_or(1.0, |o| 1.0 - o.share),
            washout: self.washout,
            operation,
            mechanics: self.mechanics.clone(),
            ..blank("main", outlet, heater, old("main"))
        })];
        circuits.extend(other.map(|side| {
            side.heating.set(Circuit {
                hold_up_ml: side.hold_up_ml,
                dispense_ml: side.dispense_ml,
                dead_volume_ml: side.dead_volume_ml,
                share: side.share,
                reservoir_ml: side.reservoir_ml,
                operation: side.operation,
                mechanics: side.mechanics,
                ..blank("pod", Outlet::Pod, Heater::Tank, old("pod"))
            })
        }));
        circuits
    }

    /// A reservoir holds no more than its carafe; of cups as typed, the marks of the carafe may be meant. What stood there before
    /// this was asked is no reason to refuse a new name.
    fn fits(&self, ml: f64, carafe: &Carafe, before: Option<&Brewer>) -> Result<(), Problem> {
        let is_as_before = before.is_some_and(|b| (b.reservoir_ml - ml).abs() <= 1.0);
        if is_as_before || ml <= carafe.brim_ml() * 1.000_001 {
            return Ok(());
        }
        let told = |ml| format!("{:.0} fl oz ({})", ml / FL_OZ_ML, Units::Metric.volume(ml));
        let (holds, marked) = (told(ml), told(carafe.marked_ml()));
        let marks = carafe.marks;
        let message = match self.reservoir.to_lowercase().contains("cup") {
            true => format!(
                "marks or measuring cups? Measuring cups make {holds}, more than the carafe takes; all of its {marks} marks are {marked}: give marks, or what fits"
            ),
            false => format!(
                "{holds} is more than the carafe takes, whose {marks} marks are {marked}: it would run over. Give what one full carafe takes, or count its marks again"
            ),
        };
        Err(Problem::new(Code::TooMuch, "reservoir", message))
    }

    fn carafe(&self) -> Result<Carafe, Problems> {
        let mut problems = Problems::default();
        let missing = || {
            Problem::new(
                Code::Missing,
                "carafe_marks",
                "count the marks on the carafe: a number from 1 to 30",
            )
        };
        let marks = problems.note(
            self.carafe_marks
                .ok_or_else(missing)
                .and_then(|m| bounds::CARAFE_MARKS.check("carafe_marks", m)),
        );
        let typed = self.carafe_mark.as_deref().unwrap_or_default();
        let mark_ml = problems.note(parse_volume(
            "carafe_mark",
            typed,
            &bounds::CARAFE_MARK,
            None,
        ));
        problems.or(marks
            .zip(mark_ml)
            .map(|(marks, mark_ml)| Carafe { marks, mark_ml }))
    }
}

/// The history with `value` from today on; unchanged when it already holds. The first entry always reaches back to first use.
fn carry_on<T: Clone + PartialEq>(
    before: Option<&[Since<T>]>,
    value: T,
    first: Date,
    today: Date,
) -> Vec<Since<T>> {
    let mut history = before.unwrap_or_default().to_vec();
    if history.last().is_none_or(|last| last.value != value) {
        history.retain(|entry| entry.from < today);
        history.push(Since {
            from: if history.is_empty() { first } else { today },
            value,
        });
    }
    history
}
