import { Button } from "@mui/material";
import { Link, useNavigate } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { useEntries } from "../brewer/Journal";
import { undecided } from "../plan/options";
import { ErrorNotice } from "../ui/Notices";

type Job = Schemas["Job"];

/** What ticking `job` off writes down; filter and needles have entries of their own. */
export const didOf = (job: Job): Schemas["What"] =>
  job === "filter" ? { kind: "filter_fitted" } : job === "needles" ? { kind: "needles_cleared" } : { kind: "did", job };

/** Where those lead that are plans of their own; the others start at once. */
const planOf: Partial<Record<Job, string>> = { needles: "plan?work=needles", light_bath: "plan" };

/** The two ways to do a small work: guided, or ticked off because it is done. */
export function WorkActs({ brewer, work, today }: { brewer: string; work: Schemas["Upkeep"]; today: string }) {
  const entries = useEntries(brewer);
  const navigate = useNavigate();
  const start = useChange((body: Schemas["StartClean"]) => send.start(brewer, body));
  const plan = planOf[work.job];
  return (
    <>
      {plan ? (
        <Button component={Link} to={`/brewers/${brewer}/${plan}`} aria-label={`Guide me: ${work.name}`}>
          Guide me
        </Button>
      ) : (
        <Button
          disabled={start.isPending}
          aria-label={`Guide me: ${work.name}`}
          onClick={() =>
            start.mutate(
              { id: newId(), options: { ...undecided, work: "upkeep", job: work.job } },
              { onSuccess: (clean) => navigate(`/cleans/${clean.id}`) },
            )
          }
        >
          Guide me
        </Button>
      )}
      <Button
        variant="outlined"
        disabled={entries.pending}
        onClick={() => entries.add(today, didOf(work.job), `${work.name}: ${work.done.toLowerCase()}`)}
      >
        {work.done}
      </Button>
      <ErrorNotice error={start.error ?? entries.error} />
    </>
  );
}
