import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { ArrangePanel } from "./ArrangePanel";
import { LampsAsked } from "./LampsAsked";
import { ScriptAsked } from "./ScriptAsked";

/** A brewer's buttons and lamps, taught by touching a drawing of them as one touches the brewer. */
export function TeachPage() {
  const { id = "" } = useParams();
  const [asked] = useSearchParams();
  const side = asked.get("side") ?? "main";
  const brewer = useQuery(queries.brewer(id));
  const buttons = useQuery(queries.buttons(id, side));
  return (
    <Ready query={buttons}>
      {(view) => (
        <Page title={`Buttons of ${brewer.data?.card.nickname ?? "this brewer"}${view.side ? `, ${view.side}` : ""}`}>
          <Teach
            key={JSON.stringify(view.operation)}
            id={id}
            side={side}
            view={view}
            photos={brewer.data?.photos ?? []}
            first={asked.get("part")}
            back={asked.get("back") ?? `/brewers/${id}/how-it-works`}
          />
        </Page>
      )}
    </Ready>
  );
}

function Teach({
  id,
  side,
  view,
  photos,
  first,
  back,
}: {
  id: string;
  side: string;
  view: Schemas["ButtonsView"];
  photos: Schemas["PhotoBrief"][];
  first: string | null;
  back: string;
}) {
  const navigate = useNavigate();
  const { operation, asks } = view;
  const [panel, setPanel] = useState<Schemas["Panel"]>(operation.panel ?? { controls: [], photo: null });
  const [taught, setTaught] = useState<Schemas["TaughtPart"][]>(operation.taught ?? []);
  const [signals, setSignals] = useState<Schemas["Signal"][]>(operation.signals ?? []);
  const [at, setAt] = useState(() => {
    const wanted = asks.findIndex((ask) => ask.part === first);
    return operation.panel && wanted >= 0 ? wanted : 0;
  });
  const [arranging, setArranging] = useState(operation.panel == null);
  const keep = useChange((body: Schemas["TaughtButtons"]) => send.teachButtons(id, side, body));
  const touchesOf = (part: string) => taught.find((one) => one.part === part)?.touches ?? [];
  const teach = (part: Schemas["ScriptPart"], touches: Schemas["Touch"][]) =>
    setTaught([...taught.filter((one) => one.part !== part), ...(touches.length > 0 ? [{ part, touches }] : [])]);
  const arrange = (next: Schemas["Panel"]) => {
    setPanel(next);
    // What is taken off is pressed no more.
    const there = new Set(next.controls.map((control) => control.id));
    const left = (touch: Schemas["Touch"]) => touch.controls.every((control) => there.has(control));
    setTaught(
      taught.map((one) => ({ ...one, touches: one.touches.filter(left) })).filter((one) => one.touches.length > 0),
    );
    setSignals(signals.filter((signal) => !signal.lamp || there.has(signal.lamp.control)));
  };
  const ask = asks[at];
  const isLast = at >= asks.length;
  const save = () =>
    keep.mutate(
      { panel, taught, signals: signals.filter((signal) => signal.seen.trim() || signal.lamp) },
      {
        onSuccess: () => navigate(back),
      },
    );
  return (
    <Stack spacing={2} sx={{ maxWidth: 760 }}>
      {arranging ? (
        <Paper component="section" aria-label="What is on it" sx={{ p: 2 }}>
          <ArrangePanel panel={panel} photos={photos} onChange={arrange} />
          <Button
            variant="contained"
            size="large"
            sx={{ mt: 2, minHeight: 56 }}
            disabled={panel.controls.length === 0}
            onClick={() => setArranging(false)}
          >
            That is all of it
          </Button>
        </Paper>
      ) : (
        <Paper component="section" aria-label="What you press" sx={{ p: 2 }}>
          {ask ? (
            <ScriptAsked
              key={ask.part}
              ask={ask}
              panel={panel}
              touches={touchesOf(ask.part)}
              onChange={(touches) => teach(ask.part, touches)}
            />
          ) : (
            <LampsAsked panel={panel} signals={signals} onChange={setSignals} />
          )}
          <Stack direction="row" sx={{ gap: 1, mt: 2, flexWrap: "wrap" }}>
            {!isLast && (
              <Button variant="contained" size="large" sx={{ minHeight: 56 }} onClick={() => setAt(at + 1)}>
                {ask && touchesOf(ask.part).length > 0 ? "Next" : "Not this one: next"}
              </Button>
            )}
            <Button
              variant={isLast ? "contained" : "outlined"}
              size="large"
              sx={{ minHeight: 56 }}
              disabled={keep.isPending}
              onClick={save}
            >
              Keep it
            </Button>
            {at > 0 && (
              <Button size="large" onClick={() => setAt(at - 1)}>
                One back
              </Button>
            )}
            <Button size="large" onClick={() => setArranging(true)}>
              Change the panel
            </Button>
          </Stack>
          <Box component="ul" sx={{ mt: 2, mb: 0, pl: 2.5 }} aria-label="Taught by now">
            {asks
              .filter(({ part }) => touchesOf(part).length > 0)
              .map(({ part, name }) => (
                <li key={part}>
                  {name}: {touchesOf(part).length === 1 ? "one touch" : `${touchesOf(part).length} touches`}
                </li>
              ))}
          </Box>
        </Paper>
      )}
      <ErrorNotice error={keep.error} />
      <Typography>
        <Link to={back}>Back without keeping</Link>
      </Typography>
    </Stack>
  );
}
