import { Box, Button, Stack, TextField, ToggleButton, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Cutaway } from "../pictures/Cutaway";
import { Tap } from "../pictures/Tap";
import { DayField } from "../ui/DayField";
import { Stepper } from "../ui/Stepper";
import { Touches } from "../ui/Touches";
import { typedPercent } from "../ui/typed";
import { WaterForm } from "../waters/WaterForm";
import { Choice } from "./Choice";
import { ages, lastCleans } from "./past";
import type { Answers } from "./useAnswers";

type Asked = {
  /** Whoever has begun already goes on at once, with whatever is known. */
  already: { is: boolean; say: (is: boolean) => void };
  questions: Schemas["FirstQuestions"];
  answers: Answers;
  tell: (change: Partial<Answers>) => void;
  /** The question is answered by one touch. */
  next: () => void;
};

const grid = {
  display: "grid",
  gap: 1,
  gridTemplateColumns: { xs: "repeat(2, 1fr)", sm: "repeat(3, 1fr)" },
} as const;

export function WhichBrewer({ questions, answers, already, tell, next }: Asked) {
  const [looking, setLooking] = useState(false);
  const choose = (family: Schemas["Family"]) => {
    tell({ family });
    next();
  };
  if (looking) {
    return (
      <Stack spacing={1}>
        <Typography>Stand before it. Touch the first line that is true.</Typography>
        {questions.looks.map((look) => (
          <Button key={look.seen} variant="outlined" sx={{ minHeight: 56 }} onClick={() => choose(look.family)}>
            {look.seen}
          </Button>
        ))}
        <Button onClick={() => setLooking(false)}>Back to the pictures</Button>
      </Stack>
    );
  }
  return (
    <>
      <Box sx={grid}>
        {questions.families.map(({ family, label, told_by }) => (
          <Choice
            key={family}
            label={label}
            hint={told_by}
            chosen={answers.family === family}
            onChoose={() => choose(family)}
          >
            <Cutaway family={family} filter={false} />
          </Choice>
        ))}
      </Box>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        <ToggleButton
          value="already"
          selected={already.is}
          color="primary"
          onClick={() => already.say(!already.is)}
          sx={{ minHeight: 48, px: 1.5, color: "text.primary" }}
        >
          I have already begun
        </ToggleButton>
        <Button onClick={() => setLooking(true)}>I cannot tell</Button>
      </Stack>
      {already.is && (
        <Typography role="status">
          Touch your brewer: the clean opens where it stands. The rest is asked when there is time.
        </Typography>
      )}
    </>
  );
}

const taps: [Schemas["TapChalk"], string, string][] = [
  ["none", "Clean", "for months"],
  ["film", "A faint film", "after some weeks"],
  ["crust", "A white crust", "within weeks"],
  ["flakes", "A thick crust", "flakes in the kettle"],
];

export function WhatGoesIn({ questions, answers, tell, next }: Asked) {
  const [known, setKnown] = useState(false);
  const throughs = useQuery(queries.choices()).data?.throughs ?? [];
  const told = answers.filled?.by === "through" ? answers.filled.through : null;
  const [through, setThrough] = useState<Schemas["Through"] | null>(told);
  const fill = (filled: Schemas["FilledWith"] | null) => {
    tell({ filled });
    next();
  };
  const filled = answers.filled;
  if (known) {
    return <WaterForm onDone={(water) => fill({ by: "known", water_id: water.id })} onCancel={() => setKnown(false)} />;
  }
  return (
    <>
      <Touches
        title="Not straight from the tap?"
        choices={throughs.map(({ id, words }) => [id, words] as const)}
        chosen={through ? [through] : []}
        onTouch={(one) => {
          if (one === "bottled") fill({ by: "through", through: one, chalk: null });
          else setThrough(one === through ? null : one);
        }}
      />
      <Typography>Look at the tap or shower head that its water comes from.</Typography>
      <Box sx={{ ...grid, gridTemplateColumns: { xs: "repeat(2, 1fr)", sm: "repeat(4, 1fr)" } }}>
        {taps.map(([chalk, label, hint]) => (
          <Choice
            key={chalk}
            label={label}
            hint={hint}
            chosen={(filled?.by === "tap" || filled?.by === "through") && filled.chalk === chalk}
            onChoose={() => fill(through ? { by: "through", through, chalk } : { by: "tap", chalk })}
          >
            <Tap chalk={chalk} />
          </Choice>
        ))}
      </Box>
      {questions.waters.length > 0 && (
        <Touches
          title="Or a water you know already"
          choices={questions.waters.slice(0, 8).map(({ water }) => [water.id, water.name] as const)}
          chosen={filled?.by === "known" ? [filled.water_id] : []}
          onTouch={(water_id) => fill({ by: "known", water_id })}
        />
      )}
      <Stack direction="row" sx={{ flexWrap: "wrap" }}>
        <Button onClick={() => setKnown(true)}>A strip, a label or a bottle</Button>
        <Button onClick={() => fill(through ? { by: "through", through, chalk: null } : null)}>Don’t know</Button>
      </Stack>
    </>
  );
}

const signs: [Schemas["Sign"], string][] = [
  ["light", "A light asks for it"],
  ["slow", "Slow or short cups"],
  ["cooler", "Cooler"],
  ["noisy", "Louder"],
];
const comes: [Schemas["Comes"], string][] = [
  ["whole", "A whole cup"],
  ["half", "Half a cup"],
  ["nothing", "Nothing"],
];
const sides: [Schemas["Outlet"] | "both", string][] = [
  ["grounds", "Carafe side"],
  ["pod", "Pod side"],
  ["both", "Don’t know"],
];
const buttons: ["yes" | "no" | "unknown", string][] = [
  ["yes", "Yes"],
  ["no", "No"],
  ["unknown", "Don’t know"],
];
/** Where the stepper begins; untouched, the usual use of its kind holds. */
const usualCups = 2;

export function HowMuch({ questions, answers, tell }: Asked) {
  const family = questions.families.find((known) => known.family === answers.family);
  const told = answers.beforehand;
  const noticed = answers.signs;
  const cups = answers.cups ?? usualCups;
  const toggle = (sign: Schemas["Sign"]) =>
    tell({ signs: noticed.includes(sign) ? noticed.filter((s) => s !== sign) : [...noticed, sign] });
  const [dated, setDated] = useState(answers.last_descaled != null);
  return (
    <Stack spacing={2}>
      <Touches
        title="What comes out now?"
        choices={comes}
        chosen={answers.comes ? [answers.comes] : []}
        onTouch={(choice) => tell({ comes: choice })}
      />
      <Touches
        title="Last descaled"
        choices={[...lastCleans, ["day", "On a day"] as const]}
        chosen={[dated ? "day" : told.last_clean]}
        onTouch={(choice) => {
          setDated(choice === "day");
          if (choice !== "day") tell({ beforehand: { ...told, last_clean: choice }, last_descaled: null });
        }}
      />
      {dated && (
        <DayField
          label="The day it was descaled"
          value={answers.last_descaled ?? ""}
          onChange={(day) => tell({ last_descaled: day || null })}
        />
      )}
      {(told.last_clean === "never" || told.last_clean === "unknown") && !dated && (
        <Touches
          title="How long in use?"
          choices={ages}
          chosen={[told.in_use]}
          onTouch={(in_use) => tell({ beforehand: { ...told, in_use } })}
        />
      )}
      <Stack direction="row" sx={{ alignItems: "center", gap: 1 }}>
        <Typography sx={{ fontWeight: 700, pr: 1, whiteSpace: "nowrap" }}>Cups a day</Typography>
        <Stepper label="Cups a day" value={cups} most={60} onStep={(next) => tell({ cups: next })} />
        {answers.cups == null && (
          <Typography variant="body2" color="textSecondary">
            as usual
          </Typography>
        )}
      </Stack>
      <Touches title="What do you notice?" choices={signs} chosen={noticed} onTouch={toggle} />
      {noticed.includes("light") && family?.has_pod_side && (
        <Touches
          title="Which side does the light ask for?"
          choices={sides}
          chosen={[answers.light_of ?? "both"]}
          onTouch={(side) => tell({ light_of: side === "both" ? null : side })}
        />
      )}
      {family?.has_carafe && (
        <Touches
          title="Has it a button or a setting for cleaning?"
          choices={buttons}
          chosen={[answers.clean_button == null ? "unknown" : answers.clean_button ? "yes" : "no"]}
          onTouch={(has) => tell({ clean_button: has === "unknown" ? null : has === "yes" })}
        />
      )}
    </Stack>
  );
}

export function InTheHouse({ questions, answers, tell }: Asked) {
  const have = answers.have;
  const all = questions.agents;
  const toggle = (id: string) => {
    if (id === "nothing") return tell({ have: [] });
    if (id === "unknown") return tell({ have: null });
    const rest = have ?? [];
    tell({ have: rest.includes(id) ? rest.filter((h) => h !== id) : [...rest, id] });
  };
  const [typed, setTyped] = useState("");
  const vinegar = all.find((agent) => agent.id === "vinegar" && have?.includes(agent.id));
  return (
    <Stack spacing={2}>
      <Touches
        title="Touch all that you have"
        choices={[
          ...all.map((agent) => [agent.id, agent.name] as const),
          ["nothing", "Nothing yet"] as const,
          ["unknown", "Don’t know"] as const,
        ]}
        chosen={have == null ? ["unknown"] : have.length === 0 ? ["nothing"] : have}
        onTouch={toggle}
      />
      {vinegar && (
        <Touches
          title="Acid on the vinegar’s label"
          choices={[
            ["4", "4 %"],
            ["5", "5 %"],
            ["6", "6 %"],
            ["10", "10 %"],
            ["", "Not on it (5 % is usual)"],
          ]}
          chosen={[answers.vinegar_percent == null ? "" : String(answers.vinegar_percent)]}
          onTouch={(percent) => tell({ vinegar_percent: percent === "" ? null : Number(percent) })}
        />
      )}
      {vinegar && (
        <TextField
          label="Another strength, %"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            tell({ vinegar_percent: typedPercent(event.target.value) });
          }}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
          sx={{ maxWidth: 220 }}
        />
      )}
    </Stack>
  );
}
