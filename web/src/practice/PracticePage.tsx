import {
  Alert,
  Box,
  Button,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { TaughtButtons } from "../buttons/TaughtButtons";
import { ErrorNotice, Loading, Page } from "../ui/Notices";
import { minutesLater, practiceTime } from "./clock";
import { SceneView } from "./Scene";

type Pressed = Schemas["Pressed"];
type Way = Schemas["Manner"];

const ways: [Way, string][] = [
  ["plan", "Follow the plan"],
  ["alone", "Find it out yourself"],
  ["fault", "Start with a fault"],
];
const speeds = [1, 5, 15, 60];

/** A brewer to learn on without acid: nothing is logged, nothing is scored. */
export function PracticePage() {
  const [asked, setAsked] = useSearchParams();
  const family = (asked.get("family") ?? "pod_reservoir") as Schemas["Family"];
  const way = (asked.get("way") ?? "plan") as Way;
  const seed = Number(asked.get("seed") ?? 0);
  const like = asked.get("like");
  const families = useQuery(queries.families()).data ?? [];
  const own = useQuery(queries.counter()).data?.brewers ?? [];
  const mine = own.find((brewer) => brewer.id === like);
  const choose = (changed: Record<string, string>) =>
    setAsked(
      (before) => {
        const all = { ...Object.fromEntries(before), ...changed };
        return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== ""));
      },
      { replace: true },
    );
  return (
    <Page title="Practice">
      <Stack spacing={2}>
        <Typography>
          A drawn brewer to learn on. Press what you like: no real acid, and nothing is kept or scored.
        </Typography>
        <TextField
          select
          label="Brewer"
          value={like ?? family}
          onChange={(e) => {
            const chosen = own.find((b) => b.id === e.target.value);
            choose(chosen ? { like: chosen.id, family: chosen.family_id } : { like: "", family: e.target.value });
          }}
          sx={{ maxWidth: 420 }}
        >
          {families.map((f) => (
            <MenuItem key={f.family} value={f.family}>
              {f.label}
            </MenuItem>
          ))}
          {own.map((b) => (
            <MenuItem key={b.id} value={b.id}>
              Like {b.nickname}
            </MenuItem>
          ))}
        </TextField>
        <ToggleButtonGroup
          exclusive
          aria-label="How to practise"
          value={way}
          onChange={(_, chosen: string | null) =>
            chosen && choose({ way: chosen, seed: chosen === "fault" ? String(seed + 1) : String(seed) })
          }
        >
          {ways.map(([id, text]) => (
            <ToggleButton key={id} value={id} sx={{ minHeight: 48 }}>
              {text}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {mine?.circuits[0] && <TaughtButtons brewer={mine.id} circuit={mine.circuits[0].circuit_id} />}
        <Round
          key={`${like ?? family} ${way} ${seed}`}
          setup={{ family, way, seed }}
          like={like}
          label={families.find((f) => f.family === family)?.label ?? "Brewer"}
          onAgain={() => choose({ seed: String(seed + 1) })}
        />
      </Stack>
    </Page>
  );
}

function Round({
  setup,
  like,
  label,
  onAgain,
}: {
  setup: Schemas["Setup"];
  like: string | null;
  label: string;
  onAgain: () => void;
}) {
  const [pressed, setPressed] = useState<Pressed[]>([]);
  const [speed, setSpeed] = useState(1);
  const [now, setNow] = useState(0);
  const [asked, setAsked] = useState(0);
  const practice = useQuery(queries.practice({ setup, brewer_id: like, pressed, now_min: asked }));
  const scene = practice.data;

  // The clock runs here; the brewer is asked every other second how it stands by then.
  const ticked = useRef(performance.now());
  useEffect(() => {
    ticked.current = performance.now();
    const tick = setInterval(() => {
      const at = performance.now();
      setNow((before) => minutesLater(before, at - ticked.current, speed));
      ticked.current = at;
    }, 250);
    return () => clearInterval(tick);
  }, [speed]);
  const latest = useRef(now);
  latest.current = Math.max(now, scene?.now_min ?? 0);
  useEffect(() => {
    const ask = setInterval(() => setAsked(latest.current), 2_000);
    return () => clearInterval(ask);
  }, []);
  // What the plan did in no time has moved its clock on.
  useEffect(() => {
    if (scene) setNow((before) => Math.max(before, scene.now_min));
  }, [scene]);

  if (practice.error) return <ErrorNotice error={practice.error} />;
  if (!scene) return <Loading />;
  const press = (what: Schemas["Deed"]) => {
    const at = latest.current;
    setAsked(at);
    setPressed((before) => [...before, { at_min: at, what }]);
  };
  return (
    <Box
      sx={{
        display: "grid",
        columnGap: 3,
        rowGap: 2,
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 380px" },
        gridTemplateRows: { md: "auto 1fr" },
        gridTemplateAreas: {
          xs: '"scene" "side" "buttons"',
          md: '"scene side" "buttons side"',
        },
      }}
    >
      <Stack spacing={2} sx={{ gridArea: "scene" }}>
        <Paper sx={{ p: 2 }}>
          <SceneView scene={scene} family={label} />
        </Paper>
        <Box role="status" aria-live="polite">
          {scene.harm ? (
            <Alert severity="warning" variant="outlined">
              <Typography sx={{ fontSize: "1.2rem", fontWeight: 700 }}>{scene.harm.text}.</Typography>
              <Typography>Way out: {scene.harm.way_out}</Typography>
            </Alert>
          ) : (
            <Typography>{scene.words.join(" ")}</Typography>
          )}
        </Box>
      </Stack>
      <Box sx={{ gridArea: "buttons" }}>
        <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }} role="group" aria-label="The brewer's buttons">
          {scene.buttons.map(({ button, label: name }) => (
            <Button
              key={button}
              variant="outlined"
              sx={{ minHeight: 48 }}
              onClick={() => press({ do: "press", button })}
            >
              {name}
            </Button>
          ))}
        </Stack>
      </Box>
      <Stack spacing={2} sx={{ gridArea: "side" }}>
        <Paper sx={{ p: 2 }}>
          <Typography variant="h2" component="p">
            {practiceTime(latest.current)}
          </Typography>
          <Typography id="speed" color="textSecondary">
            {speed === 1 ? "The clock runs as on the wall" : `The clock runs ${speed} times as fast`}
          </Typography>
          <ToggleButtonGroup
            exclusive
            aria-labelledby="speed"
            value={speed}
            onChange={(_, chosen: number | null) => chosen && setSpeed(chosen)}
          >
            {speeds.map((times) => (
              <ToggleButton key={times} value={times} sx={{ minHeight: 48, px: 2 }}>
                {times}×
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Paper>
        {setup.way === "plan" && <Plan scene={scene} onNext={() => press({ do: "next" })} />}
        {setup.way === "fault" && <Fault scene={scene} press={press} />}
        {setup.way === "alone" && (
          <Paper sx={{ p: 2 }}>
            <Typography>
              Descale it as you think right. Whatever a real one would not do is shown, with the way out.
            </Typography>
          </Paper>
        )}
        <Stack direction="row" spacing={1}>
          <Button
            variant="outlined"
            disabled={pressed.length === 0}
            onClick={() => setPressed((before) => before.slice(0, -1))}
          >
            Take back
          </Button>
          <Button variant="outlined" onClick={onAgain}>
            Begin anew
          </Button>
        </Stack>
      </Stack>
    </Box>
  );
}

function Plan({ scene, onNext }: { scene: Schemas["Scene"]; onNext: () => void }) {
  return (
    <Paper component="section" aria-label="Murlo's plan" sx={{ p: 2 }}>
      <Typography variant="h2">{scene.is_over ? "The whole clean is done" : scene.step}</Typography>
      <Typography color="textSecondary">
        {scene.steps_done} of {scene.steps_all} steps
      </Typography>
      {scene.next && <Typography sx={{ fontSize: "1.2rem", my: 1 }}>{scene.next}</Typography>}
      {!scene.is_over && (
        <Button variant="contained" size="large" sx={{ minHeight: 56 }} onClick={onNext}>
          Do it
        </Button>
      )}
    </Paper>
  );
}

function Fault({ scene, press }: { scene: Schemas["Scene"]; press: (what: Schemas["Deed"]) => void }) {
  return (
    <Paper component="section" aria-label="The fault" sx={{ p: 2 }}>
      <Typography variant="h2">{scene.is_over ? "Found" : "Something is wrong with it"}</Typography>
      {scene.tried && <Typography role="status">{scene.tried}</Typography>}
      {!scene.is_over && (
        <>
          <Typography sx={{ mt: 1 }}>Look for signs, then try what would help.</Typography>
          <Stack component="ul" spacing={0.5} sx={{ listStyle: "none", p: 0 }}>
            {scene.signs.map((sign) => (
              <Stack
                component="li"
                key={sign.id}
                direction="row"
                sx={{ justifyContent: "space-between", alignItems: "center", gap: 1 }}
              >
                <Typography variant="body2">{sign.question}</Typography>
                {sign.shows == null ? (
                  <Button
                    size="small"
                    variant="outlined"
                    aria-label={`Look: ${sign.question}`}
                    onClick={() => press({ do: "look", sign: sign.id })}
                  >
                    Look
                  </Button>
                ) : (
                  <strong>{sign.shows ? "Yes" : "No"}</strong>
                )}
              </Stack>
            ))}
          </Stack>
          <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }} role="group" aria-label="Remedies">
            {scene.remedies.map(({ remedy, label }) => (
              <Button key={remedy} variant="outlined" onClick={() => press({ do: "try", remedy })}>
                {label}
              </Button>
            ))}
          </Stack>
        </>
      )}
    </Paper>
  );
}
