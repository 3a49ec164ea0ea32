import { Box, Paper } from "@mui/material";
import type { Schemas } from "../api/client";
import { Photos } from "../ui/Photos";

/** What a visit found, and what it left once that can be seen. */
export function VisitPhotos({ view, isOver }: { view: Schemas["VisitView"]; isOver: boolean }) {
  const visit_id = view.visit.id;
  return (
    <Paper sx={{ p: 2 }}>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: isOver ? "1fr 1fr" : "1fr" } }}>
        <Photos
          of={{ shows: "before", visit_id }}
          photos={view.photos}
          title="Photos before"
          take="Photo of how it was"
        />
        {isOver && (
          <Photos
            of={{ shows: "after", visit_id }}
            photos={view.photos}
            title="Photos after"
            take="Photo of how it is now"
          />
        )}
      </Box>
    </Paper>
  );
}
