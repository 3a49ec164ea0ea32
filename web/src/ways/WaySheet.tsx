import { Box, Button, GlobalStyles, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { photoAt, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { TaughtButtons } from "../buttons/TaughtButtons";
import { Cautions } from "../clean/Cautions";
import { Cutaway } from "../pictures/Cutaway";
import { Pour } from "../pictures/Pour";
import { TimeRibbon } from "../pictures/TimeRibbon";
import { undecided } from "../plan/options";
import { Page, Ready } from "../ui/Notices";

/** A way as one sheet for somebody who has never done it: what is poured, what is pressed, what one waits for, what to mind. */
export function WaySheet() {
  const { id = "", way = "" } = useParams();
  const query = useQuery(queries.brewer(id));
  return (
    <Ready query={query}>
      {(brewer) => {
        const known = brewer.ways.find((one) => one.id === way);
        return known ? (
          <Sheet id={id} brewer={brewer} way={known} />
        ) : (
          <Page title="No such way">
            <Typography>It was put away, or is another brewer's.</Typography>
          </Page>
        );
      }}
    </Ready>
  );
}

function Sheet({ id, brewer, way }: { id: string; brewer: Schemas["BrewerView"]; way: Schemas["WayShown"] }) {
  const plan = useQuery(
    queries.plan(id, { ...undecided, circuit_id: way.circuit_id, way: { kind: "kept", id: way.id } }),
  );
  const latest = way.revisions[0];
  return (
    <Ready query={plan}>
      {(made) => (
        <Page
          title={`${brewer.card.nickname}: ${way.name}`}
          aside={
            <Button variant="contained" className="screen-only" onClick={() => window.print()}>
              Print
            </Button>
          }
        >
          <GlobalStyles
            styles={{
              "@page": { size: "A4", margin: "12mm" },
              "@media print": {
                body: { background: "white !important" },
                main: { padding: "0 !important", maxWidth: "none !important" },
                "li, figure": { breakInside: "avoid" },
              },
            }}
          />
          <Stack direction="row" sx={{ gap: 3, flexWrap: "wrap", alignItems: "center" }}>
            <Box sx={{ width: 230, flexShrink: 0 }}>
              <Pour bath={made.bath} />
            </Box>
            <Box sx={{ flex: "1 1 240px", minWidth: 0 }}>
              {latest?.lines.map((line) => (
                <Typography key={line} sx={{ fontSize: "1.2rem", overflowWrap: "anywhere" }}>
                  {line}
                </Typography>
              ))}
              <Typography sx={{ mt: 1 }}>It takes {made.ribbon.text}.</Typography>
            </Box>
            <Box sx={{ width: 190 }} aria-hidden>
              <Cutaway family={brewer.card.family_id} filter={brewer.draft.filter} />
            </Box>
          </Stack>
          <Box sx={{ minWidth: 0 }}>
            <TimeRibbon ribbon={made.ribbon} />
          </Box>
          <Box component="section" aria-label="Lay out">
            <Typography variant="h2">Lay out</Typography>
            <Typography>{made.kit.join(" · ")}</Typography>
          </Box>
          <TaughtButtons brewer={id} circuit={way.circuit_id} />
          <Box
            component="ol"
            aria-label="What to do"
            sx={{ m: 0, pl: 0, listStyle: "none", columns: { md: 2 }, columnGap: 4 }}
          >
            {made.steps.map((step, i) => (
              <Box
                component="li"
                key={step.id}
                sx={{ breakInside: "avoid", borderTop: 1, borderColor: "divider", py: 1.25 }}
              >
                <Typography variant="h3" sx={{ fontSize: "1.15rem" }}>
                  {i + 1}. {step.title}
                  {step.figure && `: ${step.figure}`}
                </Typography>
                {step.what.map((line) => (
                  <Typography key={line}>{line}</Typography>
                ))}
                <Cautions cautions={step.cautions} />
              </Box>
            ))}
          </Box>
          {brewer.photos.length > 0 && (
            <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap" }}>
              {brewer.photos.map((photo) => (
                <Box
                  component="img"
                  key={photo.id}
                  src={photoAt(photo.id)}
                  alt="From the maker's guide"
                  sx={{ maxWidth: 260, maxHeight: 260, objectFit: "contain" }}
                />
              ))}
            </Stack>
          )}
          <Typography color="textSecondary">
            The maker's manual wins where it says otherwise. Never mix with bleach or other cleaners, and do not open
            the casing.
          </Typography>
        </Page>
      )}
    </Ready>
  );
}
