import {
  Alert,
  Box,
  Button,
  GlobalStyles,
  Paper,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Page, Ready } from "../ui/Notices";
import { ShareText } from "../ui/ShareText";

/** The cards of a visit, one a page. */
export function VisitCards() {
  const cards = useQuery(queries.visitCards(useParams().id ?? ""));
  return <Ready query={cards}>{(all) => <Cards cards={all} />}</Ready>;
}

/** The card of one clean. */
export function CleanCard() {
  const card = useQuery(queries.cleanCard(useParams().id ?? ""));
  return <Ready query={card}>{(one) => <Cards cards={[one]} />}</Ready>;
}

const sizes = {
  A6: { page: "105mm 148mm", scale: 1 },
  A5: { page: "148mm 210mm", scale: 1.4 },
} as const;

function Cards({ cards }: { cards: Schemas["CardView"][] }) {
  const [size, setSize] = useState<keyof typeof sizes>("A6");
  const [asLabels, setAsLabels] = useState(false);
  const { page, scale } = sizes[size];
  return (
    <Page
      title={asLabels ? "Labels" : "Cards to leave"}
      aside={
        <Stack direction="row" spacing={1} className="screen-only" sx={{ flexWrap: "wrap", rowGap: 1 }}>
          <ToggleButtonGroup
            exclusive
            value={size}
            onChange={(_, next: keyof typeof sizes | null) => next && setSize(next)}
            aria-label="Paper"
          >
            <ToggleButton value="A6">A6</ToggleButton>
            <ToggleButton value="A5">A5</ToggleButton>
          </ToggleButtonGroup>
          <Button variant="outlined" onClick={() => setAsLabels(!asLabels)}>
            {asLabels ? "Cards instead" : "Labels instead"}
          </Button>
          <Button variant="contained" onClick={() => window.print()} disabled={cards.length === 0}>
            Print
          </Button>
        </Stack>
      }
    >
      <GlobalStyles
        styles={{
          "@page": { size: page, margin: "8mm" },
          "@media print": {
            body: { background: "white !important" },
            main: { padding: "0 !important", maxWidth: "none !important" },
            "h1, .MuiPaper-root": { border: "none !important" },
            "main > div > div:first-of-type:has(> h1)": { display: "none !important" },
          },
        }}
      />
      {cards.length === 0 && (
        <Alert severity="info" variant="outlined">
          There is nothing to leave a card for yet: no clean of this visit has ended.
        </Alert>
      )}
      {cards.map((one) =>
        asLabels ? (
          <Label key={one.card.brewer_id + one.card.name} view={one} />
        ) : (
          <Stack key={one.card.brewer_id + one.card.name} spacing={1}>
            <Card view={one} scale={scale} />
            <Sent view={one} />
          </Stack>
        ),
      )}
    </Page>
  );
}

/** The card as words, for somebody who is not there. */
function Sent({ view }: { view: Schemas["CardView"] }) {
  const [open, setOpen] = useState(false);
  return (
    <Box className="screen-only" sx={{ maxWidth: 460 }}>
      <Button onClick={() => setOpen(!open)} aria-expanded={open} aria-label={`Send the card: ${view.card.name}`}>
        {open ? "Fold" : "Send it"}
      </Button>
      {open && <ShareText title={`${view.card.name}: ${view.card.headline}`} text={view.letter} home={view.home_id} />}
    </Box>
  );
}

const onPaper = (scale: number) => ({ "@media print": { fontSize: `${10 * scale}pt`, lineHeight: 1.3 } });

/** One stylesheet for both papers: what is printed is measured in points of the card's size. */
function Card({ view, scale }: { view: Schemas["CardView"]; scale: number }) {
  const { card } = view;
  const text = onPaper(scale);
  return (
    <Paper
      component="article"
      aria-label={`Card: ${card.name}`}
      sx={{
        p: 3,
        maxWidth: 460,
        borderWidth: card.acid ? 4 : 1,
        borderColor: card.acid ? "warning.main" : "divider",
        "@media print": { p: 0, maxWidth: "none", breakAfter: "page", color: "black", background: "white" },
      }}
    >
      <Stack direction="row" spacing={2} sx={{ justifyContent: "space-between" }}>
        <Box>
          <Typography
            variant="h2"
            component="h2"
            sx={{ fontSize: "1.5rem", "@media print": { fontSize: `${(card.acid ? 20 : 15) * scale}pt` } }}
          >
            {card.headline}
          </Typography>
          <Typography sx={text}>
            {card.name}, {card.home}
          </Typography>
        </Box>
        <Code view={view} size={84} />
      </Stack>
      {card.acid && (
        <Typography
          sx={{ fontSize: "1.3rem", fontWeight: 700, my: 1, "@media print": { fontSize: `${15 * scale}pt` } }}
        >
          {card.acid}
        </Typography>
      )}
      <Part title="What was done" lines={card.done} scale={scale} />
      {card.next && (
        <Typography sx={{ fontWeight: 700, my: 1, ...text, "@media print": { fontSize: `${12 * scale}pt` } }}>
          {card.next}
        </Typography>
      )}
      <Part title={card.acid ? "Until it is rinsed" : "Till then"} lines={card.till_then} scale={scale} />
      <Part title="Look for" lines={card.look_for} scale={scale} />
    </Paper>
  );
}

function Part({ title, lines, scale }: { title: string; lines: string[]; scale: number }) {
  if (lines.length === 0) return null;
  const text = onPaper(scale);
  return (
    <>
      <Typography component="h3" variant="h3" sx={{ mt: 1, "@media print": { fontSize: `${11 * scale}pt` } }}>
        {title}
      </Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {lines.map((line) => (
          <Typography component="li" key={line} sx={text}>
            {line}
          </Typography>
        ))}
      </Box>
    </>
  );
}

/** Opens the brewer in Murlo; the squares come from the household itself. */
function Code({ view, size }: { view: Schemas["CardView"]; size: number }) {
  return (
    <Box
      component="img"
      alt={`Opens ${view.card.name} in Murlo`}
      src={`data:image/svg+xml;utf8,${encodeURIComponent(view.code)}`}
      sx={{ width: size, height: size, flexShrink: 0 }}
    />
  );
}

/** To be stuck to the brewer. */
function Label({ view }: { view: Schemas["CardView"] }) {
  return (
    <Paper
      component="article"
      aria-label={`Label: ${view.card.name}`}
      sx={{ p: 2, maxWidth: 320, "@media print": { breakInside: "avoid", p: "4mm" } }}
    >
      <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
        <Code view={view} size={96} />
        <Box>
          <Typography variant="h3" component="h2">
            {view.card.name}
          </Typography>
          <Typography variant="body2">{view.card.next || view.card.headline}</Typography>
        </Box>
      </Stack>
    </Paper>
  );
}
