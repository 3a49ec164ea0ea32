//! A simulated brewer: what each instruction does to it, and what it refuses because a real one would do harm.
//!
//! It knows one side of a brewer by figures and choices ([`Mechanism`]), never by words, and shares nothing with the plan
//! but the instructions: a plan is right when it runs on it from first to last (`rehearse`).

mod harm;

pub use harm::Harm;
use murlo_brewer::instruction::{Instruction, Thing, Washed};
use murlo_brewer::{Brewer, Circuit, ModeEnds, Outlet, Survives};
use murlo_chemistry::heater::Way;
use murlo_chemistry::washout::Washout;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// What the simulated brewer needs to know of a real one; frozen with a plan, so that a running clean can be followed on it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mechanism {
    outlet: Outlet,
    hold_up_ml: f64,
    portion_ml: f64,
    dead_ml: f64,
    reservoir_ml: f64,
    washout: Washout,
    /// It takes what is poured in at a time and has no reservoir that stays full.
    pub by_cup: bool,
    /// Water passes only with one of these in place.
    passes_with: Vec<Thing>,
    /// The programme starts only with this in place.
    programme_with: Option<Thing>,
    has_programme: bool,
    needs_light: bool,
    survives: Option<Survives>,
    ends: Option<ModeEnds>,
    pub(crate) rearms: bool,
    has_filter: bool,
    has_hot_water: bool,
    /// Where nobody notices, mg/L.
    target_mg_l: f64,
}

impl Mechanism {
    /// One side of a brewer; `target_mg_l` is where nobody notices acid.
    #[must_use]
    pub fn of(brewer: &Brewer, circuit: &Circuit, target_mg_l: f64) -> Self {
        let facts = &circuit.mechanics;
        let is_coded = brewer.is_coded();
        Self {
            outlet: circuit.outlet,
            hold_up_ml: circuit.hold_up_ml,
            portion_ml: circuit.dispense_ml,
            dead_ml: circuit.dead_volume_ml,
            reservoir_ml: brewer.reservoir_of(circuit),
            washout: circuit.washout(),
            by_cup: brewer.takes_a_cup_at_a_time(),
            passes_with: match circuit.outlet {
                Outlet::Capsule if is_coded => vec![Thing::EmptyCapsule, Thing::Disc],
                Outlet::Capsule => vec![Thing::EmptyCapsule],
                Outlet::Pod | Outlet::Grounds => Vec::new(),
            },
            programme_with: match circuit.outlet {
                Outlet::Capsule if is_coded => Some(Thing::Disc),
                Outlet::Pod if brewer.carafe.is_some() => Some(Thing::Adapter),
                _ => None,
            },
            has_programme: brewer.way(circuit) == Way::Programme || brewer.self_clean,
            needs_light: facts.needs_light == Some(true),
            survives: brewer.has_mode(circuit).then(|| facts.outlasts()),
            ends: facts.ends,
            rearms: !circuit.operation.rearm.is_empty(),
            has_filter: brewer.filter.is_some(),
            has_hot_water: brewer.has_hot_water(circuit),
            target_mg_l,
        }
    }
}

impl Mechanism {
    /// Whether it has a cleaning mode.
    pub const fn has_mode(&self) -> bool {
        self.survives.is_some()
    }

    /// What one press of its largest size gives, mL.
    pub(crate) const fn largest_ml(&self) -> f64 {
        self.portion_ml
    }

    /// Whether the mode is still on after it was left alone.
    pub fn mode_waits(&self) -> bool {
        self.survives > Some(Survives::Nothing)
    }
}

/// Minutes after which what was heated can be touched.
const NEEDLES_COOL: f64 = 8.0;
/// Minutes after which glass may meet cold water.
const GLASS_COOLS: f64 = 10.0;
/// Bath that stays wetting an emptied reservoir until it is washed, mL.
const WETTING_ML: f64 = 5.0;
/// Amounts that differ by less are the same to a person who pours.
const POURED: f64 = 1.03;
/// A dispense that finds less than this share of its water runs the pump dry.
const DRY: f64 = 0.3;

/// Water with acid in it.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
struct Liquid {
    ml: f64,
    mg_l: f64,
}

impl Liquid {
    fn add(&mut self, ml: f64, mg_l: f64) {
        let total = self.ml + ml;
        if total > 0.0 {
            self.mg_l = (self.ml * self.mg_l + ml * mg_l) / total;
        }
        self.ml = total;
    }

    fn take(&mut self, ml: f64) {
        self.ml = (self.ml - ml).max(0.0);
    }
}

/// The state of a simulated brewer.
#[derive(Debug, Clone, PartialEq)]
pub struct Machine<'a> {
    pub(crate) mechanism: &'a Mechanism,
    /// Minutes since the start.
    pub(crate) now: f64,
    plugged: bool,
    on: bool,
    lid_open: bool,
    in_mode: bool,
    rinse_fills_in_mode: u32,
    pub(crate) armed: bool,
    light: bool,
    inside: BTreeSet<Thing>,
    /// What this work has put in.
    put_in: BTreeSet<Thing>,
    reservoir: Liquid,
    /// The bath as it was poured in.
    poured_ml: f64,
    /// Acid in the water path.
    path_mg_l: f64,
    /// What the path held when rinsing began, and the portions that have run through since, with all they came to.
    rinsed: (f64, f64, f64),
    /// Acid in the spout of the hot-water outlet.
    spout_mg_l: f64,
    vessel: Liquid,
    vessel_holds: f64,
    pub(crate) needles_hot_until: f64,
    pub(crate) glass_hot_until: f64,
    noted: bool,
    /// What was cleared off the needles and not flushed out yet.
    loosened: bool,
    /// A bath that was poured in and has not run through yet.
    bath_waits: bool,
    /// Bath was poured in at all, and some went through the hot-water outlet.
    had_bath: bool,
    outlet_had_bath: bool,
    filter_elsewhere: bool,
}

/// All that somebody sees who stands before it.
#[derive(Debug, Clone, PartialEq)]
pub struct Seen {
    /// Plugged in.
    pub plugged: bool,
    /// Switched on.
    pub on: bool,
    /// In its cleaning mode.
    pub in_mode: bool,
    /// Its lid is open.
    pub lid_open: bool,
    /// Its light asks.
    pub light: bool,
    /// Hot inside.
    pub hot: bool,
    /// A note not to brew is on it.
    pub noted: bool,
    /// What was put into it.
    pub inside: BTreeSet<Thing>,
    /// In the reservoir, mL.
    pub reservoir_ml: f64,
    /// Acid there, mg/L.
    pub reservoir_mg_l: f64,
    /// In the vessel, mL.
    pub vessel_ml: f64,
    /// What the vessel holds, mL.
    pub vessel_holds: f64,
    /// Acid there, mg/L.
    pub vessel_mg_l: f64,
    /// Acid in the water path, mg/L.
    pub path_mg_l: f64,
}

/// What is in a brewer, and how it stands, for people who come to it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Standing {
    /// Whether it is plugged in.
    pub plugged: bool,
    /// Whether it is switched on.
    pub on: bool,
    /// Whether it is in its cleaning mode.
    pub in_mode: bool,
    /// Acid in the reservoir, mg/L.
    pub reservoir_mg_l: f64,
    /// Acid in the water path, mg/L.
    pub path_mg_l: f64,
}

impl<'a> Machine<'a> {
    /// A brewer as it stands in a kitchen: plugged in, full, with what was last brewed still in it.
    #[must_use]
    pub fn in_use(mechanism: &'a Mechanism) -> Self {
        let brewed = match mechanism.outlet {
            Outlet::Pod => Thing::Pod,
            Outlet::Capsule => Thing::Capsule,
            Outlet::Grounds => Thing::Grounds,
        };
        let mut inside = BTreeSet::from([brewed]);
        if mechanism.has_filter {
            inside.insert(Thing::Filter);
        }
        let full = if mechanism.by_cup {
            0.0
        } else {
            mechanism.reservoir_ml / 2.0
        };
        Self {
            mechanism,
            now: 0.0,
            plugged: true,
            on: true,
            lid_open: false,
            in_mode: false,
            rinse_fills_in_mode: 0,
            armed: true,
            light: true,
            inside,
            put_in: BTreeSet::new(),
            reservoir: Liquid {
                ml: full,
                mg_l: 0.0,
            },
            poured_ml: 0.0,
            path_mg_l: 0.0,
            rinsed: (0.0, 0.0, 0.0),
            spout_mg_l: 0.0,
            vessel: Liquid::default(),
            vessel_holds: mechanism.portion_ml * POURED,
            needles_hot_until: 0.0,
            glass_hot_until: 0.0,
            noted: false,
            loosened: false,
            bath_waits: false,
            had_bath: false,
            outlet_had_bath: false,
            filter_elsewhere: false,
        }
    }

    /// The same while its other side is being cleaned: its filter is out, and goes back with that side.
    #[must_use]
    pub fn beside(mechanism: &'a Mechanism) -> Self {
        let mut machine = Self::in_use(mechanism);
        machine.inside.remove(&Thing::Filter);
        machine.filter_elsewhere = true;
        machine
    }

    /// How it stands.
    #[must_use]
    pub const fn standing(&self) -> Standing {
        Standing {
            plugged: self.plugged,
            on: self.on,
            in_mode: self.in_mode,
            reservoir_mg_l: self.reservoir.mg_l,
            path_mg_l: self.path_mg_l,
        }
    }

    /// All that is seen of it.
    pub fn seen(&self) -> Seen {
        Seen {
            plugged: self.plugged,
            on: self.on,
            in_mode: self.in_mode,
            lid_open: self.lid_open,
            light: self.light,
            hot: self.now < self.needles_hot_until,
            noted: self.noted,
            inside: self.inside.clone(),
            reservoir_ml: self.reservoir.ml,
            reservoir_mg_l: self.reservoir.mg_l,
            vessel_ml: self.vessel.ml,
            vessel_holds: self.vessel_holds,
            vessel_mg_l: self.vessel.mg_l,
            path_mg_l: self.path_mg_l,
        }
    }

    /// Minutes since the start.
    pub(crate) const fn minutes(&self) -> f64 {
        self.now
    }

    /// Stands for some minutes, with somebody at it or left alone.
    pub(crate) fn stand(&mut self, minutes: f64, alone: bool) {
        match alone {
            true => self.wait(minutes),
            false => self.pass(minutes),
        }
    }

    /// Lets time pass while somebody works at it.
    pub fn pass(&mut self, minutes: f64) {
        self.now += minutes;
    }

    /// Leaves it alone.
    fn wait(&mut self, minutes: f64) {
        self.pass(minutes);
        // A mode that does not wait is gone by the time somebody comes back.
        if self.mechanism.survives == Some(Survives::Nothing) {
            self.in_mode = false;
        }
    }

    /// Does what is instructed.
    ///
    /// # Errors
    /// The harm it would do; the brewer is then as it was.
    pub fn follow(&mut self, instruction: &Instruction) -> Result<(), Harm> {
        match instruction {
            Instruction::Unplug => self.lose_power(Survives::Unplugged, false),
            Instruction::SwitchOff => self.lose_power(Survives::SwitchedOff, self.plugged),
            Instruction::PlugIn => self.plugged = true,
            Instruction::SwitchOn => {
                if !self.plugged {
                    return Err(Harm::NotPluggedIn);
                }
                self.on = true;
            }
            Instruction::OpenLid => {
                self.lid_open = true;
            }
            Instruction::CloseLid | Instruction::CloseOn { .. } => {
                self.armed |= self.lid_open;
                self.lid_open = false;
            }
            Instruction::Rearm => self.armed = true,
            Instruction::TakeOut { thing } => return self.take_out(*thing),
            Instruction::PutIn { thing, .. } => return self.put_in(*thing),
            Instruction::PlaceVessel { holds_ml } => {
                if self.vessel.ml > 0.0 {
                    return Err(Harm::VesselLeftFull);
                }
                self.vessel_holds = holds_ml * POURED;
            }
            Instruction::EmptyVessel => self.vessel = Liquid::default(),
            Instruction::EmptyReservoir | Instruction::LowerToFloat => {
                return self.empty_reservoir();
            }
            Instruction::PourBath { ml, mg_l, .. } => return self.pour_bath(*ml, *mg_l),
            Instruction::FillUp { ml } => return self.fill_up(*ml),
            Instruction::EnterMode => return self.enter_mode(),
            Instruction::StillInMode => {
                if !self.in_mode {
                    return Err(Harm::ModeLost);
                }
            }
            Instruction::LeaveMode => self.in_mode = false,
            Instruction::Press { ml, in_mode } => return self.press(*ml, *in_mode),
            Instruction::PressHotWater { ml } => return self.hot_water(*ml),
            Instruction::Programme { minutes } => return self.programme(*minutes),
            Instruction::Brew { minutes } => {
                let ml = (self.reservoir.ml - self.mechanism.dead_ml).max(0.0);
                return self.brew(ml, *minutes);
            }
            Instruction::BrewHalf { minutes } => {
                self.brew(self.reservoir.ml / 2.0, *minutes)?;
                self.on = false;
            }
            Instruction::PauseAtFirstDrops => return self.pause_at_first_drops(),
            Instruction::Purge => return self.purge(),
            Instruction::Cool { minutes } => self.wait(*minutes),
            Instruction::Soak { minutes } => return self.soak(*minutes),
            Instruction::Wash(washed) => return self.wash(washed),
            Instruction::ClearNeedles { .. } => {
                self.hands_at_needles()?;
                self.loosened = true;
            }
            Instruction::NoteOn => self.noted = true,
            Instruction::NoteOff => {
                if self.is_acid_inside() {
                    return Err(Harm::NoteWrong);
                }
                self.noted = false;
            }
            Instruction::LeaveOn | Instruction::Mind { .. } => {}
        }
        Ok(())
    }

    /// Whether it can be given back to its people.
    ///
    /// # Errors
    /// The first thing that was forgotten.
    pub fn is_ready(&self) -> Result<(), Harm> {
        if self.is_acid_inside() {
            return Err(Harm::AcidLeft);
        }
        let wants_filter = self.mechanism.has_filter && !self.filter_elsewhere;
        if wants_filter && !self.inside.contains(&Thing::Filter) {
            return Err(Harm::FilterLeftOut);
        }
        if self.put_in.iter().any(|thing| *thing != Thing::Filter) {
            return Err(Harm::LeftInside);
        }
        if self.loosened {
            return Err(Harm::NotFlushed);
        }
        if self.mechanism.has_hot_water && self.had_bath && !self.outlet_had_bath {
            return Err(Harm::OutletLeftOut);
        }
        if self.vessel.ml > 0.0 {
            return Err(Harm::VesselLeftFull);
        }
        if self.in_mode || !self.plugged || self.lid_open {
            return Err(Harm::LeftUnready);
        }
        if self.noted {
            return Err(Harm::NoteWrong);
        }
        Ok(())
    }

    /// More acid than anybody lets pass, anywhere.
    fn is_acid_inside(&self) -> bool {
        let noticed = self.mechanism.target_mg_l * 1.001;
        let in_spout = self.mechanism.has_hot_water && self.spout_mg_l > noticed;
        self.path_mg_l > noticed || self.reservoir.mg_l > noticed || in_spout
    }

    fn lose_power(&mut self, keeps: Survives, plugged: bool) {
        self.plugged = plugged;
        self.on = false;
        if self
            .mechanism
            .survives
            .is_none_or(|survives| survives < keeps)
        {
            self.in_mode = false;
        }
    }

    /// Whether it can work at all.
    fn works(&self) -> Result<(), Harm> {
        if !self.plugged {
            return Err(Harm::NotPluggedIn);
        }
        if !self.on {
            return Err(Harm::SwitchedOff);
        }
        if self.lid_open {
            return Err(Harm::LidOpen);
        }
        let brewed = [Thing::Pod, Thing::Capsule, Thing::Grounds];
        if brewed.iter().any(|thing| self.inside.contains(thing)) {
            return Err(Harm::DrinkBrewed);
        }
        let passes = &self.mechanism.passes_with;
        if !passes.is_empty() && !passes.iter().any(|thing| self.inside.contains(thing)) {
            return Err(Harm::NothingPasses);
        }
        Ok(())
    }

    /// What sits under the lid is only reached when that is open.
    fn reach(&self, thing: Thing) -> Result<(), Harm> {
        let under_lid = !matches!(thing, Thing::Filter | Thing::Adapter | Thing::PaperFilter);
        match under_lid && !self.lid_open {
            true => Err(Harm::LidClosed),
            false => Ok(()),
        }
    }

    /// Bath that may be poured away unused: less than a dispense, or what a carafe brewer leaves.
    fn may_stay(&self) -> f64 {
        match self.mechanism.outlet {
            Outlet::Grounds => 0.1 * self.poured_ml,
            _ if self.mechanism.by_cup => 0.5 * self.poured_ml,
            Outlet::Pod | Outlet::Capsule => {
                (1.5 * self.mechanism.portion_ml).min(0.9 * self.poured_ml)
            }
        }
    }

    fn empty_reservoir(&mut self) -> Result<(), Harm> {
        let unused = self.mechanism.dead_ml + self.may_stay();
        if self.reservoir.mg_l > 0.0 && self.reservoir.ml > unused {
            return Err(Harm::BathUnused);
        }
        self.reservoir.ml = self.wetting();
        Ok(())
    }

    fn soak(&mut self, minutes: f64) -> Result<(), Harm> {
        if self.bath_waits && minutes > 0.0 {
            return Err(Harm::BathUnused);
        }
        if self.mechanism.outlet != Outlet::Grounds && self.vessel.ml > 0.5 * self.vessel_holds {
            return Err(Harm::VesselLeftFull);
        }
        let is_beside = self.filter_elsewhere;
        if self.on && !self.in_mode && !is_beside && self.reservoir.mg_l > 0.0 {
            return Err(Harm::LeftSwitchedOn);
        }
        self.wait(minutes);
        Ok(())
    }

    fn take_out(&mut self, thing: Thing) -> Result<(), Harm> {
        self.reach(thing)?;
        self.inside.remove(&thing);
        self.put_in.remove(&thing);
        if matches!(thing, Thing::Pod | Thing::Capsule | Thing::Grounds) {
            // It stands at the sink now: what it had under it is gone.
            self.vessel_holds = 0.0;
        }
        Ok(())
    }

    /// Bath that stays on the walls of an emptied reservoir.
    fn wetting(&self) -> f64 {
        match self.reservoir.mg_l > 0.0 {
            true => WETTING_ML,
            false => 0.0,
        }
    }

    fn put_in(&mut self, thing: Thing) -> Result<(), Harm> {
        self.reach(thing)?;
        if thing == Thing::Filter && (self.is_acid_inside() || self.reservoir.mg_l > 0.0) {
            return Err(Harm::AcidThroughFilter);
        }
        self.inside.insert(thing);
        self.put_in.insert(thing);
        Ok(())
    }

    fn pour_bath(&mut self, ml: f64, mg_l: f64) -> Result<(), Harm> {
        if self.reservoir.ml > WETTING_ML + self.mechanism.dead_ml {
            return Err(Harm::BathOnBath);
        }
        if self.loosened {
            return Err(Harm::NotFlushed);
        }
        if ml > self.mechanism.reservoir_ml * POURED {
            return Err(Harm::ReservoirOverflows);
        }
        if mg_l > 0.0 {
            if self.inside.contains(&Thing::Filter) {
                return Err(Harm::AcidThroughFilter);
            }
            self.bath_waits = true;
            self.had_bath = true;
        }
        self.poured_ml = ml;
        self.reservoir = Liquid { ml, mg_l };
        Ok(())
    }

    fn fill_up(&mut self, ml: Option<f64>) -> Result<(), Harm> {
        if self.bath_waits {
            return Err(Harm::BathUnused);
        }
        if self.reservoir.mg_l > 0.0 && !self.mechanism.by_cup {
            return Err(Harm::NotWashed);
        }
        let room = self.mechanism.reservoir_ml - self.reservoir.ml;
        let ml = ml.unwrap_or(room.max(0.0));
        if self.reservoir.ml + ml > self.mechanism.reservoir_ml * POURED {
            return Err(Harm::ReservoirOverflows);
        }
        self.reservoir.add(ml, 0.0);
        if self.in_mode {
            self.rinse_fills_in_mode += 1;
        }
        Ok(())
    }

    fn enter_mode(&mut self) -> Result<(), Harm> {
        if self.mechanism.survives.is_none() {
            return Err(Harm::NoSuchWay);
        }
        if !self.plugged {
            return Err(Harm::NotPluggedIn);
        }
        if self.lid_open {
            return Err(Harm::LidOpen);
        }
        self.on = true;
        self.in_mode = true;
        self.rinse_fills_in_mode = 0;
        Ok(())
    }

    fn press(&mut self, ml: f64, in_mode: bool) -> Result<(), Harm> {
        if in_mode && self.plugged && !self.in_mode {
            return Err(Harm::ModeLost);
        }
        self.works()?;
        if self.mechanism.rearms && !self.armed {
            return Err(Harm::NotRearmed);
        }
        self.run_through(ml)?;
        self.armed = false;
        let is_empty = self.reservoir.ml < self.mechanism.dead_ml + DRY * ml;
        let ends = matches!(
            self.mechanism.ends,
            Some(ModeEnds::OneFill | ModeEnds::WantsWater)
        );
        // The first fill after the bath is the mode's own; the bath itself was poured before it was entered.
        if is_empty && ends && self.rinse_fills_in_mode > 0 {
            self.in_mode = false;
        }
        Ok(())
    }

    /// So much from the reservoir through the path into the vessel.
    fn run_through(&mut self, ml: f64) -> Result<(), Harm> {
        let there = self.reservoir.ml - self.mechanism.dead_ml;
        if there < (DRY * ml).max(WETTING_ML) {
            return Err(Harm::PumpRunsDry);
        }
        let ml = ml.min(there);
        if self.vessel.ml + ml > self.vessel_holds {
            return Err(Harm::VesselOverflows);
        }
        self.through_path(ml);
        self.reservoir.take(ml);
        self.reservoir.ml = self.reservoir.ml.max(self.wetting());
        self.vessel.add(ml, self.path_mg_l);
        self.loosened = false;
        self.needles_hot_until = self.now + NEEDLES_COOL;
        self.glass_hot_until = self.now + GLASS_COOLS;
        Ok(())
    }

    /// Bath fills the path as it is; water washes it out by the path's own law.
    fn through_path(&mut self, ml: f64) {
        self.bath_waits = false;
        if self.reservoir.mg_l >= self.path_mg_l {
            self.path_mg_l = self.reservoir.mg_l;
            self.rinsed = (self.path_mg_l, 0.0, 0.0);
            return;
        }
        let (start, portions, all_ml) = &mut self.rinsed;
        *portions += 1.0;
        *all_ml += ml;
        let hold_ml = self.mechanism.hold_up_ml;
        let keeps = self
            .mechanism
            .washout
            .remaining(hold_ml, *all_ml / *portions, *portions);
        self.path_mg_l = self.reservoir.mg_l + *start * keeps;
    }

    fn hot_water(&mut self, ml: f64) -> Result<(), Harm> {
        if !self.mechanism.has_hot_water {
            return Err(Harm::NoSuchWay);
        }
        self.works()?;
        self.run_through(ml)?;
        self.outlet_had_bath |= self.reservoir.mg_l > 0.0;
        self.spout_mg_l = self.path_mg_l;
        Ok(())
    }

    fn programme(&mut self, minutes: f64) -> Result<(), Harm> {
        self.works()?;
        if !self.mechanism.has_programme {
            return Err(Harm::NoSuchWay);
        }
        let is_fitted = |thing| self.inside.contains(&thing);
        if self
            .mechanism
            .programme_with
            .is_some_and(|thing| !is_fitted(thing))
        {
            return Err(Harm::PartMissing);
        }
        if self.mechanism.needs_light && !self.light {
            return Err(Harm::WillNotStart);
        }
        let ml = (self.reservoir.ml - self.mechanism.dead_ml).max(0.0);
        self.run_through(ml)?;
        self.light = false;
        self.pass(minutes);
        self.glass_hot_until = self.now + GLASS_COOLS;
        self.needles_hot_until = self.now + NEEDLES_COOL;
        Ok(())
    }

    fn brew(&mut self, ml: f64, minutes: f64) -> Result<(), Harm> {
        self.works()?;
        self.run_through(ml)?;
        self.pass(minutes);
        self.glass_hot_until = self.now + GLASS_COOLS;
        Ok(())
    }

    fn pause_at_first_drops(&mut self) -> Result<(), Harm> {
        if !self.mechanism.by_cup {
            return Err(Harm::NoSuchWay);
        }
        self.works()?;
        self.through_path(self.mechanism.hold_up_ml);
        self.needles_hot_until = self.now + NEEDLES_COOL;
        self.on = false;
        Ok(())
    }

    fn purge(&mut self) -> Result<(), Harm> {
        if !self.mechanism.by_cup {
            return Err(Harm::NoSuchWay);
        }
        if !self.plugged {
            return Err(Harm::NotPluggedIn);
        }
        if self.lid_open || self.on {
            return Err(Harm::LidOpen);
        }
        let ml = self.reservoir.ml;
        self.run_through(ml)
    }

    fn wash(&mut self, washed: &Washed) -> Result<(), Harm> {
        match washed {
            Washed::Reservoir => {
                if self.reservoir.ml > WETTING_ML + self.mechanism.dead_ml {
                    return Err(Harm::CleanerMeetsAcid);
                }
                if self.plugged && !self.in_mode && !self.filter_elsewhere {
                    return Err(Harm::HandsWhilePluggedIn);
                }
                self.reservoir = Liquid::default();
            }
            Washed::Carafe => {
                if self.now < self.glass_hot_until {
                    return Err(Harm::ColdIntoHotGlass);
                }
                self.vessel = Liquid::default();
            }
            Washed::Parts { inside: false, .. } => {}
            Washed::Body { .. } | Washed::Parts { inside: true, .. } => {
                if self.plugged {
                    return Err(Harm::HandsWhilePluggedIn);
                }
            }
            Washed::Seat | Washed::Holder { .. } => return self.hands_at_needles(),
        }
        Ok(())
    }

    fn hands_at_needles(&self) -> Result<(), Harm> {
        if self.plugged {
            return Err(Harm::HandsWhilePluggedIn);
        }
        if self.now < self.needles_hot_until {
            return Err(Harm::HandsAtHotNeedles);
        }
        match self.lid_open {
            true => Ok(()),
            false => Err(Harm::LidClosed),
        }
    }
}
