import { Alert, Box, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useLocation } from "react-router";
import { queries } from "../api/queries";
import { Page, Ready } from "../ui/Notices";

/** What a client sees by a link: the brewers of one home, what was done, whether acid is inside, and when it is due again. */
export function LookPage() {
  const { hash } = useLocation();
  return (
    <Box component="main" sx={{ maxWidth: 720, mx: "auto", p: 2 }}>
      <Ready query={useQuery(queries.lookAtHome(hash.slice(1)))}>
        {(look) => (
          <Page title={look.home}>
            <Typography color="textSecondary">You can look here {look.until}. Nothing can be changed.</Typography>
            {look.brewers.length === 0 && <Typography>No brewer stands there.</Typography>}
            {look.brewers.map((brewer) => (
              <Paper component="section" key={brewer.nickname} aria-label={brewer.nickname} sx={{ p: 2 }}>
                <Typography variant="h2" sx={{ overflowWrap: "anywhere" }}>
                  {brewer.nickname}
                </Typography>
                {brewer.inside ? (
                  <Alert severity="error" variant="outlined" sx={{ my: 1 }}>
                    {brewer.inside}
                  </Alert>
                ) : (
                  <Typography sx={{ my: 0.5 }}>No acid is known to be inside.</Typography>
                )}
                {brewer.next.map((line) => (
                  <Typography key={line}>{line}</Typography>
                ))}
                <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0, mt: 1 }}>
                  {brewer.done.map((done) => (
                    <Stack
                      component="li"
                      key={done.day + done.what}
                      direction="row"
                      spacing={2}
                      sx={{ borderTop: 1, borderColor: "divider", py: 1 }}
                    >
                      <Typography sx={{ minWidth: 72, fontWeight: 700 }}>{done.day}</Typography>
                      <Typography>
                        {done.what}
                        {done.by && ` · ${done.by}`}
                      </Typography>
                    </Stack>
                  ))}
                </Stack>
                {brewer.done.length === 0 && <Typography>No clean was guided by Murlo yet.</Typography>}
              </Paper>
            ))}
          </Page>
        )}
      </Ready>
    </Box>
  );
}
