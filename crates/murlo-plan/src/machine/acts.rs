//! What each instruction does to the simulated brewer.

use crate::machine::harm::Harm;
use crate::machine::state::{Liquid, Machine, POURED};
use murlo_brewer::instruction::{Instruction, Thing, Washed};
use murlo_brewer::{ModeEnds, Outlet, Survives};

impl<'a> Machine<'a> {
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
                // The carafe is the vessel, however large a one was asked for.
                let carafe = self.mechanism.carafe_ml.unwrap_or(f64::INFINITY);
                self.vessel_holds = (holds_ml * POURED).min(carafe * POURED);
            }
            Instruction::EmptyVessel => self.vessel = Liquid::default(),
            Instruction::EmptyReservoir | Instruction::LowerToFloat => {
                return self.empty_reservoir();
            }
            Instruction::PourBath { ml, mg_l, .. } => return self.pour_bath(*ml, *mg_l),
            Instruction::FillUp { ml } => return self.fill_up(*ml),
            Instruction::HaveWater { ml } => return self.have_water(*ml),
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
        if self.plugged && self.on && !self.in_mode && !self.filter_elsewhere {
            return Err(Harm::HandsWhilePluggedIn);
        }
        let unused = self.mechanism.dead_ml + self.may_stay();
        if !self.is_given_up && self.reservoir.mg_l > 0.0 && self.reservoir.ml > unused {
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
        let was_in = self.inside.remove(&thing);
        self.put_in.remove(&thing);
        if was_in && matches!(thing, Thing::Pod | Thing::Capsule | Thing::Grounds) {
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
        self.is_given_up = false;
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
        self.filled_ml += ml;
        if self.in_mode {
            self.rinse_fills_in_mode += 1;
        }
        Ok(())
    }

    fn have_water(&mut self, ml: f64) -> Result<(), Harm> {
        let missing = ml - self.reservoir.ml;
        if missing <= 0.0 && self.reservoir.mg_l <= 0.0 {
            return Ok(());
        }
        self.fill_up(Some(missing.max(0.0)))
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
            Washed::Seat | Washed::Holder { .. } => {
                let in_the_way = [Thing::EmptyCapsule, Thing::Disc];
                if in_the_way.iter().any(|thing| self.inside.contains(thing)) {
                    return Err(Harm::LeftInside);
                }
                return self.hands_at_needles();
            }
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

/// Minutes after which what was heated can be touched.
const NEEDLES_COOL: f64 = 8.0;

/// Minutes after which glass may meet cold water.
const GLASS_COOLS: f64 = 10.0;

/// Bath that stays wetting an emptied reservoir until it is washed, mL.
const WETTING_ML: f64 = 5.0;

/// A dispense that finds less than this share of its water runs the pump dry.
const DRY: f64 = 0.3;
