import {
  mdiBeakerOutline,
  mdiClipboardTextClock,
  mdiCoffeeMakerOutline,
  mdiCog,
  mdiCupboardOutline,
  mdiDotsHorizontal,
  mdiMapMarkerPath,
  mdiSchoolOutline,
  mdiWaterOutline,
} from "@mdi/js";
import {
  BottomNavigation,
  BottomNavigationAction,
  Box,
  Button,
  Paper,
  Stack,
  SvgIcon,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Link, Navigate, Route, Routes, useLocation, useNavigate } from "react-router";
import { Elsewhere } from "./acts/Elsewhere";
import { useChanges } from "./api/client";
import { queries } from "./api/queries";
import { CounterPage } from "./counter/CounterPage";
import { Alarms } from "./ui/Alarms";
import { Boundary } from "./ui/Boundary";
import { EraseProvider } from "./ui/EraseForGood";
import { mayAct } from "./ui/keys";
import { Loading, Page } from "./ui/Notices";
import { Unanswered } from "./ui/Unanswered";
import { UndoProvider } from "./ui/Undo";

const BrewerPage = lazy(() => import("./brewer/BrewerPage").then((m) => ({ default: m.BrewerPage })));
const BrewerSheet = lazy(() => import("./brewer/sheet/BrewerSheet").then((m) => ({ default: m.BrewerSheet })));
const FirstMinute = lazy(() => import("./first/FirstMinute").then((m) => ({ default: m.FirstMinute })));
const PlanPage = lazy(() => import("./plan/PlanPage").then((m) => ({ default: m.PlanPage })));
const CleanPage = lazy(() => import("./clean/CleanPage").then((m) => ({ default: m.CleanPage })));
const MixPage = lazy(() => import("./mix/MixPage").then((m) => ({ default: m.MixPage })));
const TroublePage = lazy(() => import("./trouble/TroublePage").then((m) => ({ default: m.TroublePage })));
const WatersPage = lazy(() => import("./waters/WatersPage").then((m) => ({ default: m.WatersPage })));
const LogPage = lazy(() => import("./log/LogPage").then((m) => ({ default: m.LogPage })));
const PracticePage = lazy(() => import("./practice/PracticePage").then((m) => ({ default: m.PracticePage })));
const HouseholdPage = lazy(() => import("./household/HouseholdPage").then((m) => ({ default: m.HouseholdPage })));

const SignIn = lazy(() => import("./devices/SignIn").then((m) => ({ default: m.SignIn })));
const PairPage = lazy(() => import("./devices/PairPage").then((m) => ({ default: m.PairPage })));
const LookPage = lazy(() => import("./devices/LookPage").then((m) => ({ default: m.LookPage })));

const TeachPage = lazy(() => import("./buttons/TeachPage").then((m) => ({ default: m.TeachPage })));
const BegunPage = lazy(() => import("./begun/BegunPage").then((m) => ({ default: m.BegunPage })));
const WaySheet = lazy(() => import("./ways/WaySheet").then((m) => ({ default: m.WaySheet })));

const RoundPage = lazy(() => import("./rounds/RoundPage").then((m) => ({ default: m.RoundPage })));
const OutboxPage = lazy(() => import("./rounds/OutboxPage").then((m) => ({ default: m.OutboxPage })));
const OwedPage = lazy(() => import("./rounds/OwedPage").then((m) => ({ default: m.OwedPage })));
const PlanVisit = lazy(() => import("./rounds/PlanVisit").then((m) => ({ default: m.PlanVisit })));
const VisitPage = lazy(() => import("./rounds/VisitPage").then((m) => ({ default: m.VisitPage })));
const VisitCards = lazy(() => import("./rounds/CardsPage").then((m) => ({ default: m.VisitCards })));
const CleanCard = lazy(() => import("./rounds/CardsPage").then((m) => ({ default: m.CleanCard })));
const CupboardPage = lazy(() => import("./cupboard/CupboardPage").then((m) => ({ default: m.CupboardPage })));

const places = [
  { to: "/", label: "Counter", icon: mdiCoffeeMakerOutline },
  { to: "/round", label: "Round", icon: mdiMapMarkerPath },
  { to: "/mix", label: "Mix", icon: mdiBeakerOutline },
  { to: "/waters", label: "Waters", icon: mdiWaterOutline },
  { to: "/log", label: "Log", icon: mdiClipboardTextClock },
  { to: "/cupboard", label: "Cupboard", icon: mdiCupboardOutline },
  { to: "/practice", label: "Practice", icon: mdiSchoolOutline },
  { to: "/household", label: "Household", icon: mdiCog },
] as const;

/** What a thumb reaches at the bottom of a phone; the rest is behind "More". */
const onBar: readonly string[] = ["/", "/round", "/mix", "/log"];
const bar = [
  ...places.filter((place) => onBar.includes(place.to)),
  { to: "/more", label: "More", icon: mdiDotsHorizontal },
];

/** The places that have no room on a phone's bar. */
function More() {
  return (
    <Page title="More">
      <Stack spacing={1}>
        {places
          .filter((place) => !onBar.includes(place.to))
          .map((place) => (
            <Button
              key={place.to}
              component={Link}
              to={place.to}
              variant="outlined"
              size="large"
              sx={{ justifyContent: "flex-start", minHeight: 56 }}
              startIcon={
                <SvgIcon>
                  <path d={place.icon} />
                </SvgIcon>
              }
            >
              {place.label}
            </Button>
          ))}
      </Stack>
    </Page>
  );
}

export function App() {
  const { pathname } = useLocation();
  const session = useQuery(queries.session());
  if (pathname === "/look")
    return (
      <Suspense fallback={<Loading />}>
        <LookPage />
      </Suspense>
    );
  // Nothing else is asked while it is not known whether it would be answered.
  if (pathname === "/pair" && session.isPending) return <Loading />;
  if (session.data && !session.data.signed_in) {
    const toTrust = session.data.own_authority && !session.data.is_secure;
    return (
      <Suspense fallback={<Loading />}>
        {pathname === "/pair" || toTrust ? <PairPage session={session.data} /> : <SignIn session={session.data} />}
      </Suspense>
    );
  }
  return (
    <UndoProvider>
      <EraseProvider>
        <Shell />
      </EraseProvider>
    </UndoProvider>
  );
}

function Shell() {
  useChanges();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const keysOff = useQuery(queries.household()).data?.settings.keys_off ?? false;
  const here = places.findIndex((place) =>
    place.to === "/"
      ? pathname === "/"
      : pathname.startsWith(place.to) || (place.to === "/round" && pathname.startsWith("/visits/")),
  );
  const inHand = /^\/(cleans|visits)\//.test(pathname);
  const at = places[here]?.to ?? pathname;
  // What stands behind "More" is marked there.
  const onTheBar = bar.findIndex((place) => place.to === (onBar.includes(at) || here < 0 ? at : "/more"));
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      // In a clean digits answer what is asked.
      if (inHand) return;
      const place = places[Number(event.key) - 1];
      if (mayAct(event, keysOff) && place) navigate(place.to);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [navigate, keysOff, inHand]);
  return (
    <Box sx={{ display: "flex", minHeight: "100dvh" }}>
      <Stack
        component="nav"
        aria-label="Places"
        sx={{
          display: { xs: "none", md: "flex" },
          width: 190,
          flexShrink: 0,
          borderRight: 1,
          borderColor: "divider",
          p: 2,
          gap: 0.5,
        }}
      >
        <Typography component="p" variant="h2" sx={{ px: 1, pb: 2 }}>
          Murlo
        </Typography>
        {places.map((place, i) => (
          <Button
            key={place.to}
            component={Link}
            to={place.to}
            color={i === here ? "primary" : "inherit"}
            variant={i === here ? "outlined" : "text"}
            aria-current={i === here ? "page" : undefined}
            startIcon={
              <SvgIcon>
                <path d={place.icon} />
              </SvgIcon>
            }
            sx={{ justifyContent: "flex-start" }}
          >
            {place.label}
            <Box component="span" aria-hidden sx={{ ml: "auto", color: "text.secondary", fontWeight: 400 }}>
              {!keysOff && !inHand && i + 1}
            </Box>
          </Button>
        ))}
      </Stack>
      <Box
        component="main"
        sx={{ flexGrow: 1, minWidth: 0, p: { xs: 2, md: 3 }, pb: { xs: 12, md: 4 }, maxWidth: 1180 }}
      >
        <Alarms>
          <Boundary at={pathname}>
            <Elsewhere />
            <Unanswered />
            <Suspense fallback={<Loading />}>
              <Routes>
                <Route path="/" element={<CounterPage />} />
                <Route path="/brewers/new" element={<FirstMinute />} />
                <Route path="/brewers/new/sheet" element={<BrewerSheet />} />
                <Route path="/brewers/:id" element={<BrewerPage />} />
                <Route path="/brewers/:id/edit" element={<BrewerSheet />} />
                <Route path="/brewers/:id/:view" element={<BrewerPage />} />
                <Route path="/brewers/:id/begun" element={<BegunPage />} />
                <Route path="/brewers/:id/buttons" element={<TeachPage />} />
                <Route path="/brewers/:id/plan" element={<PlanPage />} />
                <Route path="/brewers/:id/ways/:way" element={<WaySheet />} />
                <Route path="/cleans/:id" element={<CleanPage />} />
                <Route path="/cleans/:id/card" element={<CleanCard />} />
                <Route path="/round" element={<RoundPage />} />
                <Route path="/round/outbox" element={<OutboxPage />} />
                <Route path="/round/owed" element={<OwedPage />} />
                <Route path="/visits/new" element={<PlanVisit />} />
                <Route path="/visits/:id" element={<VisitPage />} />
                <Route path="/visits/:id/cards" element={<VisitCards />} />
                <Route path="/mix" element={<MixPage />} />
                <Route path="/trouble" element={<TroublePage />} />
                <Route path="/waters" element={<WatersPage />} />
                <Route path="/cupboard" element={<CupboardPage />} />
                <Route path="/more" element={<More />} />
                <Route path="/practice" element={<PracticePage />} />
                <Route path="/log" element={<LogPage />} />
                <Route path="/pair" element={<Navigate to="/" replace />} />
                <Route path="/household" element={<HouseholdPage />} />
                <Route
                  path="*"
                  element={
                    <Page title="Nothing here">
                      <Typography>
                        This address leads nowhere. <Link to="/">Back to the Counter</Link>
                      </Typography>
                    </Page>
                  }
                />
              </Routes>
            </Suspense>
          </Boundary>
        </Alarms>
      </Box>
      <Paper
        component="nav"
        aria-label="Places"
        square
        sx={{
          display: { xs: inHand ? "none" : "block", md: "none" },
          position: "fixed",
          bottom: 0,
          left: 0,
          right: 0,
          zIndex: 10,
        }}
      >
        <BottomNavigation showLabels value={onTheBar}>
          {bar.map((place) => (
            <BottomNavigationAction
              key={place.to}
              component={Link}
              to={place.to}
              label={place.label}
              sx={{ minWidth: 0, px: 0.25, "& .MuiBottomNavigationAction-label": { fontSize: "0.68rem !important" } }}
              icon={
                <SvgIcon>
                  <path d={place.icon} />
                </SvgIcon>
              }
            />
          ))}
        </BottomNavigation>
      </Paper>
    </Box>
  );
}
