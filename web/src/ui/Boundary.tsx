import { Alert, Button, Stack, Typography } from "@mui/material";
import { Component, type ReactNode } from "react";

/** A view that broke says so and gives the ways on; what was told before is safe with the household. */
export class Boundary extends Component<{ children: ReactNode; at: string }, { error: Error | null }> {
  override state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override componentDidUpdate(before: { at: string }) {
    // Another address is another view.
    if (before.at !== this.props.at && this.state.error) this.setState({ error: null });
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    // Parts of the application that were not loaded yet cannot be without a line.
    const unloaded = /dynamically imported|Importing a module|Failed to fetch/i.test(error.message);
    return (
      <Stack spacing={2}>
        <Typography variant="h1">This view did not open</Typography>
        <Alert severity="error" variant="outlined">
          {unloaded
            ? "It could not be loaded without a line. Nothing was lost; try again once the household can be reached."
            : `Something went wrong here: ${error.message}. Nothing was lost.`}
        </Alert>
        <Stack direction="row" spacing={1}>
          <Button variant="contained" onClick={() => window.location.reload()}>
            Try again
          </Button>
          <Button variant="outlined" href="/">
            To the Counter
          </Button>
        </Stack>
      </Stack>
    );
  }
}
