import { Box, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice } from "../ui/Notices";
import { Working } from "../ui/Working";

/** A bath that was poured without measuring: what it can be, from levels or from the bottle. */
export function Unmeasured({ agents, us }: { agents: Schemas["Agent"][]; us: boolean }) {
  const liquids = agents.filter((agent) => "percent" in agent);
  const [agent, setAgent] = useState(liquids.find((a) => a.id === "vinegar")?.id ?? liquids[0]?.id ?? "");
  const [from, setFrom] = useState<Schemas["Poured"]["from"]>("levels");
  const [less, setLess] = useState(us ? "0 cups" : "0 mL");
  const [more, setMore] = useState(us ? "2 cups" : "500 mL");
  const [total, setTotal] = useState(us ? "5 cups" : "1.2 L");
  const [readTo, setReadTo] = useState(us ? "½ cup" : "100 mL");
  const poured: Schemas["Poured"] =
    from === "levels" ? { from, before: less, after: more } : { from, held: more, left: less };
  const query = useQuery(queries.unmeasured({ agent_id: agent, percent: null, poured, total, read_to: readTo }));
  const fields = query.error instanceof Refused ? query.error.fields : {};
  const field = (name: string, label: string, value: string, set: (text: string) => void, help: string) => (
    <TextField
      label={label}
      value={value}
      error={name in fields}
      helperText={fields[name] ?? help}
      onChange={(e) => set(e.target.value)}
    />
  );
  const pour = query.error ? undefined : query.data;
  const levels = from === "levels";
  return (
    <Paper component="section" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Already poured without measuring
      </Typography>
      <Box sx={{ display: "grid", gap: 2, pt: 1, gridTemplateColumns: { xs: "1fr 1fr", md: "repeat(3, 1fr)" } }}>
        <TextField
          select
          label="What was poured"
          value={agent}
          error={"agent_id" in fields}
          helperText={fields.agent_id}
          onChange={(e) => setAgent(e.target.value)}
        >
          {liquids.map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="What can still be read"
          value={from}
          onChange={(e) => setFrom(e.target.value as Schemas["Poured"]["from"])}
        >
          <MenuItem value="levels">The level before and after</MenuItem>
          <MenuItem value="bottle">What is left in the bottle</MenuItem>
        </TextField>
        {field("read_to", "Read to the nearest", readTo, setReadTo, "How fine the marks are")}
        {levels
          ? field("poured.before", "Level before", less, setLess, "0 if it was empty")
          : field("poured.held", "The bottle held", more, setMore, "")}
        {levels
          ? field("poured.after", "Level after", more, setMore, "Before any water went in")
          : field("poured.left", "Left in it", less, setLess, "")}
        {field("total", "All the liquid now", total, setTotal, "Agent and water together")}
      </Box>
      {Object.keys(fields).length === 0 && <ErrorNotice error={query.error} />}
      {pour && (
        <Stack spacing={0.5} sx={{ mt: 2 }} role="status">
          <Typography sx={{ fontSize: "1.25rem", fontWeight: 700 }}>{pour.percent_text}</Typography>
          <Typography>{pour.agent_text}</Typography>
          <Typography>With water {pour.ratio_text}</Typography>
          <Typography>It {pour.useful_text}.</Typography>
          <Working working={pour.working} />
        </Stack>
      )}
    </Paper>
  );
}
