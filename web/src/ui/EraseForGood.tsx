import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useState } from "react";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Loading } from "./Notices";

interface Erasing {
  what: Schemas["Erased"];
  name: string;
  then?: (() => void) | undefined;
}

const Erase = createContext<((erasing: Erasing) => void) | null>(null);

/** Asks above everything else: what is erased may take the place it was asked from with it. */
export function EraseProvider({ children }: { children: ReactNode }) {
  const [erasing, setErasing] = useState<Erasing | null>(null);
  return (
    <Erase.Provider value={setErasing}>
      {children}
      {erasing && <Asked {...erasing} close={() => setErasing(null)} />}
    </Erase.Provider>
  );
}

/** Erases something for good: what goes is shown first, as it cannot be undone. `then` is done once it is gone. */
export function EraseForGood({ label = "Erase for good", ...erasing }: Erasing & { label?: string }) {
  const ask = useContext(Erase);
  const mayErase = useQuery(queries.session()).data?.is_full ?? false;
  if (!mayErase || !ask) return null;
  return (
    <Button color="error" sx={{ flexShrink: 0 }} aria-label={`${label}: ${erasing.name}`} onClick={() => ask(erasing)}>
      {label}
    </Button>
  );
}

function Asked({ what, name, then, close }: Erasing & { close: () => void }) {
  const look = useQuery(queries.eraseLook(what));
  const erase = useChange(() => send.erase(what));
  const done = erase.data;
  const over = () => {
    close();
    if (done) then?.();
  };
  return (
    <Dialog open onClose={over} aria-labelledby="erase-title">
      <DialogTitle id="erase-title" sx={{ overflowWrap: "anywhere" }}>
        {done ? "Erased" : `Erase ${name}?`}
      </DialogTitle>
      <DialogContent>
        <Stack spacing={1.5}>
          {done ? (
            <>
              <Typography role="status">
                {done.goes !== "" && `Gone: ${done.goes}. `}
                {done.rewritten > 0 && `Backups written anew without it: ${done.rewritten}. `}
                {done.letters > 0 && `Letters of the outbox that went with it: ${done.letters}.`}
              </Typography>
              {done.left.map((why) => (
                <Alert key={why} severity="warning" variant="outlined">
                  {why}
                </Alert>
              ))}
              <Typography color="textSecondary">{done.elsewhere}</Typography>
            </>
          ) : look.data ? (
            <>
              <Typography>
                <strong>{look.data.goes}</strong> will be gone{look.data.copies && `, from ${look.data.copies} too`}.
                This cannot be undone.
              </Typography>
              <Typography color="textSecondary">{look.data.elsewhere}</Typography>
            </>
          ) : look.error ? null : (
            <Loading />
          )}
          <ErrorNotice error={look.error ?? erase.error} />
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={over} autoFocus>
          {done ? "Close" : "Keep it"}
        </Button>
        {!done && look.data && (
          <Button color="error" variant="contained" disabled={erase.isPending} onClick={() => erase.mutate(undefined)}>
            {erase.isPending ? "Erasing…" : "Erase for good"}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
