import { Alert, Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { type MouseEvent, useRef, useState } from "react";
import { photoAt, type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { GlassPicture, GlassRow } from "../pictures/GlassRow";
import { colourAt, glassSide, shrunk } from "../ui/photo";

type Colour = [number, number, number];

const which: Record<Schemas["GlassOf"], string> = {
  reference: "Tap water, to compare with",
  first: "First run of plain water",
  bath: "The bath, before the soak",
  soaked: "The bath, after the soak",
  final: "The last rinse, cooled",
};
const taps = [
  { of: "reference", ask: "Tap the glass of tap water." },
  { of: "sample", ask: "Now tap the other glass." },
  { of: "white", ask: "Tap the white behind them, so that the lamp's colour does not count; or leave it." },
] as const;

/** The glass row, and a way to add one: a drawn tint, a photo, or two taps on it that make "the same" a measurement. */
export function Glasses({ clean, act }: { clean: Schemas["CleanView"]; act: (what: Schemas["Act"]) => void }) {
  const { glasses, glass_next } = clean.state;
  const [adding, setAdding] = useState(false);
  return (
    <Paper component="section" aria-label="Glass row" sx={{ p: 2 }}>
      <Stack spacing={1.5}>
        <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
          <Typography variant="h2">Glasses</Typography>
          {!adding && (
            <Button variant="outlined" sx={{ minHeight: 48 }} onClick={() => setAdding(true)}>
              Look at one: {which[glass_next].toLowerCase()}
            </Button>
          )}
        </Stack>
        {glasses.length > 0 && <GlassRow glasses={glasses} photoAt={photoAt} />}
        {glasses.length === 0 && !adding && (
          <Typography color="textSecondary">
            Two glasses side by side against something white show whether it works: browner with the bath, clear at the
            end.
          </Typography>
        )}
        {adding && (
          <OneGlass
            key={glass_next}
            clean={clean.id}
            first={glass_next}
            tints={clean.tints}
            onCancel={() => setAdding(false)}
            onLook={(glass) => {
              act({ kind: "looked", glass });
              setAdding(false);
            }}
          />
        )}
      </Stack>
    </Paper>
  );
}

function OneGlass({
  clean,
  first,
  tints,
  onCancel,
  onLook,
}: {
  clean: string;
  first: Schemas["GlassOf"];
  tints: string[];
  onCancel: () => void;
  onLook: (glass: Schemas["GlassSeen"]) => void;
}) {
  const [of, setOf] = useState(first);
  const [rating, setRating] = useState<number | null>(null);
  const [photo, setPhoto] = useState<{ id: string; url: string; canvas: HTMLCanvasElement }>();
  const [colours, setColours] = useState<{ [name in (typeof taps)[number]["of"]]?: Colour }>({});
  const [error, setError] = useState<Error | null>(null);
  const picked = useRef<HTMLInputElement>(null);
  const asked = taps.find((t) => !colours[t.of]);
  const take = async (file: File) => {
    setError(null);
    try {
      const { blob, canvas } = await shrunk(file, glassSide);
      const id = newId();
      await send.photo({ shows: "glass", clean_id: clean }, id, blob);
      setPhoto({ id, url: canvas.toDataURL("image/jpeg"), canvas });
      setColours({});
    } catch (cause) {
      setError(cause as Error);
    }
  };
  const tap = (event: MouseEvent<HTMLImageElement>) => {
    if (!photo || !asked) return;
    const box = event.currentTarget.getBoundingClientRect();
    const at = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] as const;
    setColours({ ...colours, [asked.of]: colourAt(photo.canvas, at[0], at[1]) });
  };
  const { reference, sample, white } = colours;
  const sampled = reference && sample ? { reference, sample, white: white ?? null } : null;
  return (
    <Stack spacing={1.5}>
      <TextField
        select
        label="Which glass"
        value={of}
        onChange={(e) => setOf(e.target.value as Schemas["GlassOf"])}
        sx={{ maxWidth: 360 }}
      >
        {(Object.keys(which) as Schemas["GlassOf"][]).map((name) => (
          <MenuItem key={name} value={name}>
            {which[name]}
          </MenuItem>
        ))}
      </TextField>
      <Box role="radiogroup" aria-label="Nearest tint" sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {tints.map((tint, i) => (
          <Button
            key={tint}
            role="radio"
            aria-checked={rating === i}
            variant={rating === i ? "contained" : "outlined"}
            onClick={() => setRating(i)}
            sx={{ flexDirection: "column", minWidth: 92, color: rating === i ? undefined : "text.primary" }}
          >
            <GlassPicture rating={i} size={44} />
            {tint}
          </Button>
        ))}
      </Box>
      <input
        ref={picked}
        type="file"
        accept="image/*"
        capture="environment"
        aria-label="Photo of both glasses"
        hidden
        onChange={(e) => e.target.files?.[0] && take(e.target.files[0])}
      />
      {photo ? (
        <>
          <Typography role="status">
            <strong>{asked ? asked.ask : "Both glasses and the white are taken."}</strong>
          </Typography>
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the tints above are the way without pointing */}
          <img
            src={photo.url}
            alt="Both glasses: tap their colours"
            onClick={tap}
            style={{ maxWidth: "100%", maxHeight: 320, alignSelf: "flex-start", cursor: "crosshair", borderRadius: 8 }}
          />
        </>
      ) : (
        <Box>
          <Button variant="outlined" sx={{ minHeight: 48 }} onClick={() => picked.current?.click()}>
            Photo of both glasses
          </Button>
        </Box>
      )}
      {error && (
        <Alert severity="warning" variant="outlined">
          {error.message}
        </Alert>
      )}
      <Stack direction="row" spacing={1}>
        <Button
          variant="contained"
          sx={{ minHeight: 56 }}
          disabled={rating === null && sampled === null}
          onClick={() => onLook({ of, rating, photo: photo?.id ?? null, sampled })}
        >
          Put it in the row
        </Button>
        <Button sx={{ minHeight: 56 }} onClick={onCancel}>
          Not now
        </Button>
      </Stack>
    </Stack>
  );
}
