//! Drafts from the rhythm of homes, what they do when those before them are done, and a week of them.

use super::lanes::{card, day, work};
use super::*;
use crate::counter::BrewerCard;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_base::days::days_after;
use murlo_brewer::home::{Coming as HomeComing, DayOfWeek, DaysOff, Home, Rhythm, Room};
use murlo_brewer::{Brewer, BrewerDraft};

const CLOCK: WeekClock<'static> = WeekClock {
    zone: &TimeZone::UTC,
    has_12_hours: false,
};

/// Somebody comes every `every` weeks on the weekday of the first day.
fn home(every: u32) -> Home {
    Home {
        coming: HomeComing {
            rhythm: Rhythm::Weeks {
                every,
                since: day(0),
                days: vec![DayOfWeek::Wednesday],
                from: time(9, 0, 0, 0),
                until: Some(time(12, 0, 0, 0)),
            },
            ..HomeComing::default()
        },
        rooms: vec![Room {
            id: "bath".into(),
            name: "Bath".into(),
            minutes: 12,
        }],
        ..Home::named("h", "Quay")
    }
}

struct World {
    homes: Vec<Home>,
    brewers: HashMap<String, Brewer>,
    cards: Vec<BrewerCard>,
    visits: Vec<Visit>,
    off: Vec<DaysOff>,
}

impl World {
    fn new(every: u32, cards: Vec<BrewerCard>) -> Self {
        let brewer = |card: &BrewerCard| {
            let draft = BrewerDraft {
                nickname: card.id.clone(),
                ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "hard", day(-30))
            };
            let brewer = draft.check(card.id.clone(), None, day(-30)).unwrap();
            (card.id.clone(), brewer)
        };
        Self {
            homes: vec![home(every), Home::named("o", "Studio")],
            brewers: cards.iter().map(brewer).collect(),
            cards,
            visits: Vec::new(),
            off: Vec::new(),
        }
    }

    fn ahead(&self) -> VisitsAhead<'_> {
        VisitsAhead {
            places: KnownPlaces {
                homes: &self.homes,
                brewers: &self.brewers,
                visits: &self.visits,
                off: &self.off,
            },
            cards: &self.cards,
            moved: &[],
            today: day(0),
        }
    }

    /// "0: pod-main" for each draft, by days from the first.
    fn told(&self, until: i32) -> Vec<String> {
        let coming = self.ahead().until(day(until));
        let told = coming.drafts.iter().map(|draft| {
            let stops = draft.visit.stops.iter().map(|stop| stop.id.as_str());
            let after = day(0).until(draft.visit.day).unwrap().get_days();
            let stops: Vec<_> = stops.collect();
            format!("{after}: {}", stops.join(" "))
                .trim_end()
                .to_owned()
        });
        told.collect()
    }
}

/// Due on a day, with such a share of the limit added each day.
fn due(at: i32, a_day: f64) -> BrewerCard {
    let mut card = card("pod", Family::PodReservoir, (at - 5, at, at + 9));
    for circuit in &mut card.circuits {
        circuit.forecast.used_a_day = a_day;
        circuit.running_clean = None;
        circuit.acid = None;
    }
    card
}

#[test]
fn the_first_day_of_the_tests_is_a_wednesday() {
    assert_eq!(day(0).weekday(), jiff::civil::Weekday::Wednesday);
}

#[test]
fn what_one_visit_does_the_next_does_not_do_again() {
    for (at, a_day, expected) in [
        // Due before the second visit comes: done in the first, and again as long after it as its pace says.
        (0, 1.0 / 21.0, ["0: pod-main", "7:", "14: pod-main", "21:"]),
        (7, 1.0 / 21.0, ["0: pod-main", "7:", "14: pod-main", "21:"]),
        (8, 1.0 / 100.0, ["0:", "7: pod-main", "14:", "21:"]),
        (60, 1.0 / 100.0, ["0:", "7:", "14:", "21:"]),
        // Never more often than once a week.
        (
            0,
            1.0,
            ["0: pod-main", "7: pod-main", "14: pod-main", "21: pod-main"],
        ),
    ] {
        let world = World::new(1, vec![due(at, a_day)]);
        assert_eq!(world.told(21), expected, "{at} {a_day}");
    }
}

#[test]
fn small_works_fall_due_on_their_own_day_and_a_clean_takes_them_along() {
    for (at, is_asked, every, expected) in [
        (0, true, 14, ["0: pod-tray", "7:", "14: pod-tray"]),
        (8, true, 30, ["0:", "7:", "14: pod-tray"]),
        (8, false, 30, ["0:", "7:", "14:"]),
    ] {
        let mut card = due(90, 0.001);
        work(&mut card, at, is_asked, false);
        card.upkeep[0].days = Some(every);
        assert_eq!(
            World::new(1, vec![card]).told(14),
            expected,
            "{at} {is_asked}"
        );
    }
    // The clean in the first visit washes the tray too.
    let mut card = due(0, 1.0 / 90.0);
    work(&mut card, 0, true, false);
    card.upkeep[0].days = Some(14);
    let world = World::new(1, vec![card]);
    assert_eq!(world.told(14), ["0: pod-main", "7:", "14: pod-tray"]);
}

#[test]
fn a_day_that_somebody_comes_anyway_has_no_draft_and_what_was_confirmed_says_what_changed() {
    let mut world = World::new(2, vec![due(3, 1.0 / 60.0)]);
    assert_eq!(world.told(28), ["0: pod-main", "14:", "28:"]);
    let draft = world.ahead().until(day(0)).drafts.remove(0);
    assert_eq!(draft.visit.rooms.len(), 1);
    assert_eq!(draft.visit.until, Some(time(12, 0, 0, 0)));
    let confirmed = Visit {
        id: "v".into(),
        ..draft.visit
    };
    confirmed.check().unwrap();
    world.visits = vec![confirmed.clone()];
    assert_eq!(world.told(28), ["14:", "28:"]);
    let changes = |world: &World| world.ahead().until(day(14)).changes["v"].clone();
    assert_eq!(changes(&world), Vec::<String>::new());
    // Moved by two days it still is that time's visit.
    world.visits[0].day = day(2);
    assert_eq!(world.told(14), ["14:"]);
    // It was descaled meanwhile.
    world.cards = vec![due(60, 1.0 / 60.0)];
    assert_eq!(changes(&world).len(), 1, "{:?}", changes(&world));
    assert!(
        changes(&world)[0].contains("not before"),
        "{:?}",
        changes(&world)
    );
    // Something else falls due.
    world.cards = vec![due(3, 1.0 / 60.0)];
    work(&mut world.cards[0], 1, true, false);
    world.cards[0].upkeep[0].job = Job::RinsePod;
    assert_eq!(changes(&world), ["pod, Drip tray: due since 26 Nov"]);
    // What was taken out by hand is no change.
    world.cards[0].upkeep.clear();
    world.visits[0].stops.clear();
    assert_eq!(changes(&world), Vec::<String>::new());
    // A visit planned by hand for that very day takes it too; put away, the draft is back.
    world.visits = vec![Visit {
        rhythm_day: None,
        day: day(14),
        ..confirmed
    }];
    assert_eq!(world.told(28), ["0: pod-main", "28:"]);
}

#[test]
fn a_visit_planned_by_hand_knows_what_those_before_it_do() {
    let world = World::new(1, vec![due(0, 1.0 / 60.0)]);
    let proposed = |day: Date| {
        let all = world.ahead().proposed(&["h".to_owned()], day, None);
        all.iter().any(|one| one.is_in)
    };
    // That of the first day descales it.
    assert!(proposed(day(0)));
    assert!(!proposed(day(1)));
    let own = Visit {
        id: "v".into(),
        ..world.ahead().until(day(0)).drafts.remove(0).visit
    };
    let world = World {
        visits: vec![own],
        ..World::new(1, vec![due(0, 1.0 / 60.0)])
    };
    for (except, is_in) in [(None, false), (Some("other"), false), (Some("v"), true)] {
        let all = world.ahead().proposed(&["h".to_owned()], day(2), except);
        assert_eq!(all.iter().any(|one| one.is_in), is_in, "{except:?}");
    }
}

#[test]
fn when_one_comes_again_is_as_the_rhythm_says() {
    let mut world = World::new(2, vec![due(0, 0.01)]);
    let next = |world: &World, homes: &[&str], from: i32| {
        let homes: Vec<String> = homes.iter().map(|id| (*id).to_owned()).collect();
        world.ahead().places.next(&homes, day(from))
    };
    assert_eq!(next(&world, &["h"], 0), day(14));
    assert_eq!(next(&world, &["h"], 13), day(14));
    assert_eq!(next(&world, &["h", "o"], 14), day(28));
    assert_eq!(
        next(&world, &["o"], 0),
        day(28),
        "four weeks where nobody knows"
    );
    world.off = vec![DaysOff {
        from: day(10),
        until: day(20),
    }];
    assert_eq!(next(&world, &["h"], 0), day(28));
    let coming = world.ahead().until(day(28));
    let off: Vec<_> = coming.drafts.iter().map(|draft| draft.is_off).collect();
    assert_eq!(off, [false, true, false]);
}

fn block(
    id: &str,
    on: Date,
    from: i8,
    minutes: f64,
    likely_min: Option<f64>,
    stage: BlockStage,
) -> Block {
    Block {
        id: Some(id.into()),
        home_id: id.into(),
        homes: format!("Home {id}"),
        rhythm_day: None,
        stage,
        day: on,
        week_later: days_after(on, 7),
        from: time(from, 0, 0, 0),
        minutes,
        likely_min,
        hours: String::new(),
        works: Vec::new(),
        left_out: Vec::new(),
        changes: Vec::new(),
        minds: Vec::new(),
    }
}

#[test]
fn two_visits_that_meet_are_named_and_a_week_is_told_in_one_line() {
    use BlockStage::{Closed, Draft, Planned, Running};
    let (monday, sunday) = week_of(day(0));
    assert_eq!((monday, sunday), (day(-2), day(4)));
    assert_eq!(week_of(sunday), (monday, sunday));
    for (first, likely, second_at, stage, met) in [
        (60.0, None, 10, Planned, None),
        (
            61.0,
            None,
            10,
            Planned,
            Some("Home a is not over before 10:01"),
        ),
        (
            50.0,
            Some(90.0),
            10,
            Draft,
            Some("Home a is not over before 10:30"),
        ),
        (90.0, None, 10, Closed, None),
        (
            90.0,
            None,
            10,
            Running,
            Some("Home a is not over before 10:30"),
        ),
    ] {
        let blocks = vec![
            block("b", day(0), second_at, 30.0, None, stage),
            block("a", day(0), 9, first, likely, Planned),
            block("c", day(1), 9, 30.0, None, Planned),
        ];
        let week = ThisWeek::of(blocks, day(0), day(0), &[], CLOCK);
        let minds: Vec<_> = week
            .rows
            .iter()
            .map(|row| row.blocks[0].minds.first().map(String::as_str))
            .collect();
        assert_eq!(minds, [None, met, None], "{first} {stage:?}");
    }
    let told = |blocks: Vec<Block>| ThisWeek::of(blocks, day(0), day(0), &[], CLOCK).text;
    let one = |stage, likely| block("a", day(0), 9, 60.0, likely, stage);
    for (blocks, text) in [
        (vec![], "No visit"),
        (vec![one(Closed, None)], "1 visit, over"),
        (vec![one(Planned, None)], "1 visit, 1 h"),
        (
            vec![one(Draft, Some(60.5)), one(Closed, None)],
            "1 visit, 1 h; 1 to confirm",
        ),
        (
            vec![one(Draft, Some(61.0)), one(Running, None)],
            "2 visits, 2 h, or 2 h 1 min with further baths; 1 to confirm",
        ),
    ] {
        assert_eq!(told(blocks), text);
    }
    let off = [DaysOff {
        from: day(1),
        until: day(1),
    }];
    let week = ThisWeek::of(vec![], day(0), day(0), &off, CLOCK);
    let days: Vec<_> = week
        .days
        .iter()
        .map(|one| (one.is_over, one.is_today, one.is_off))
        .collect();
    assert_eq!(
        days[1..4],
        [
            (true, false, false),
            (false, true, false),
            (false, false, true)
        ]
    );
    assert_eq!((week.before, week.after), (day(-9), day(5)));
}

#[test]
fn a_block_says_its_hours_its_works_and_what_there_is_no_time_for() {
    let (_, [pod, drip, _]) = three();
    let tasks = [task(&stop("pod"), &pod), task(&stop("drip"), &drip)];
    let whole = Visit {
        until: None,
        ..visit(&["pod", "drip"], vec![room("bath", "h", 12)])
    };
    let course = VisitCourse::default();
    let homes = HashMap::from([("h".to_owned(), "Quay".to_owned())]);
    let now = whole.instants(&course, &TimeZone::UTC).0;
    let order = |leave_by| {
        let terms = ScheduleTerms {
            now,
            leave_by,
            ..terms(Order::Shortest, &homes)
        };
        schedule(&tasks, &whole.open_rooms(&course), &terms)
    };
    let of = |ordered: &Ordered| {
        let planned = Planned {
            visit: &whole,
            course: &course,
            draft: None,
            tasks: &tasks,
            unplanned: vec!["Old drip".to_owned()],
            ordered: Some(ordered),
            homes: vec![("h", "Quay")],
            minds: Vec::new(),
            changes: Vec::new(),
        };
        Block::of(planned, CLOCK)
    };
    let open = of(&order(None));
    assert_eq!(
        open.works,
        [
            "Descale: pod, drip",
            "Cannot be planned: Old drip",
            "Rooms: Bathroom"
        ]
    );
    assert!(
        open.hours.starts_with("09:00–") || open.hours.starts_with("9:00–"),
        "{}",
        open.hours
    );
    assert_eq!(open.left_out, Vec::<String>::new());
    assert_eq!(open.stage, BlockStage::Planned);
    let short = of(&order(Some(now + SignedDuration::from_mins(15))));
    assert_eq!(short.left_out, ["pod: descale", "drip: descale"]);
    assert!(short.minutes <= 15.0 && open.minutes > 60.0);
}

#[test]
fn each_home_of_a_visit_waits_for_its_own_next_time() {
    let mut other = due(10, 0.01);
    other.id = "cup".into();
    let mut world = World::new(1, vec![due(10, 0.01), other]);
    world.brewers.get_mut("cup").unwrap().home_id = "o".into();
    let homes = ["h".to_owned(), "o".to_owned()];
    // One comes to the first again in a week; to the other nobody knows when.
    let all = world.ahead().proposed(&homes, day(0), None);
    let is_in: Vec<_> = all
        .iter()
        .map(|one| (one.stop.brewer_id.as_str(), one.is_in))
        .collect();
    assert_eq!(is_in, [("cup", true), ("pod", false)]);
}
