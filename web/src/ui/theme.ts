/** MUI's parts dressed in our look, on each of its grounds. */
import { createTheme, type Theme } from "@mui/material/styles";
import { BackMenuList } from "./BackMenuList";
import type { Ground } from "./ground";

/** The colours of a ground, as look.css has them: the library computes with them, and can't with variables. */
function coloursOf(ground: Ground) {
  const probe = document.createElement("div");
  probe.dataset.theme = ground;
  document.body.append(probe);
  const style = getComputedStyle(probe);
  const read = (name: string) => style.getPropertyValue(`--${name}`).trim();
  const colours = { ground: read("ground"), page: read("page"), ink: read("ink"), ink2: read("ink2"), rule: read("rule"), crimson: read("crimson") };
  probe.remove();
  return colours;
}

const font = '"Atkinson Hyperlegible Next Variable", sans-serif';

export function themeFor(ground: Ground): Theme {
  const c = coloursOf(ground);
  return createTheme({
    palette: {
      mode: ground === "dark" ? "dark" : "light",
      primary: { main: c.ink, contrastText: c.page },
      error: { main: c.crimson },
      background: { default: c.ground, paper: c.page },
      text: { primary: c.ink, secondary: c.ink2 },
      divider: c.rule,
    },
    shape: { borderRadius: 4 },
    typography: { fontFamily: font, button: { textTransform: "none", fontWeight: 650, fontSize: 16 } },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true, variant: "outlined" },
        styleOverrides: {
          root: { minHeight: 48, padding: "0 18px", lineHeight: 1.2 },
          contained: { background: "var(--blaze)", color: "var(--blaze-ink)", "&:hover": { background: "var(--blaze)", filter: "brightness(0.95)" } },
          outlined: { borderColor: "var(--ink2)", borderWidth: 1.5, color: "inherit", "&:hover": { borderWidth: 1.5 } },
        },
      },
      MuiTextField: { defaultProps: { variant: "outlined", fullWidth: true, size: "small" } },
      MuiInputLabel: { styleOverrides: { root: { color: "var(--ink2)", "&.Mui-focused": { color: "var(--ink)" } } } },
      // What a field means is read by those who may not change it as well.
      MuiFormHelperText: { styleOverrides: { root: { "&.Mui-disabled": { color: "var(--ink2)" } } } },
      MuiOutlinedInput: {
        styleOverrides: { root: { background: "var(--page)", minHeight: 48 }, notchedOutline: { borderColor: "var(--ink2)" } },
      },
      MuiMenu: { defaultProps: { slots: { list: BackMenuList } } },
      MuiDrawer: { styleOverrides: { paper: { background: "var(--page)", backgroundImage: "none" } } },
      MuiDialog: { styleOverrides: { paper: { background: "var(--page)", backgroundImage: "none", borderRadius: 4 } } },
      MuiBackdrop: {
        styleOverrides: {
          root: { backgroundColor: "color-mix(in srgb, var(--night) 55%, transparent)", "&.MuiBackdrop-invisible": { backgroundColor: "transparent" } },
        },
      },
    },
  });
}
