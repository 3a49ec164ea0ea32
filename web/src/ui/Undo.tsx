import { Button, Snackbar } from "@mui/material";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";

type Offer = { text: string; undo: () => void };
const Offers = createContext<((offer: Offer) => void) | null>(null);

/** Offers to take the last act back instead of asking beforehand. */
export function UndoProvider({ children }: { children: ReactNode }) {
  const [offer, setOffer] = useState<Offer | null>(null);
  const close = () => setOffer(null);
  return (
    <Offers.Provider value={useCallback((next: Offer) => setOffer(next), [])}>
      {children}
      <Snackbar
        open={offer !== null}
        message={offer?.text}
        // On a phone the places, or the acts of a clean, are at the bottom: it covers none of them.
        sx={{ top: { xs: 8, md: "auto" }, bottom: { xs: "auto", md: 24 } }}
        autoHideDuration={12_000}
        onClose={(_, reason) => reason === "timeout" && close()}
        action={
          <Button
            color="inherit"
            onClick={() => {
              offer?.undo();
              close();
            }}
          >
            Undo
          </Button>
        }
      />
    </Offers.Provider>
  );
}

export function useUndo() {
  const offer = useContext(Offers);
  if (!offer) throw new Error("useUndo needs an UndoProvider above it");
  return offer;
}
