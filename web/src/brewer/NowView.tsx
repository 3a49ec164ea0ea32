import { Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Bore } from "../pictures/Bore";
import { Working } from "../ui/Working";
import { SmallWorks } from "../upkeep/SmallWorks";
import { useEntries } from "./Journal";
import { Noticed } from "./Noticed";
import { Parts } from "./Parts";

/** How it stands: each side with its chalk, what to do next, and what would make that surer. */
export function NowView({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const { card, interval, today } = brewer;
  const entries = useEntries(id);
  const needles = brewer.needles.length > 0;
  return (
    <>
      {card.circuits.map(
        (circuit) =>
          circuit.part && <Parts key={circuit.circuit_id} id={id} side={circuit.circuit_id} part={circuit.part} />,
      )}
      {card.circuits.map((circuit, i) => (
        <Paper key={circuit.circuit_id} sx={{ p: { xs: 2, md: 3 } }}>
          <Side id={id} circuit={circuit} alone={card.circuits.length === 1} interval={i === 0 ? interval : null} />
        </Paper>
      ))}
      <SmallWorks id={id} works={card.upkeep} today={today} />
      <Paper component="section" aria-label="What happens" sx={{ p: 2 }}>
        <Stack spacing={1}>
          <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
            {[1, 2].map((cups) => (
              <Button
                key={cups}
                variant="outlined"
                disabled={entries.pending}
                onClick={() =>
                  entries.add(today, { kind: "brewed", cups }, cups === 1 ? "1 cup today" : "2 cups today")
                }
              >
                {cups === 1 ? "+ 1 cup" : "+ 2 cups"}
              </Button>
            ))}
            <Button component={Link} to={`/trouble?brewer=${id}`} variant="outlined">
              What is wrong?
            </Button>
            {card.circuits.map(
              (circuit) =>
                !circuit.running_clean && (
                  <Noticed
                    key={circuit.circuit_id}
                    id={id}
                    circuit={circuit.circuit_id}
                    today={today}
                    needles={needles}
                    side={card.circuits.length > 1 ? circuit.name : null}
                  />
                ),
            )}
          </Stack>
        </Stack>
      </Paper>
    </>
  );
}

function Side({
  id,
  circuit,
  alone,
  interval,
}: {
  id: string;
  circuit: Schemas["CircuitCard"];
  alone: boolean;
  interval: Schemas["Interval"] | null;
}) {
  const { forecast } = circuit;
  const late = forecast.due.urgency === "overdue" || forecast.due.urgency === "due";
  const name = `${circuit.name[0]?.toUpperCase()}${circuit.name.slice(1)}: `;
  return (
    <>
      <Stack direction={{ xs: "column", sm: "row" }} spacing={{ xs: 1.5, sm: 3 }} sx={{ alignItems: { sm: "center" } }}>
        <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
          <Bore chalk={forecast.chalk} size={150} />
        </Stack>
        <Stack spacing={1} sx={{ flexGrow: 1, minWidth: 0 }}>
          {circuit.acid && (
            <Typography sx={{ fontSize: "1.2rem", fontWeight: 700 }}>
              {circuit.acid.text} <Link to={`/cleans/${circuit.acid.clean_id}`}>What to do</Link>
            </Typography>
          )}
          <Typography variant="h2">
            {!alone && name}
            {alone ? "Descale " : "descale "}
            {late && forecast.due.by !== "chalk" && forecast.due.days < 0
              ? `since ${forecast.due.text}`
              : forecast.due.text}
          </Typography>
          <Stack direction="row" sx={{ flexWrap: "wrap" }}>
            {circuit.running_clean ? (
              <Button component={Link} to={`/cleans/${circuit.running_clean}`} variant="contained" size="large">
                Carry on with the clean
              </Button>
            ) : (
              <Button
                component={Link}
                to={alone ? `/brewers/${id}/plan` : `/brewers/${id}/plan?side=${circuit.circuit_id}`}
                variant="contained"
                size="large"
                sx={{ minHeight: 56 }}
              >
                Plan the clean
              </Button>
            )}
            {!circuit.running_clean && !circuit.acid && (
              <Button
                component={Link}
                to={`/brewers/${id}/begun?side=${circuit.circuit_id}`}
                size="large"
                sx={{ minHeight: 56 }}
              >
                I have begun already
              </Button>
            )}
          </Stack>
          <Typography>
            Chalk (scale): {forecast.chalk.text}. {forecast.reason}.
          </Typography>
          {interval && <Typography>As things are, it asks for a clean {interval.text}.</Typography>}
          {forecast.sharpen && <Typography>{forecast.sharpen.text}</Typography>}
        </Stack>
      </Stack>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        The pale rim is chalk; blue is what is still open. The washed-out edge shows how far the estimate may be off.
      </Typography>
      <Working working={forecast.working} />
    </>
  );
}
