import { Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Page, Ready } from "../ui/Notices";
import { WaysView } from "../ways/WaysView";
import { HistoryView } from "./HistoryView";
import { HowItWorks } from "./HowItWorks";
import { LearnedView } from "./LearnedView";
import { NowView } from "./NowView";
import { OverTime } from "./OverTime";

const views = [
  ["", "Now"],
  ["over-time", "Over time"],
  ["how-it-works", "How it works"],
  ["learned", "Learned"],
  ["ways", "Our ways"],
  ["history", "History"],
] as const;

/** One brewer in four views, each with its own address. */
export function BrewerPage() {
  const { id = "", view = "" } = useParams();
  const query = useQuery(queries.brewer(id));
  return (
    <Ready query={query}>
      {(brewer) => (
        <Page title={brewer.card.nickname}>
          <Typography color="textSecondary" sx={{ mt: "0 !important", overflowWrap: "anywhere" }}>
            {brewer.card.family} · {brewer.card.home} · {brewer.card.water}
          </Typography>
          <Stack
            component="nav"
            aria-label="Views of this brewer"
            direction="row"
            sx={{ borderBottom: 1, borderColor: "divider", overflowX: "auto" }}
          >
            {views.map(([to, label]) => (
              <Button
                key={to}
                component={Link}
                to={to === "" ? `/brewers/${id}` : `/brewers/${id}/${to}`}
                aria-current={view === to ? "page" : undefined}
                sx={{
                  flexShrink: 0,
                  minHeight: 48,
                  px: { xs: 1.25, sm: 2 },
                  color: "text.primary",
                  borderRadius: 0,
                  borderBottom: 4,
                  borderColor: view === to ? "primary.main" : "transparent",
                }}
              >
                {label}
              </Button>
            ))}
          </Stack>
          <View id={id} view={view} brewer={brewer} />
        </Page>
      )}
    </Ready>
  );
}

function View({ id, view, brewer }: { id: string; view: string; brewer: Schemas["BrewerView"] }) {
  switch (view) {
    case "":
      return <NowView id={id} brewer={brewer} />;
    case "over-time":
      return <OverTime id={id} brewer={brewer} />;
    case "how-it-works":
      return <HowItWorks id={id} brewer={brewer} />;
    case "learned":
      return <LearnedView id={id} brewer={brewer} />;
    case "ways":
      return <WaysView id={id} brewer={brewer} />;
    case "history":
      return <HistoryView id={id} brewer={brewer} />;
    default:
      return (
        <Typography>
          This brewer has no such view. <Link to={`/brewers/${id}`}>See how it stands now</Link>
        </Typography>
      );
  }
}
