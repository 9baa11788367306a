import { useMediaQuery } from "@mui/material";
import { useTranslation } from "react-i18next";
import { NavLink, Route, Routes, useLocation, useMatch } from "react-router";
import { SignIn } from "../session/SignIn";
import type { Me } from "../types";
import { Empty } from "../ui/Empty";
import { Dock } from "./Dock";
import { DeviceProvider, useSync } from "./device";
import { Outbox } from "./Outbox";
import { RouteScreen } from "./RouteScreen";
import { TimeScreen } from "./TimeScreen";
import { Van } from "./Van";
import { VisitScreen } from "./visit/VisitScreen";
import "./field.css";

export default function FieldApp({ me }: { me: Me }) {
  return (
    <DeviceProvider me={me}>
      <Screens />
    </DeviceProvider>
  );
}

function Screens() {
  const { t } = useTranslation();
  const wide = useMediaQuery("(min-width: 900px)");
  const { pathname } = useLocation();
  const { phase } = useSync();
  const visit = useMatch("/field/visit/:id")?.params.id;
  const onRoute = pathname === "/field" || pathname === "/field/" || visit !== undefined;
  if (phase === "signed_out" && pathname === "/field/sign-in") return <SignIn again />;
  return (
    <div className={`field${wide ? " wide" : ""}`}>
      {wide && onRoute && (
        <aside>
          <RouteScreen chosen={visit} />
        </aside>
      )}
      <div className="field-main">
        <Routes>
          <Route path="/" element={wide ? <Empty>{t("dock.open")}</Empty> : <RouteScreen />} />
          <Route path="/visit/:id" element={<VisitScreen wide={wide} />} />
          <Route path="/van" element={<Van />} />
          <Route path="/time" element={<TimeScreen />} />
          <Route path="/outbox" element={<Outbox />} />
        </Routes>
      </div>
      {onRoute && <Dock visit={visit} />}
      {(wide || !visit) && <Tabs onRoute={onRoute} />}
    </div>
  );
}

function Tabs({ onRoute }: { onRoute: boolean }) {
  const { t } = useTranslation();
  const { waiting } = useSync();
  return (
    <nav className="tabs on-night" aria-label={t("app.name")}>
      <NavLink to="/field" end className={onRoute ? "active" : undefined}>
        {t("tab.route")}
      </NavLink>
      <NavLink to="/field/van">{t("tab.van")}</NavLink>
      <NavLink to="/field/time">{t("tab.time")}</NavLink>
      <NavLink to="/field/outbox">
        {t("tab.outbox")}
        {waiting > 0 && <b className="tabs-count"> {waiting}</b>}
      </NavLink>
    </nav>
  );
}
