//! The simulated brewer as it stands, and what somebody sees of it.

use crate::machine::harm::Harm;
use crate::machine::mechanism::Mechanism;
use murlo_brewer::instruction::Thing;
use murlo_brewer::{ModeEnds, Outlet, Survives};
use std::collections::BTreeSet;

/// Water with acid in it.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(crate) struct Liquid {
    pub(crate) ml: f64,
    pub(crate) mg_l: f64,
}

impl Liquid {
    pub(crate) fn add(&mut self, ml: f64, mg_l: f64) {
        let total = self.ml + ml;
        if total > 0.0 {
            self.mg_l = (self.ml * self.mg_l + ml * mg_l) / total;
        }
        self.ml = total;
    }

    pub(crate) fn take(&mut self, ml: f64) {
        self.ml = (self.ml - ml).max(0.0);
    }
}

/// The state of a simulated brewer.
#[derive(Debug, Clone, PartialEq)]
pub struct Machine<'a> {
    pub(crate) mechanism: &'a Mechanism,
    /// Minutes since the start.
    pub(crate) now: f64,
    pub(crate) plugged: bool,
    pub(crate) on: bool,
    pub(crate) lid_open: bool,
    pub(crate) in_mode: bool,
    pub(crate) rinse_fills_in_mode: u32,
    pub(crate) armed: bool,
    pub(crate) light: bool,
    pub(crate) inside: BTreeSet<Thing>,
    /// What this work has put in.
    pub(crate) put_in: BTreeSet<Thing>,
    pub(crate) reservoir: Liquid,
    /// The bath as it was poured in.
    pub(crate) poured_ml: f64,
    /// Acid in the water path.
    pub(crate) path_mg_l: f64,
    /// What the path held when rinsing began, and the portions that have run through since, with all they came to.
    pub(crate) rinsed: (f64, f64, f64),
    /// Acid in the spout of the hot-water outlet.
    pub(crate) spout_mg_l: f64,
    pub(crate) vessel: Liquid,
    pub(crate) vessel_holds: f64,
    pub(crate) needles_hot_until: f64,
    pub(crate) glass_hot_until: f64,
    pub(crate) noted: bool,
    /// What was cleared off the needles and not flushed out yet.
    pub(crate) loosened: bool,
    /// A bath that was poured in and has not run through yet.
    pub(crate) bath_waits: bool,
    /// The bath in it does not have to do anything any more.
    pub(crate) is_given_up: bool,
    /// Bath was poured in at all, and some went through the hot-water outlet.
    pub(crate) had_bath: bool,
    pub(crate) outlet_had_bath: bool,
    pub(crate) filter_elsewhere: bool,
    /// Fresh water that was filled in so far, mL.
    pub(crate) filled_ml: f64,
}

/// All that somebody sees who stands before it.
#[derive(Debug, Clone, PartialEq)]
pub struct MachineSeen {
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
pub struct MachineStanding {
    /// Whether it is plugged in.
    pub plugged: bool,
    /// Whether it is switched on.
    pub on: bool,
    /// Whether it is in its cleaning mode.
    pub in_mode: bool,
    /// Whether its water filter is in it.
    pub filter_in: bool,
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
            is_given_up: false,
            had_bath: false,
            outlet_had_bath: false,
            filter_elsewhere: false,
            filled_ml: 0.0,
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
    pub fn standing(&self) -> MachineStanding {
        MachineStanding {
            plugged: self.plugged,
            on: self.on,
            in_mode: self.in_mode,
            filter_in: self.inside.contains(&Thing::Filter),
            reservoir_mg_l: self.reservoir.mg_l,
            path_mg_l: self.path_mg_l,
        }
    }

    /// The bath in it is given up: it may be poured away unused.
    pub const fn give_up_bath(&mut self) {
        self.bath_waits = false;
        self.is_given_up = true;
    }

    /// Its mode ends with what was seen, where that is what ends it: it asked for water in the rinse, or its light went out.
    pub const fn mode_ends_where(&mut self, asked_for_water: bool, light_is_out: bool) {
        let ends = match self.mechanism.ends {
            Some(ModeEnds::WantsWater | ModeEnds::OneFill) => asked_for_water,
            Some(ModeEnds::Light) => light_is_out,
            None => false,
        };
        self.in_mode &= !ends;
    }

    /// From how much acid on somebody tastes it, mg/L.
    #[must_use]
    pub const fn target_mg_l(&self) -> f64 {
        self.mechanism.target_mg_l
    }

    /// All that is seen of it.
    pub fn seen(&self) -> MachineSeen {
        MachineSeen {
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
    pub(crate) fn wait(&mut self, minutes: f64) {
        self.pass(minutes);
        // A mode that does not wait is gone by the time somebody comes back.
        if self.mechanism.survives == Some(Survives::Nothing) {
            self.in_mode = false;
        }
    }

    /// Whether it can be given back to its people.
    ///
    /// # Errors
    /// The first thing that was forgotten.
    pub(crate) fn is_ready(&self) -> Result<(), Harm> {
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
    pub(crate) fn is_acid_inside(&self) -> bool {
        let noticed = self.mechanism.target_mg_l * 1.001;
        let in_spout = self.mechanism.has_hot_water && self.spout_mg_l > noticed;
        self.path_mg_l > noticed || self.reservoir.mg_l > noticed || in_spout
    }
}

/// Amounts that differ by less are the same to a person who pours.
pub(crate) const POURED: f64 = 1.03;
