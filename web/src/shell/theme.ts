import { createTheme } from "@mui/material/styles";

const shared = {
  fontFamily: '"Atkinson Hyperlegible Next Variable", "Atkinson Hyperlegible", system-ui, sans-serif',
  fontSize: 15,
  button: { textTransform: "none" as const, fontWeight: 600 },
};

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "data-scheme" },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: "#7A5A12", contrastText: "#FFFFFF" },
        error: { main: "#A3231B" },
        warning: { main: "#96440A" },
        success: { main: "#1F6A58" },
        background: { default: "#E9EDED", paper: "#FAFBFB" },
        text: { primary: "#172023", secondary: "#4A585C" },
        divider: "#C6CED0",
      },
    },
    dark: {
      palette: {
        primary: { main: "#E0B65A", contrastText: "#1B1608" },
        error: { main: "#FF8A7E" },
        warning: { main: "#F0A35E" },
        success: { main: "#6CC7AE" },
        background: { default: "#14191B", paper: "#1F2729" },
        text: { primary: "#E8EEEF", secondary: "#B3C0C3" },
        divider: "#3A4649",
      },
    },
  },
  shape: { borderRadius: 0 },
  typography: shared,
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: { defaultProps: { disableElevation: true } },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiDialog: { styleOverrides: { paper: { border: "1px solid var(--rule)" } } },
    MuiPopover: { styleOverrides: { paper: { border: "1px solid var(--rule)" } } },
    MuiTooltip: { defaultProps: { arrow: false, enterDelay: 500 } },
  },
});
