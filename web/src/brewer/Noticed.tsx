import { Button, Menu, MenuItem, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useId, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { ErrorNotice } from "../ui/Notices";
import { useEntries } from "./Journal";

/** What a person can notice of chalk, in the words of the journal. */
const signs: [Schemas["Sign"], string][] = [
  ["light", "Its light asks for descaling"],
  ["slow", "Slow or short cups"],
  ["cooler", "A cooler cup"],
  ["noisy", "Louder, rattling"],
];

/** Tells where it is seen that chalk shows: one touch a sign, since today or for some time. */
export function Noticed({
  id,
  circuit,
  today,
  needles,
  side = null,
}: {
  id: string;
  circuit: string;
  today: string;
  /** Whether it has needles that can be in the way. */
  needles: boolean;
  /** Which side it is about, where there are two. */
  side?: string | null;
}) {
  const entries = useEntries(id);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [dated, setDated] = useState(false);
  const menu = useId();
  return (
    <>
      <Button
        size="small"
        color="inherit"
        aria-haspopup="menu"
        aria-controls={anchor ? menu : undefined}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        I notice something{side && ` (${side})`}
      </Button>
      <Menu id={menu} anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <Stack sx={{ px: 2, py: 1 }} spacing={1}>
          <Typography>Since when?</Typography>
          <ToggleButtonGroup
            exclusive
            value={dated}
            aria-label="Since when"
            onChange={(_, since: boolean | null) => since !== null && setDated(since)}
          >
            <ToggleButton value={false} sx={{ minHeight: 48, color: "text.primary" }}>
              For some time
            </ToggleButton>
            <ToggleButton value={true} sx={{ minHeight: 48, color: "text.primary" }}>
              Since today
            </ToggleButton>
          </ToggleButtonGroup>
        </Stack>
        {signs.map(([sign, words]) => (
          <MenuItem
            key={sign}
            sx={{ minHeight: 48 }}
            disabled={entries.pending}
            onClick={() => {
              setAnchor(null);
              entries.add(today, { kind: "sign", circuit_id: circuit, sign, dated }, `${words}: written down`);
            }}
          >
            {words}
          </MenuItem>
        ))}
        <MenuItem
          component={Link}
          to={needles ? `/brewers/${id}/plan?work=needles` : `/trouble?brewer=${id}`}
          sx={{ minHeight: 48 }}
        >
          {needles ? "Nothing or half a cup comes: clear the needles" : "Nothing or half a pot comes"}
        </MenuItem>
      </Menu>
      <ErrorNotice error={entries.error} />
    </>
  );
}
