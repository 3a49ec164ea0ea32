//! What the simulated brewer refuses, and what would happen on a real one.

use serde::{Deserialize, Serialize};

/// What a real brewer, or the person at it, would suffer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Harm {
    /// It is told to work without being plugged in.
    NotPluggedIn,
    /// It is told to work while it is switched off.
    SwitchedOff,
    /// It is told to work with its lid open.
    LidOpen,
    /// The cleaning mode is needed, and is not on any more.
    ModeLost,
    /// A mode or programme is asked for that it does not have.
    NoSuchWay,
    /// More comes than the vessel still holds.
    VesselOverflows,
    /// More is poured in than the reservoir holds.
    ReservoirOverflows,
    /// Acid runs through the water filter, or the filter goes back into acid.
    AcidThroughFilter,
    /// The pump runs without water.
    PumpRunsDry,
    /// Nothing is in place that lets water pass.
    NothingPasses,
    /// It was not re-armed since the last press.
    NotRearmed,
    /// Hands at needles that were just heated.
    HandsAtHotNeedles,
    /// Hands at the machine's inside while it is plugged in.
    HandsWhilePluggedIn,
    /// Cold water into hot glass.
    ColdIntoHotGlass,
    /// The programme starts only while the light asks.
    WillNotStart,
    /// The programme's disc or adapter is missing.
    PartMissing,
    /// Water runs through what is brewed, with acid or unasked.
    DrinkBrewed,
    /// Soap or a cleaner meets the acid.
    CleanerMeetsAcid,
    /// What belongs to one bath is poured onto another.
    BathOnBath,
    /// What the needles were cleared of was not flushed out.
    NotFlushed,
    /// A vessel is left with hot liquid in it.
    VesselLeftFull,
    /// The bath never went where the chalk is.
    BathUnused,
    /// The lid is closed over what is to be put in or taken out.
    LidClosed,
    /// The bath stands in a machine that anybody may brew with.
    LeftSwitchedOn,
    /// Rinse water is filled onto what is left of the bath.
    NotWashed,
    /// The hot-water outlet got no bath though it is used.
    OutletLeftOut,
    /// Acid is left inside at the end.
    AcidLeft,
    /// Something that was put in is still in.
    LeftInside,
    /// The filter did not go back.
    FilterLeftOut,
    /// It is left in its cleaning mode, or unready.
    LeftUnready,
    /// The note still says that acid is inside, or never did.
    NoteWrong,
}

impl Harm {
    /// Every harm.
    pub const ALL: [Self; 31] = [
        Self::NotPluggedIn,
        Self::SwitchedOff,
        Self::LidOpen,
        Self::ModeLost,
        Self::NoSuchWay,
        Self::VesselOverflows,
        Self::ReservoirOverflows,
        Self::AcidThroughFilter,
        Self::PumpRunsDry,
        Self::NothingPasses,
        Self::NotRearmed,
        Self::HandsAtHotNeedles,
        Self::HandsWhilePluggedIn,
        Self::ColdIntoHotGlass,
        Self::WillNotStart,
        Self::PartMissing,
        Self::DrinkBrewed,
        Self::CleanerMeetsAcid,
        Self::BathOnBath,
        Self::NotFlushed,
        Self::VesselLeftFull,
        Self::BathUnused,
        Self::LidClosed,
        Self::LeftSwitchedOn,
        Self::NotWashed,
        Self::OutletLeftOut,
        Self::AcidLeft,
        Self::LeftInside,
        Self::FilterLeftOut,
        Self::LeftUnready,
        Self::NoteWrong,
    ];

    /// What would happen, for a person.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::NotPluggedIn => "it is not plugged in, so nothing happens",
            Self::SwitchedOff => "it is switched off, so nothing happens",
            Self::LidOpen => "its lid is open, so nothing happens",
            Self::ModeLost => "the cleaning mode is not on any more",
            Self::NoSuchWay => "it has no such mode or programme",
            Self::VesselOverflows => "the vessel overflows, near boiling",
            Self::ReservoirOverflows => "the reservoir overflows",
            Self::AcidThroughFilter => "acid runs through the water filter",
            Self::PumpRunsDry => "the pump runs dry",
            Self::NothingPasses => "nothing is in place that lets water pass: the pump runs hot",
            Self::NotRearmed => "it was not re-armed, so nothing happens",
            Self::HandsAtHotNeedles => "the needles were just heated and burn",
            Self::HandsWhilePluggedIn => "hands are inside while it is plugged in",
            Self::ColdIntoHotGlass => "hot glass cracks in cold water",
            Self::WillNotStart => "the programme starts only while its light asks",
            Self::PartMissing => "the disc or adapter of the programme is not in place",
            Self::DrinkBrewed => {
                "what should be brewed is still in: nothing that comes can be trusted"
            }
            Self::CleanerMeetsAcid => "soap or a cleaner meets the acid",
            Self::BathOnBath => "the bath is poured onto what is still in the reservoir",
            Self::NotFlushed => "what was loosened at the needles ends in the next cup",
            Self::VesselLeftFull => "a vessel is left full",
            Self::BathUnused => "the bath never ran through",
            Self::LidClosed => "the lid is closed",
            Self::LeftSwitchedOn => {
                "it is switched on while acid stands in it: somebody brews with it"
            }
            Self::NotWashed => "rinse water is filled onto what is left of the bath",
            Self::OutletLeftOut => "the hot-water outlet got no bath",
            Self::AcidLeft => "acid is left inside",
            Self::LeftInside => "something that was put in is still in",
            Self::FilterLeftOut => "the water filter was not put back",
            Self::LeftUnready => "it is left in its cleaning mode, or not plugged in",
            Self::NoteWrong => "the note on it does not say what is inside",
        }
    }
}
