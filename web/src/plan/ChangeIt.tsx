import {
  Box,
  Button,
  Collapse,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
} from "@mui/material";
import { type ReactNode, useState } from "react";
import type { Schemas } from "../api/client";
import { CommitField } from "../ui/CommitField";
import { typedOrNone, typedPercent } from "../ui/typed";
import { useHints } from "../ui/useHints";
import { type Options, undecided } from "./options";
import { tools } from "./tools";

type Asked = {
  brewer: Schemas["BrewerView"] | undefined;
  plan: Schemas["Plan"];
  options: Options;
  choose: (change: Partial<Options>) => void;
};

/** What is to be done, and to which side. */
export function What({ brewer, plan, options, choose }: Asked) {
  const sides = brewer?.card.circuits ?? [];
  const needles = (brewer?.draft.needles ?? []).length > 0;
  const button = { minHeight: 48, color: "text.primary" } as const;
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", columnGap: 2, rowGap: 1 }}>
      <ToggleButtonGroup
        exclusive
        aria-label="What to do"
        value={plan.work}
        onChange={(_, work: Schemas["Work"] | null) =>
          // Which side has needles, or whose turn it is, is the core's to say.
          work &&
          choose({ work, circuit_id: work === "needles" || options.work === "needles" ? null : options.circuit_id })
        }
      >
        <ToggleButton value="descale" sx={button}>
          Whole clean
        </ToggleButton>
        {needles && (
          <ToggleButton value="needles" sx={button}>
            Just the needles
          </ToggleButton>
        )}
        <ToggleButton value="rehearsal" sx={button}>
          Rehearse with water
        </ToggleButton>
      </ToggleButtonGroup>
      {sides.length > 1 && plan.work !== "needles" && (
        <ToggleButtonGroup
          exclusive
          aria-label="Which side"
          value={plan.circuit_id}
          onChange={(_, circuit_id: string | null) =>
            circuit_id &&
            choose({
              ...undecided,
              taste: options.taste ?? null,
              work: plan.work ?? "descale",
              by_hand: options.by_hand,
              circuit_id,
            })
          }
        >
          {sides.map((side) => (
            <ToggleButton key={side.circuit_id} value={side.circuit_id} sx={button}>
              {side.name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
    </Stack>
  );
}

/** What it is for, and how it runs. */
export function Ways({ brewer, plan, options, choose }: Asked) {
  const button = { minHeight: 48, color: "text.primary" } as const;
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", columnGap: 2, rowGap: 1 }}>
      {plan.work === "descale" && (
        <ToggleButtonGroup
          exclusive
          aria-label="What it is for"
          value={options.dirt}
          onChange={(_, dirt: boolean | null) =>
            dirt !== null && choose({ dirt, agent_id: null, recipe: null, soak_minutes: null })
          }
        >
          <ToggleButton value={false} sx={button}>
            For chalk
          </ToggleButton>
          <ToggleButton value={true} sx={button}>
            For dirt only
          </ToggleButton>
        </ToggleButtonGroup>
      )}
      {brewer?.draft.self_clean && plan.work !== "needles" && (
        <ToggleButtonGroup
          exclusive
          aria-label="How it runs"
          value={options.by_hand}
          onChange={(_, by_hand: boolean | null) => by_hand !== null && choose({ by_hand, soak_minutes: null })}
        >
          <ToggleButton value={false} sx={button}>
            By its programme
          </ToggleButton>
          <ToggleButton value={true} sx={button}>
            By hand
          </ToggleButton>
        </ToggleButtonGroup>
      )}
    </Stack>
  );
}

/** Everything that can be chosen otherwise, folded until somebody wants to. */
export function ChangeIt({ open: forced, children }: { open: boolean; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  const shown = open || forced;
  return (
    <Box>
      <Button variant="outlined" aria-expanded={shown} onClick={() => setOpen(!open)}>
        {shown ? "Leave it as it is" : "Change it"}
      </Button>
      <Collapse in={shown} unmountOnExit>
        <Stack spacing={2} sx={{ pt: 2 }}>
          {children}
        </Stack>
      </Collapse>
    </Box>
  );
}

export function Choices({
  plan,
  agents,
  options,
  fields,
  choose,
}: {
  plan: Schemas["Plan"];
  agents: Schemas["Agent"][];
  options: Options;
  fields: Record<string, string>;
  choose: (change: Partial<Options>) => void;
}) {
  const { chosen } = plan;
  const hints = useHints();
  const recipe = chosen.recipes.findIndex((r) => JSON.stringify(r.recipe) === JSON.stringify(chosen.recipe));
  return (
    <Paper component="section" aria-label="Choices" sx={{ p: 2 }}>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr 1fr", md: "repeat(5, 1fr)" } }}>
        <TextField
          select
          label="Agent"
          value={agents.length > 0 ? chosen.agent_id : ""}
          onChange={(e) =>
            choose({
              agent_id: e.target.value,
              recipe: null,
              agent_amount: null,
              percent: null,
              measure: null,
              baths: null,
            })
          }
        >
          {agents.map((agent) => (
            <MenuItem key={agent.id} value={agent.id}>
              {agent.name}
            </MenuItem>
          ))}
        </TextField>
        {chosen.percent != null && (
          <CommitField
            key={chosen.agent_id}
            label="Strength on the label, %"
            text={String(chosen.percent)}
            inputMode="decimal"
            error={"percent" in fields}
            helperText={fields.percent}
            onCommit={(text) => choose({ percent: typedPercent(text) })}
          />
        )}
        <TextField
          select
          label="Recipe"
          value={recipe < 0 ? "" : recipe}
          onChange={(e) =>
            choose({ recipe: chosen.recipes[Number(e.target.value)]?.recipe ?? null, agent_amount: null })
          }
        >
          {chosen.recipes.map((r, i) => (
            <MenuItem key={r.label} value={i}>
              {r.label}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Measure with"
          value={chosen.measure}
          error={"measure" in fields}
          helperText={fields.measure}
          onChange={(e) => choose({ measure: e.target.value as Schemas["Tool"] })}
        >
          {chosen.measures.map((tool) => (
            <MenuItem key={tool} value={tool}>
              {tools[tool]}
            </MenuItem>
          ))}
        </TextField>
        <CommitField
          label="Bath"
          placeholder={plan.bath.total.text}
          text={options.bath ?? ""}
          error={"bath" in fields}
          helperText={fields.bath ?? hints.volume}
          onCommit={(text) => choose({ bath: text === "" ? null : text })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        {chosen.percent != null && (
          <CommitField
            label="Agent, poured"
            text={options.agent_amount ?? ""}
            placeholder={plan.bath.agent_text}
            error={"agent_amount" in fields}
            helperText={fields.agent_amount ?? "To a mark, then water"}
            onCommit={(text) => choose({ agent_amount: text === "" ? null : text })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        )}
        <TextField
          select
          label="Fill"
          value={options.fill ?? ""}
          onChange={(e) => choose({ fill: (e.target.value || null) as Options["fill"], bath: null })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">as usual here</MenuItem>
          <MenuItem value="dose">stop at the dose</MenuItem>
          <MenuItem value="full">to the top mark</MenuItem>
        </TextField>
        <CommitField
          label="Soak, minutes"
          placeholder={String(Math.round(chosen.soak_minutes))}
          text={options.soak_minutes == null ? "" : String(options.soak_minutes)}
          inputMode="numeric"
          error={"soak_minutes" in fields}
          helperText={fields.soak_minutes ?? "Empty: as advised"}
          onCommit={(text) => choose({ soak_minutes: typedOrNone(text) })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          select
          label="Rinse for"
          value={chosen.taste}
          onChange={(e) => choose({ taste: e.target.value as Schemas["Taste"] })}
        >
          <MenuItem value="usual">most people</MenuItem>
          <MenuItem value="strict">a keen nose</MenuItem>
        </TextField>
        <TextField
          select
          label="Clears"
          value={options.sure ? "sure" : "usual"}
          onChange={(e) => choose({ sure: e.target.value === "sure", soak_minutes: null })}
        >
          <MenuItem value="usual">what is likely</MenuItem>
          <MenuItem value="sure">the high estimate too</MenuItem>
        </TextField>
        <TextField
          select
          label="Fresh baths"
          value={String(chosen.baths ?? 1)}
          error={"baths" in fields}
          helperText={fields.baths}
          onChange={(e) => choose({ baths: Number(e.target.value) })}
        >
          {["1", "2", "3", "4"].map((n) => (
            <MenuItem key={n} value={n}>
              {n}
            </MenuItem>
          ))}
        </TextField>
      </Box>
    </Paper>
  );
}
