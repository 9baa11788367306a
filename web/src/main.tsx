// The look comes first: what a screen says of itself stands over it.
import "@fontsource-variable/atkinson-hyperlegible-next";
import "./ui/look.css";
import { StrictMode, Suspense, useEffect } from "react";
import { createRoot } from "react-dom/client";
import { useTranslation } from "react-i18next";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import FieldApp, { ready } from "./field/FieldApp";
import { finishLeaving, followOtherTabs, isField, isOffice, isTerminal, useMe } from "./session/session";
import { Boundary } from "./ui/Boundary";
import { followBack } from "./ui/back";
import { useGround } from "./ui/ground";
import { screen } from "./ui/screen";
import "./words/i18n";

followOtherTabs();
followBack();
const tellOfLeaving = () => void finishLeaving().catch(() => {}); // tried again with the next signal
tellOfLeaving();
addEventListener("online", tellOfLeaving);
// Whoever works in the field sees the first screen at once, without a page that says it is coming.
if (!location.pathname.startsWith("/check")) await ready;
const SignIn = screen(() => import("./session/SignIn"));
const TerminalApp = screen(() => import("./terminal/TerminalApp"));
const OfficeApp = screen(() => import("./office/OfficeApp"));
const CheckPage = screen(() => import("./check/CheckPage"));

function App() {
  const { t } = useTranslation();
  const me = useMe();
  useGround();
  useOffline(!!me && (isField(me) || isTerminal(me)));
  return (
    <Suspense fallback={<p className="empty">{t("app.loading")}</p>}>
      {location.pathname.startsWith("/check") ? (
        <CheckPage />
      ) : !me ? (
        <SignIn />
      ) : (
        <Routes>
          {isField(me) && <Route path="/field/*" element={<FieldApp me={me} />} />}
          {isTerminal(me) && <Route path="/terminal" element={<TerminalApp me={me} />} />}
          {isOffice(me) && <Route path="/office/*" element={<OfficeApp me={me} />} />}
          <Route path="*" element={<Navigate to={isField(me) ? "/field" : isTerminal(me) ? "/terminal" : "/office/home"} replace />} />
        </Routes>
      )}
    </Suspense>
  );
}

/** Keeps the app on devices that open it with no signal: not in browsers of the office. */
function useOffline(needed: boolean) {
  useEffect(() => {
    // A new version waits until the app is closed everywhere, so that nothing changes under somebody's hands.
    if (needed && "serviceWorker" in navigator && import.meta.env.PROD) void navigator.serviceWorker.register("/sw.js");
  }, [needed]);
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    {/* What was tapped is there at once: the screen before would go on taking taps that are meant for it. */}
    <BrowserRouter useTransitions={false}>
      <Boundary>
        <App />
      </Boundary>
    </BrowserRouter>
  </StrictMode>,
);
