//! The buttons of the practice brewer, and how it stands in words.

use crate::Plan;
use crate::machine::{Machine, MachineSeen};
use murlo_base::units::Units;
use murlo_brewer::instruction::{Instruction, Thing, Washed, Wording};
use murlo_brewer::trouble::Remedy;
use murlo_brewer::{Brewer, Outlet};
use serde::{Deserialize, Serialize};

/// What can be pressed, moved or done by hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Button {
    /// The plug.
    Plug,
    /// The switch.
    Power,
    /// The lid.
    Lid,
    /// A cup, or a carafe.
    Brew,
    /// Half a carafe.
    Half,
    /// Start a cup and stop at the first drops.
    Pause,
    /// Hold the button while it is off.
    Purge,
    /// A cup of hot water.
    HotWater,
    /// Enter the cleaning mode, or leave it.
    Mode,
    /// The cleaning programme.
    Programme,
    /// What is brewed: pod, capsule, grounds.
    Brewed,
    /// The water filter.
    Filter,
    /// A used, emptied capsule.
    EmptyCapsule,
    /// The service disc.
    Disc,
    /// The pod adapter.
    Adapter,
    /// Pour the bath in.
    Bath,
    /// Fill with fresh water.
    Water,
    /// Pour the reservoir out.
    EmptyReservoir,
    /// Wash the reservoir.
    WashReservoir,
    /// Empty the vessel and put it back.
    Vessel,
    /// Clear the needles.
    Needles,
    /// The do-not-brew note.
    Note,
}

impl Button {
    const ALL: [Self; 22] = [
        Self::Plug,
        Self::Power,
        Self::Lid,
        Self::Brew,
        Self::Half,
        Self::Pause,
        Self::Purge,
        Self::HotWater,
        Self::Mode,
        Self::Programme,
        Self::Brewed,
        Self::Filter,
        Self::EmptyCapsule,
        Self::Disc,
        Self::Adapter,
        Self::Bath,
        Self::Water,
        Self::EmptyReservoir,
        Self::WashReservoir,
        Self::Vessel,
        Self::Needles,
        Self::Note,
    ];

    fn is_on(self, brewer: &Brewer) -> bool {
        let circuit = &brewer.circuits[0];
        let (outlet, cup) = (circuit.outlet, brewer.takes_a_cup_at_a_time());
        let drip = outlet == Outlet::Grounds;
        match self {
            Self::Half => drip,
            Self::Pause | Self::Purge => cup,
            Self::HotWater => brewer.has_hot_water(circuit),
            Self::Mode => brewer.has_mode(circuit),
            Self::Programme => brewer.way(circuit) == murlo_chemistry::heater::Way::Programme,
            Self::Filter => brewer.filter.is_some(),
            Self::EmptyCapsule => outlet == Outlet::Capsule,
            Self::Disc => brewer.is_coded(),
            Self::Adapter => outlet == Outlet::Pod && brewer.carafe.is_some(),
            Self::Needles => outlet != Outlet::Grounds,
            Self::Plug
            | Self::Power
            | Self::Lid
            | Self::Brew
            | Self::Brewed
            | Self::Bath
            | Self::Water
            | Self::EmptyReservoir
            | Self::WashReservoir
            | Self::Vessel
            | Self::Note => true,
        }
    }

    /// The buttons of a brewer, with what each does now.
    pub(super) fn of(brewer: &Brewer, seen: &MachineSeen) -> Vec<ButtonView> {
        let shown = Self::ALL.into_iter().filter(|button| button.is_on(brewer));
        shown
            .map(|button| ButtonView {
                label: button.label(brewer, seen).to_owned(),
                button,
            })
            .collect()
    }

    fn label(self, brewer: &Brewer, seen: &MachineSeen) -> &'static str {
        let (outlet, has) = (brewer.circuits[0].outlet, |t| seen.inside.contains(&t));
        let either = |is: bool, yes, no| if is { yes } else { no };
        match self {
            Self::Plug => either(seen.plugged, "Pull the plug", "Plug in"),
            Self::Power => either(seen.on, "Switch off", "Switch on"),
            Self::Lid => either(seen.lid_open, "Close the lid", "Open the lid"),
            Self::Brew => either(outlet == Outlet::Grounds, "Brew", "Press for a cup"),
            Self::Half => "Brew half, switch off",
            Self::Pause => "Start, stop at first drops",
            Self::Purge => "Hold the button while off",
            Self::HotWater => "Hot water",
            Self::Mode => either(seen.in_mode, "Leave cleaning mode", "Enter cleaning mode"),
            Self::Programme => "Run the programme",
            Self::Brewed => match outlet {
                Outlet::Pod => "Take the pod out",
                Outlet::Capsule => "Take the full capsule out",
                Outlet::Grounds => "Take the grounds out",
            },
            Self::Filter => either(
                has(Thing::Filter),
                "Take the filter out",
                "Put the filter in",
            ),
            Self::EmptyCapsule => either(
                has(Thing::EmptyCapsule),
                "Take the empty capsule out",
                "Put an empty capsule in",
            ),
            Self::Disc => either(has(Thing::Disc), "Take the disc out", "Put the disc in"),
            Self::Adapter => either(
                has(Thing::Adapter),
                "Take the adapter out",
                "Put the adapter in",
            ),
            Self::Bath => "Pour the bath in",
            Self::Water => "Fill with water",
            Self::EmptyReservoir => "Empty the reservoir",
            Self::WashReservoir => "Wash the reservoir",
            Self::Vessel => "Empty the vessel, put it back",
            Self::Needles => "Clear the needles",
            Self::Note => either(seen.noted, "Take the note off", "Put the note on"),
        }
    }

    /// What pressing it does now.
    pub(super) fn acts(self, brewer: &Brewer, plan: &Plan, machine: &Machine) -> Vec<Instruction> {
        let seen = machine.seen();
        let circuit = &brewer.circuits[0];
        let portion = circuit.dispense_ml;
        let drip = circuit.outlet == Outlet::Grounds;
        let toggle = |thing| {
            vec![match seen.inside.contains(&thing) {
                true => Instruction::TakeOut { thing },
                false => Instruction::PutIn { thing, new: false },
            }]
        };
        let minutes = brewer.brew_minutes.unwrap_or(10.0);
        vec![match self {
            Self::Plug if seen.plugged => Instruction::Unplug,
            Self::Plug => Instruction::PlugIn,
            Self::Power if seen.on => Instruction::SwitchOff,
            Self::Power => Instruction::SwitchOn,
            Self::Lid if seen.lid_open => Instruction::CloseLid,
            Self::Lid => Instruction::OpenLid,
            Self::Brew if drip => Instruction::Brew { minutes },
            Self::Brew => Instruction::Press {
                ml: portion,
                in_mode: false,
            },
            Self::Half => Instruction::BrewHalf {
                minutes: minutes / 2.0,
            },
            Self::Pause => Instruction::PauseAtFirstDrops,
            Self::Purge => Instruction::Purge,
            Self::HotWater => Instruction::PressHotWater {
                ml: portion.min(236.6),
            },
            Self::Mode if seen.in_mode => Instruction::LeaveMode,
            Self::Mode => Instruction::EnterMode,
            Self::Programme => Instruction::Programme {
                minutes: 3.0 * minutes,
            },
            Self::Brewed => Instruction::TakeOut {
                thing: match circuit.outlet {
                    Outlet::Pod => Thing::Pod,
                    Outlet::Capsule => Thing::Capsule,
                    Outlet::Grounds => Thing::Grounds,
                },
            },
            Self::Filter => return toggle(Thing::Filter),
            Self::EmptyCapsule => return toggle(Thing::EmptyCapsule),
            Self::Disc => return toggle(Thing::Disc),
            Self::Adapter => return toggle(Thing::Adapter),
            Self::Bath => Instruction::PourBath {
                ml: plan.bath.total.ml,
                mg_l: plan.bath.percent * 10_000.0,
                lines: Vec::new(),
            },
            Self::Water => Instruction::FillUp {
                ml: brewer.takes_a_cup_at_a_time().then_some(portion),
            },
            Self::EmptyReservoir => Instruction::EmptyReservoir,
            Self::WashReservoir => Instruction::Wash(Washed::Reservoir),
            Self::Vessel => {
                let programme = Self::Programme.is_on(brewer);
                let holds_ml = match drip || programme {
                    true => brewer.reservoir_ml,
                    false => portion,
                };
                return vec![
                    Instruction::EmptyVessel,
                    Instruction::PlaceVessel { holds_ml },
                ];
            }
            Self::Needles => Instruction::ClearNeedles { lines: Vec::new() },
            Self::Note if seen.noted => Instruction::NoteOff,
            Self::Note => Instruction::NoteOn,
        }]
    }
}

pub(super) fn wording(brewer: &Brewer, units: Units) -> Wording<'_> {
    let circuit = &brewer.circuits[0];
    Wording {
        units,
        operation: &circuit.operation,
        sizes: &circuit.mechanics.sizes,
        outlet: circuit.outlet,
        tank: brewer.tank(),
        largest_ml: circuit.dispense_ml,
    }
}

pub(super) const fn thing(thing: Thing) -> &'static str {
    match thing {
        Thing::Pod => "a pod",
        Thing::Capsule => "a full capsule",
        Thing::Grounds => "coffee grounds",
        Thing::EmptyCapsule => "an empty capsule",
        Thing::Disc => "the service disc",
        Thing::Adapter => "the pod adapter",
        Thing::Filter => "the water filter",
        Thing::PaperFilter => "a paper filter",
        Thing::RinsePod => "a rinse pod",
    }
}

/// How it stands, for whoever does not see the drawing.
pub(super) fn words(
    seen: &MachineSeen,
    reservoir: &Filled,
    vessel: &Filled,
    inside: &[String],
    acid: f64,
) -> Vec<String> {
    let mut power = vec![match (seen.plugged, seen.on) {
        (true, true) => "Plugged in and switched on",
        (true, false) => "Plugged in, switched off",
        (false, _) => "Unplugged",
    }];
    power.extend(seen.in_mode.then_some("in its cleaning mode"));
    power.extend(seen.light.then_some("its light asks for descaling"));
    power.push(match seen.lid_open {
        true => "lid open",
        false => "lid closed",
    });
    let mut words = vec![format!("{}.", power.join(", "))];
    words.push(format!("Reservoir: {}.", reservoir.text));
    words.push(format!("Vessel: {}.", vessel.text));
    words.push(match inside {
        [] => "Nothing sits in it.".to_owned(),
        inside => format!("In it: {}.", inside.join(", ")),
    });
    if acid > 0.001 {
        words.push("Acid stands in the water path.".to_owned());
    }
    if seen.hot {
        words.push("The needles are hot.".to_owned());
    }
    words
}

pub(super) fn remedies() -> Vec<RemedyView> {
    [
        (Remedy::Needles, "Clear the needles"),
        (Remedy::Descale, "Descale it"),
        (Remedy::Filter, "Put a new filter in"),
        (Remedy::Wash, "Wash parts with soap"),
        (Remedy::Rinse, "Rinse more"),
        (Remedy::Reseat, "Unplug, reseat the reservoir"),
    ]
    .map(|(remedy, label)| RemedyView {
        remedy,
        label: label.to_owned(),
    })
    .into()
}

/// A vessel or reservoir.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Filled {
    /// Share of it that is full.
    pub share: f64,
    /// Whether acid is in it.
    pub acid: bool,
    /// "about 30 fl oz of bath".
    pub text: String,
}

/// A button of the scene.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ButtonView {
    /// The button.
    pub button: Button,
    /// What it does now.
    pub label: String,
}

/// A remedy to try.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RemedyView {
    /// The remedy.
    pub remedy: Remedy,
    /// Its name.
    pub label: String,
}
