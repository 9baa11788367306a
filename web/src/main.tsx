import "@fontsource-variable/atkinson-hyperlegible-next";
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { ThemeProvider } from "@mui/material/styles";
import { lazy, StrictMode, Suspense, useMemo } from "react";
import { createRoot } from "react-dom/client";
import { useTranslation } from "react-i18next";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { isField, isOffice, remembered, useMe } from "./session/session";
import "./ui/look.css";
import { Boundary } from "./ui/Boundary";
import { themeFor, useGround } from "./ui/theme";
import "./words/i18n";

const loadField = () => import("./field/FieldApp");
if (remembered() && location.pathname.startsWith("/field")) void loadField().catch(() => {}); // before the first render asks for it
const FieldApp = lazy(loadField);
const SignIn = lazy(() => import("./session/SignIn"));
const OfficeApp = lazy(() => import("./office/OfficeApp"));

// Styles made at run time carry the page's nonce, as the content security policy asks.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;
const cache = createCache({ key: "iter", nonce, prepend: true });

function App() {
  const { t } = useTranslation();
  const me = useMe();
  const ground = useGround();
  const theme = useMemo(() => themeFor(ground), [ground]);
  return (
    <ThemeProvider theme={theme}>
      <Suspense fallback={<p className="empty">{t("app.loading")}</p>}>
        {!me ? (
          <SignIn />
        ) : (
          <Routes>
            {isField(me) && <Route path="/field/*" element={<FieldApp me={me} />} />}
            {isOffice(me) && <Route path="/office/*" element={<OfficeApp me={me} />} />}
            <Route path="*" element={<Navigate to={isField(me) ? "/field" : "/office"} replace />} />
          </Routes>
        )}
      </Suspense>
    </ThemeProvider>
  );
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <CacheProvider value={cache}>
      <BrowserRouter>
        <Boundary>
          <App />
        </Boundary>
      </BrowserRouter>
    </CacheProvider>
  </StrictMode>,
);

if ("serviceWorker" in navigator && import.meta.env.PROD) {
  // A new version waits until the app is closed everywhere, so that nothing changes under somebody's hands.
  void navigator.serviceWorker.register("/sw.js");
}
