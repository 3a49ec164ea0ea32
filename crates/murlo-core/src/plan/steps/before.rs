//! Steps before the bath: making ready, filter, parts, body, needles, the first glass; and needles alone.

use super::{
    AFTER, Doing, Draft, FILTER_SOAK, FLUSHES, Facts, HOLDER_SOAK, Hazard, Inside, PER_DISPENSE,
    PUT_BACK, Picture, Place, Step, way_of,
};
use crate::brewer::{Care, Family, Needle, Outlet, Part, Seat};
use crate::text;

/// "Just unclog": the needles, a flush, and a cup timed before and after.
pub(super) fn needle_work(facts: &Facts) -> Vec<Step> {
    let mut drafts = vec![
        Draft::new(
            "before",
            "Time a cup as it is",
            2.0,
            &[
                "Plug in, no pod. Run the largest size into a mug.",
                "Time it from the first drop to the last, and count the streams.",
            ],
        )
        .check(
            "You know how it flows today. It may be skipped, if nothing comes at all.",
            "Judging from memory: the change comes too slowly to see.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .act("Go on", measured(facts))
        .at(&[Place::Mug])
        .machine(Inside::Water, true),
        ready(facts),
    ];
    drafts.extend(needles(facts));
    if facts.circuit.outlet == Outlet::Capsule {
        drafts.push(capsule(facts));
    }
    drafts.push(
        Draft::new(
            AFTER,
            "Time a cup again",
            2.0,
            &["The largest size once more, no pod: seconds and streams as before."],
        )
        .check(
            "A steady stream without grit, about as quick as when it was well.",
            "Clearing without flushing: what was loosened settles in the next cup.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .act("Go on", measured(facts))
        .at(&[Place::Mug])
        .machine(Inside::Water, true),
    );
    drafts.push(
        Draft::new(
            PUT_BACK,
            "Put everything back",
            1.0,
            &["Holder and lid snapped home, tray in place."],
        )
        .check(
            "It closes without force.",
            "A holder that does not sit flush: water then runs around the pod.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water, true),
    );
    drafts.into_iter().map(|draft| draft.step).collect()
}

fn measured(facts: &Facts) -> Doing {
    Doing::Measure {
        cup: facts.units.volume(facts.circuit.dispense_ml),
    }
}

pub(super) fn filter(facts: &Facts) -> Option<Draft> {
    facts.brewer.filter?;
    let keep = if facts.today.filter_due {
        "Wash the housing. This cartridge is worn out: throw it away."
    } else {
        "Wash the housing; rinse the cartridge and keep it in a glass of water."
    };
    Some(
        Draft::new("filter", "Take the water filter out", 1.0, &["Lift the filter and its holder out of the reservoir.", keep])
            .check("Nothing but the reservoir is left for the bath to touch.", "Running acid through the filter: it spoils the filter and the filter weakens the acid.")
            .act("Filter is out", Doing::Once)
            .at(&[Place::Filter]),
    )
}

/// The new water filter soaks before it is fitted; it has time while the machine works.
pub(super) fn filter_soak(facts: &Facts) -> Option<Draft> {
    facts.brewer.filter?;
    facts.today.filter_due.then(|| {
        Draft::new(
            FILTER_SOAK,
            "Set the new filter to soak",
            1.0,
            &["Stand the new cartridge in a glass of fresh water; 5 to 20 minutes, as its leaflet says."],
        )
        .check(
            "It is under water and has stopped bubbling.",
            "Fitting it dry: air in it then holds the water back.",
        )
        .act("Filter is soaking", Doing::Once)
        .at(&[Place::Filter])
    })
}

/// A holder that does not come apart is soaked instead of forced.
pub(super) fn holder_soak(facts: &Facts) -> Option<Draft> {
    let needles = facts.needles();
    let whole = |n: &Needle| n.seat == Seat::Exit && !n.comes_out;
    needles.iter().any(whole).then(|| {
        Draft::new(
            HOLDER_SOAK,
            "Soak the pod holder",
            2.0,
            &[
                "Take the holder out, without force, and stand it in a cup of vinegar for ten minutes or more.",
                "Brush it, rinse it under the tap, put it back until it clicks.",
            ],
        )
        .check(
            "Light falls through its opening.",
            "Prising it apart: this one does not come apart.",
        )
        .caution(Hazard::Sharp, "The needle in it is sharp.")
        .caution(Hazard::Unplug, "Unplugged, and cool enough to touch.")
        .act("Holder is clean and back", Doing::Once)
        .at(&[Place::PodChamber, Place::CupNeedle])
    })
}

pub(super) fn ready(facts: &Facts) -> Draft {
    let mut what = vec![
        "Switch off and pull the plug.",
        "Move the brewer next to the sink; lay a towel for the parts.",
    ];
    let check = match facts.circuit.outlet {
        Outlet::Pod => {
            what.push("Open the lid and take out any pod.");
            "The pod chamber is empty. Look twice."
        }
        Outlet::Capsule => {
            what.push("Open it and take out any capsule; empty the box of used ones.");
            "The capsule seat is empty. Look twice."
        }
        Outlet::Grounds => "The basket and the carafe are empty.",
    };
    let guide = &facts.brewer.places.guide;
    Draft::new("ready", "Make ready", 4.0, &what)
        .told((!guide.is_empty()).then(|| format!("The maker's guide is kept here: {guide}.")))
        .check(check, "A forgotten pod or filter full of grounds: nothing the water shows afterwards can be trusted.")
        .caution(Hazard::Unplug, "Unplug with dry hands before any hand work.")
        .caution(Hazard::Manual, "Where the maker's manual says otherwise, the manual wins. Do not open the casing; faults belong to a qualified repairer.")
        .act("Unplugged and empty", Doing::Once)
        .at(&[way_of(facts.circuit.outlet)[0]])
}

/// One line for each way of washing that these parts want.
fn washing(parts: &[Part]) -> Vec<String> {
    let named = |care: Care| {
        let names: Vec<_> = parts
            .iter()
            .filter(|p| p.care == care)
            .map(|p| p.name.as_str())
            .collect();
        (!names.is_empty()).then(|| names.join(", "))
    };
    let mut lines = Vec::new();
    if let Some(names) = named(Care::Hand) {
        lines.push(format!("By hand in hot soapy water: {names}."));
    }
    if let Some(names) = named(Care::TopRack) {
        lines.push(format!(
            "By hand, or in the top rack of a dishwasher: {names}."
        ));
    }
    if let Some(names) = named(Care::RinseOnly) {
        lines.push(format!("Only rinsed: {names}."));
    }
    if let Some(names) = named(Care::WipeOnly) {
        lines.push(format!("Never under water, only wiped: {names}."));
    }
    lines
}

/// Parts the bath touches: clean before it comes.
pub(super) fn parts_in_use(facts: &Facts) -> Option<Draft> {
    let mut parts = facts.brewer.parts();
    parts.retain(|p| p.in_use);
    let [chamber, _, vessel] = way_of(facts.circuit.outlet);
    washed(
        "parts",
        "Wash the loose parts",
        &parts,
        "Brush, rinse, dry, and put back.",
        4.0,
        &[Place::Reservoir, chamber, vessel],
    )
}

/// Parts the machine can spare while it works.
pub(super) fn other_parts(facts: &Facts) -> Option<Draft> {
    let mut parts = facts.brewer.parts();
    parts.retain(|p| !p.in_use);
    washed(
        "others",
        "Wash the other parts",
        &parts,
        "Brush, rinse, and dry.",
        3.0,
        &[],
    )
}

fn washed(
    id: &str,
    title: &str,
    parts: &[Part],
    then: &str,
    minutes: f64,
    places: &[Place],
) -> Option<Draft> {
    if parts.is_empty() {
        return None;
    }
    let lines = washing(parts);
    let mut what: Vec<&str> = lines.iter().map(String::as_str).collect();
    what.push(then);
    Some(
        Draft::new(id, title, minutes, &what)
            .check("Parts feel smooth, smell of nothing, and sit flush.", "Putting the electric body into water, or a part into the dishwasher that the manual does not allow there.")
            .act("Parts are washed", Doing::Once)
            .at(places),
    )
}

pub(super) fn body() -> Draft {
    Draft::new("body", "Wipe the body", 3.0, &["Damp soft cloth outside; a cotton swab with a little vinegar into the crevices where coffee dries on.", "Wipe any household cleaner off completely: acid comes next."])
        .check("No coffee crust and no cleaner is left.", "Leaving a cleaner on a part that acid will reach.")
        .caution(Hazard::NeverMix, "Never let bleach or any other cleaner meet the acid: the gas is dangerous.")
        .caution(Hazard::Unplug, "Keep the plug out and the body out of water.")
        .act("Body is clean", Doing::Once)
        .at(&[Place::Body])
}

/// Clearing by hand, then flushing what was loosened.
pub(super) fn needles(facts: &Facts) -> Vec<Draft> {
    let needles = facts.needles();
    if needles.is_empty() {
        return Vec::new();
    }
    let has = |seat| needles.iter().any(|n: &Needle| n.seat == seat);
    let mut what = Vec::new();
    if has(Seat::Exit) {
        what.push("Cup needle (exit): brace the machine and take the holder out, push from beneath where there is no needle, pull from above. Clear its holes and the opening under its seat, rinse it under the tap, snap it back flush.");
    }
    if has(Seat::Entrance) {
        what.push("Lid needle (entrance): push the rubber seal back. Its holes face sideways: come in at an angle, bend the clip if needed, and go along the grooves of the rubber.");
    }
    let spots: usize = needles.iter().map(|n| n.spots().count()).sum();
    let fixed = needles.iter().any(|n| n.seat == Seat::Exit && !n.comes_out);
    let holder = if fixed {
        "This holder does not come apart and is not forced: soak it in a cup of vinegar instead."
    } else {
        "A holder that does not come apart is not forced: soak it in a cup of vinegar instead."
    };
    let clear = Draft::new("needles", "Clear the needles", 4.0, &what)
        .check("The clip comes out clean. Dark oil on it means: once more.", "Pushing far up: behind the needle is a soft tube that a clip can pierce. Wooden picks snap off inside.")
        .caution(Hazard::Sharp, "The needles are sharp, the largest most of all, and hot after a brew.")
        .caution(Hazard::Unplug, "Unplugged, dry hands.")
        .caution(Hazard::Manual, holder)
        .act("Clip comes out clean", Doing::Clear { needles })
        .shows(Picture::Needles, text::count(spots as u32, "place to clear", "places to clear"));
    let cup = facts.units.volume(facts.circuit.dispense_ml.min(240.0));
    let line = format!(
        "Plug in, close the lid without a pod, run about {cup} of plain water. Look for grit and a steady stream."
    );
    let flush = Draft::new(
        "flush",
        "Flush the needles",
        PER_DISPENSE * f64::from(FLUSHES),
        &[&line],
    )
    .check(
        "No grit, a steady stream. If not: clear again, flush again.",
        "A needle cleared but not flushed: the crumbs end in the next cup.",
    )
    .caution(
        Hazard::Hot,
        "The water is near boiling, and the needles are hot afterwards.",
    )
    .act("Flushed", Doing::Count { target: FLUSHES })
    .at(&[Place::LidNeedle, Place::CupNeedle])
    .machine(Inside::Water, true);
    vec![clear, flush]
}

pub(super) fn capsule(facts: &Facts) -> Draft {
    let in_place = if facts.brewer.family == Family::CodedCapsule {
        "Put the service disc in, or a used capsule that you have emptied and rinsed: without a code to read nothing runs."
    } else {
        "Put in a used capsule that you have emptied, rinsed and closed with nothing in it: water only passes with one in place."
    };
    Draft::new(
        "capsule",
        "Clear the capsule seat",
        3.0,
        &[
            "Wipe the piercing points, the plate with the holes and the seal with a damp cotton swab; dried coffee sits in the holes.",
            in_place,
        ],
    )
    .check("The empty capsule is in and it closes without force. Open it at the end to be sure that it held nothing.", "Running the bath through a full capsule, or with none: then no water passes and the pump runs hot.")
    .caution(Hazard::Sharp, "The piercing points are sharp.")
    .caution(Hazard::Manual, "Forbidden by the maker, or a special cleaning capsule came with it? Then the manual's way is the way.")
    .act("Empty capsule is in", Doing::Once)
    .at(&[Place::PodChamber])
}

pub(super) fn baseline(facts: &Facts) -> Draft {
    let each = facts.units.volume(facts.circuit.dispense_ml.min(240.0));
    let first = format!(
        "Plug in. Run plain water, about {each}, into a perfectly clean glass, and put a glass of tap water beside it."
    );
    Draft::new(
        "baseline",
        "Look at the first glass",
        2.0,
        &[&first, "Note colour, bits and how many streams fall."],
    )
    .check(
        "You know what the brewer gives today. This step may be skipped; it makes success visible.",
        "Judging from memory: the change comes too slowly to see.",
    )
    .caution(Hazard::Hot, "The water is near boiling.")
    .act("Seen it", measured(facts))
    .machine(Inside::Water, true)
    .pictured(Picture::Glasses)
}
