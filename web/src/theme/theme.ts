import { createTheme } from "@mui/material/styles";

/** The colours of the product: limestone, ink, deep water, moss, iron oxide, frost. */
export const colours = {
  limestone: "#f3eee2",
  pale: "#faf7ef",
  rule: "#d8cfba",
  ruleDark: "#b6aa8f",
  ink: "#24272b",
  faint: "#55524a",
  water: "#0f5c63",
  waterPale: "#d5e5e2",
  moss: "#56702a",
  oxide: "#9a4722",
  frost: "#5e8499",
  surround: "#8b8b89",
};

/** What a part of the column does to the site, as a colour: grows, wears, is cold, or is just there. */
export const partColours: Record<string, string> = {
  ground: "#7b6a4d",
  zones: "#8a7f9c",
  structures: colours.ink,
  grass: "#4c7a45",
  planting: colours.moss,
  weather: colours.oxide,
  decals: "#6d4a5c",
  droplets: "#3f7f94",
  water: colours.frost,
  light: "#a8832b",
  lamps: "#b5651d",
  shots: colours.water,
};

export const theme = createTheme({
  palette: {
    mode: "light",
    primary: { main: colours.water },
    secondary: { main: colours.oxide },
    success: { main: colours.moss },
    background: { default: colours.limestone, paper: colours.pale },
    text: { primary: colours.ink, secondary: colours.faint },
    divider: colours.rule,
  },
  typography: {
    fontFamily: '"Public Sans Variable", system-ui, sans-serif',
    fontSize: 13,
    h1: { fontSize: 22, fontWeight: 650 },
    h2: { fontSize: 15, fontWeight: 650 },
    button: { textTransform: "none", fontWeight: 600 },
  },
  shape: { borderRadius: 4 },
  transitions: {
    duration: {
      shortest: 150,
      shorter: 150,
      short: 150,
      standard: 150,
      complex: 150,
      enteringScreen: 150,
      leavingScreen: 150,
    },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        html: { height: "100%" },
        body: { height: "100%", fontVariantNumeric: "tabular-nums" },
        "#root": { height: "100%" },
        ":focus-visible": { outline: `2px solid ${colours.water}`, outlineOffset: 1 },
      },
    },
    MuiButton: { defaultProps: { size: "small", disableElevation: true } },
    MuiIconButton: { defaultProps: { size: "small" } },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiSelect: { defaultProps: { size: "small" } },
    // What closes is gone at once: while it faded, Tab would still go through what is left of it.
    MuiMenu: { defaultProps: { transitionDuration: { enter: 180, exit: 0 } } },
    MuiPopover: { defaultProps: { transitionDuration: { enter: 180, exit: 0 } } },
    MuiDialog: { defaultProps: { transitionDuration: { enter: 180, exit: 0 } } },
    MuiTooltip: { defaultProps: { enterDelay: 400, arrow: true, describeChild: true, disableInteractive: true } },
  },
});
