import { createTheme } from "@mui/material/styles";
import { tokens, variables, type Tokens } from "@/shared/tokens";

const palette = (t: Tokens) => ({
  primary: { main: t.brass, contrastText: t.onbrass },
  error: { main: t.stop },
  warning: { main: t.tight },
  success: { main: t.hold },
  background: { default: t.page, paper: t.sheet },
  text: { primary: t.ink, secondary: t.ink2 },
  divider: t.rule,
});

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "data-scheme" },
  colorSchemes: { light: { palette: palette(tokens.light) }, dark: { palette: palette(tokens.dark) } },
  shape: { borderRadius: 0 },
  typography: {
    fontFamily: '"Atkinson Hyperlegible Next Variable", "Atkinson Hyperlegible", system-ui, sans-serif',
    fontSize: 15,
    button: { textTransform: "none", fontWeight: 600 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: { ":root": variables(tokens.light), '[data-scheme="dark"]': variables(tokens.dark) },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: { defaultProps: { disableElevation: true } },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiDialog: { styleOverrides: { paper: { border: "1px solid var(--rule)" } } },
    MuiPopover: { styleOverrides: { paper: { border: "1px solid var(--rule)" } } },
    MuiTooltip: { defaultProps: { arrow: false, enterDelay: 500 } },
  },
});
