/** MUI's parts dressed in our look, on each of its grounds. */
import { createTheme, type Theme } from "@mui/material/styles";
import { BackMenuList } from "./BackMenuList";
import type { Ground } from "./ground";

const colours = {
  light: { ground: "#f3efe6", page: "#fbf9f4", ink: "#1b262b", ink2: "#55636a", rule: "#d9d2c3", crimson: "#a3123a" },
  dark: { ground: "#14191c", page: "#1c2327", ink: "#ece7db", ink2: "#a5b0b4", rule: "#37424a", crimson: "#ff8fa6" },
  sun: { ground: "#ffffff", page: "#ffffff", ink: "#000000", ink2: "#1f1f1f", rule: "#5a5a5a", crimson: "#8a0026" },
};

const font = '"Atkinson Hyperlegible Next Variable", sans-serif';

export function themeFor(ground: Ground): Theme {
  const c = colours[ground];
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
      MuiOutlinedInput: {
        styleOverrides: { root: { background: "var(--page)", minHeight: 48 }, notchedOutline: { borderColor: "var(--ink2)" } },
      },
      MuiMenu: { defaultProps: { slots: { list: BackMenuList } } },
      MuiDrawer: { styleOverrides: { paper: { background: "var(--page)", backgroundImage: "none" } } },
      MuiDialog: { styleOverrides: { paper: { background: "var(--page)", backgroundImage: "none", borderRadius: 4 } } },
      MuiBackdrop: { styleOverrides: { root: { backgroundColor: "rgb(24 33 38 / 0.55)" } } },
    },
  });
}
