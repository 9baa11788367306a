/** The component library in our look. It comes with the screens that use it, so that the route can start without it. */
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { ThemeProvider } from "@mui/material/styles";
import { type ReactNode, useMemo } from "react";
import { useGround } from "./ground";
import { themeFor } from "./theme";

// Styles made at run time carry the page's nonce, as the content security policy asks.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;
const cache = createCache({ key: "iter", nonce, prepend: true });

export function Themed({ children }: { children: ReactNode }) {
  const ground = useGround();
  const theme = useMemo(() => themeFor(ground), [ground]);
  return (
    <CacheProvider value={cache}>
      <ThemeProvider theme={theme}>{children}</ThemeProvider>
    </CacheProvider>
  );
}
