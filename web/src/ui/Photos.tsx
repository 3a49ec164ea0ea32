import { Alert, Box, Button, Dialog, Stack, Typography } from "@mui/material";
import { useRef, useState } from "react";
import { type PhotoOf, photoAt, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { pageSide, shrunk } from "./photo";
import { useUndo } from "./Undo";
import { useMoment } from "./useClock";

/** Photos of one kind: shown small, opened large, taken, put away with undo. */
export function Photos({
  of,
  photos,
  title,
  take,
  none,
}: {
  of: PhotoOf;
  photos: Schemas["PhotoBrief"][];
  title: string;
  take: string;
  none?: string;
}) {
  const offerUndo = useUndo();
  const [open, setOpen] = useState<string>();
  const picked = useRef<HTMLInputElement>(null);
  const keep = useChange(async (file: File) => {
    const { blob } = await shrunk(file, pageSide);
    await send.photo(of, newId(), blob);
  });
  const away = useChange(send.deletePhoto);
  const back = useChange(send.restorePhoto);
  const shown = photos.filter((photo) => photo.shows === of.shows);
  const putAway = (id: string) => {
    setOpen(undefined);
    away.mutate(id, {
      onSuccess: () => offerUndo({ text: "Photo put away", undo: () => back.mutate(id) }),
    });
  };
  const error = keep.error ?? away.error ?? back.error;
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3">{title}</Typography>
      {shown.length === 0 && none && <Typography color="textSecondary">{none}</Typography>}
      <Stack component="ul" direction="row" sx={{ flexWrap: "wrap", gap: 1, p: 0, my: 1, listStyle: "none" }}>
        {shown.map((photo, n) => (
          <Box component="li" key={photo.id}>
            <Button onClick={() => setOpen(photo.id)} sx={{ p: 0.5 }} aria-label={`${title}, ${n + 1}: look closer`}>
              <Small id={photo.id} />
            </Button>
          </Box>
        ))}
      </Stack>
      <input
        ref={picked}
        type="file"
        accept="image/*"
        capture="environment"
        aria-label={take}
        hidden
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) keep.mutate(file);
        }}
      />
      <Button variant="outlined" disabled={keep.isPending} onClick={() => picked.current?.click()}>
        {keep.isPending ? "Keeping it…" : take}
      </Button>
      {error && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
          {error.message}
        </Alert>
      )}
      <Dialog
        open={open !== undefined}
        onClose={() => setOpen(undefined)}
        maxWidth="lg"
        slotProps={{ paper: { "aria-label": title } }}
      >
        {open && <img src={photoAt(open)} alt={title} style={{ maxWidth: "100%", maxHeight: "80vh" }} />}
        <Stack direction="row" sx={{ p: 1, alignItems: "center", justifyContent: "space-between" }}>
          <When photo={shown.find((photo) => photo.id === open)} />
          <Box>
            <Button color="inherit" onClick={() => open && putAway(open)}>
              Put away
            </Button>
            <Button onClick={() => setOpen(undefined)}>Close</Button>
          </Box>
        </Stack>
      </Dialog>
    </Box>
  );
}

function Small({ id }: { id: string }) {
  return (
    <img
      src={photoAt(id)}
      alt=""
      width={112}
      height={112}
      loading="lazy"
      style={{ objectFit: "cover", borderRadius: 8, display: "block" }}
    />
  );
}

function When({ photo }: { photo?: Schemas["PhotoBrief"] | undefined }) {
  const say = useMoment();
  if (!photo?.at) return <span />;
  return <Typography color="textSecondary">{say(photo.at)}</Typography>;
}
