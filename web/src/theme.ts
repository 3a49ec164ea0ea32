import { createTheme } from "@mui/material/styles";

const heading = '"Bricolage Grotesque Variable", system-ui, sans-serif';

/** Colours of the pictures; each state is also told by shape or word. */
export const ink = {
  chalk: "#e9dfc8",
  chalkEdge: "#b98f4b",
  water: "#3f8fdc",
  bath: "#d8d63a",
  rinse: "#9fdcd8",
  metal: "#8b98a5",
};

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "data-mode" },
  colorSchemes: {
    light: {
      palette: {
        background: { default: "#f3f6f3", paper: "#fdfefd" },
        text: { primary: "#16244a", secondary: "#465472" },
        primary: { main: "#1b4fd1" },
        divider: "#cdd6d0",
        warning: { main: "#8a5a00" },
        error: { main: "#b3261e" },
        success: { main: "#1d6b45" },
      },
    },
    dark: {
      palette: {
        background: { default: "#10182b", paper: "#18233c" },
        text: { primary: "#eef2f7", secondary: "#b6c2d6" },
        primary: { main: "#8fb2ff" },
        divider: "#34415e",
        warning: { main: "#f0c26a" },
        error: { main: "#ff9b93" },
        success: { main: "#86d8ac" },
      },
    },
  },
  shape: { borderRadius: 10 },
  typography: {
    fontFamily: '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif',
    fontSize: 15,
    h1: { fontFamily: heading, fontSize: "2rem", fontWeight: 700 },
    h2: { fontFamily: heading, fontSize: "1.35rem", fontWeight: 650 },
    h3: { fontFamily: heading, fontSize: "1.1rem", fontWeight: 650 },
    button: { textTransform: "none", fontWeight: 650 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: "tabular-nums" },
        "a:not([class])": { color: "var(--mui-palette-primary-main)" },
        ":focus-visible": { outline: "3px solid var(--mui-palette-text-primary)", outlineOffset: 2 },
        // Of a note on paper only the note is wanted.
        "@media print": { "nav, .screen-only": { display: "none !important" } },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0, variant: "outlined" } },
    MuiButtonBase: {
      styleOverrides: {
        root: {
          "&.Mui-focusVisible": { outline: "3px solid var(--mui-palette-text-primary)", outlineOffset: 2 },
        },
      },
    },
    MuiButton: { defaultProps: { disableElevation: true }, styleOverrides: { root: { minHeight: 44 } } },
    MuiToggleButton: {
      styleOverrides: { root: { textTransform: "none", color: "var(--mui-palette-text-primary)" } },
    },
    MuiToggleButtonGroup: {
      styleOverrides: {
        // Each stays whole when they wrap.
        root: {
          flexWrap: "wrap",
          gap: 8,
          "& .MuiToggleButtonGroup-grouped": {
            border: "1px solid var(--mui-palette-divider)",
            borderRadius: 10,
            margin: 0,
          },
          // Chosen is told by its edge as well as by its colour.
          "& .MuiToggleButtonGroup-grouped.Mui-selected": {
            borderColor: "var(--mui-palette-primary-main)",
            boxShadow: "inset 0 0 0 1px var(--mui-palette-primary-main)",
          },
        },
      },
    },
    MuiTextField: { defaultProps: { fullWidth: true, size: "small" } },
    // As high as a finger.
    MuiOutlinedInput: { styleOverrides: { root: { minHeight: 44 } } },
  },
});
