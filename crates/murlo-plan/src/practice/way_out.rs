//! The way out of each harm.

use crate::machine::Harm;

pub(super) const fn way_out(harm: Harm) -> &'static str {
    match harm {
        Harm::NotPluggedIn => "Plug it in, hands dry.",
        Harm::SwitchedOff => "Switch it on.",
        Harm::LidOpen => "Close the lid.",
        Harm::LidClosed => "Open the lid first.",
        Harm::ModeLost => "Enter the cleaning mode again, and leave plug and switch alone.",
        Harm::NoSuchWay => "This one has none: press cup by cup.",
        Harm::VesselOverflows => "Let go. Unplug, wipe up, empty the vessel, then go on.",
        Harm::ReservoirOverflows => "Pour some away: no more than the top mark.",
        Harm::AcidThroughFilter => "Take the filter out before acid comes, and put it back last.",
        Harm::PumpRunsDry => "Fill the reservoir before the next press.",
        Harm::NothingPasses => "Put the used, emptied capsule or the disc in.",
        Harm::NotRearmed => "Open and close what re-arms it.",
        Harm::HandsAtHotNeedles => "Wait some minutes: let the clock run, then reach in.",
        Harm::HandsWhilePluggedIn => "Pull the plug first.",
        Harm::ColdIntoHotGlass => "Let the glass cool until you can hold it.",
        Harm::WillNotStart => "Run the bath by hand instead.",
        Harm::PartMissing => "Put the disc or the adapter in.",
        Harm::DrinkBrewed => "Take the pod or the grounds out, and look twice.",
        Harm::CleanerMeetsAcid => "Empty the reservoir before you wash it.",
        Harm::BathOnBath => "Empty the reservoir first.",
        Harm::NotFlushed => "Flush with plain water, twice.",
        Harm::VesselLeftFull => "Empty the vessel and put it back.",
        Harm::BathUnused => "Run the bath through before it is poured away.",
        Harm::LeftSwitchedOn => "Switch it off while it soaks, or use its cleaning mode.",
        Harm::NotWashed => "Empty and wash the reservoir, then fill it.",
        Harm::OutletLeftOut => "Let a cup of bath through the hot-water outlet.",
        Harm::AcidLeft => "Rinse on.",
        Harm::LeftInside => "Take out what you put in.",
        Harm::FilterLeftOut => "Put the filter back.",
        Harm::LeftUnready => "Leave the mode, plug in, close the lid.",
        Harm::NoteWrong => "The note comes off when the acid is out, not before.",
    }
}
