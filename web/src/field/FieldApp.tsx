import { Suspense, useEffect, useSyncExternalStore } from "react";
import { useTranslation } from "react-i18next";
import { Navigate, NavLink, Route, Routes, useLocation, useMatch } from "react-router";
import { isField, remembered } from "../session/session";
import type { Me } from "../types";
import { Boundary } from "../ui/Boundary";
import { Empty } from "../ui/Empty";
import { Mark } from "../ui/Glyph";
import { screen } from "../ui/screen";
import { AttachProvider } from "./attach";
import { Dock } from "./Dock";
import { DeviceProvider, databaseOf, draftsOf, useNotices, useSync } from "./device";
import { FieldMap } from "./FieldMap";
import { RouteScreen } from "./route/RouteScreen";
import { StepsProvider } from "./step";
import { readFirstStops, StopsProvider } from "./stops";
import "./field.css";

const width = matchMedia("(min-width: 900px)");
const isWide = () => width.matches;
const onWidth = (f: () => void) => {
  width.addEventListener("change", f);
  return () => width.removeEventListener("change", f);
};

// The route starts alone; the rest follows while the person looks at it.
const parts = {
  visit: () => import("./visit/VisitScreen"),
  sheet: () => import("./sheet/SheetScreen"),
  action: () => import("./ActionDrawer"),
  customer: () => import("./customer/CustomerScreen"),
  van: () => import("./van/Van"),
  time: () => import("./time/TimeScreen"),
  outbox: () => import("./outbox/Outbox"),
};
const VisitScreen = screen(parts.visit);
const SheetScreen = screen(parts.sheet);
const CustomerScreen = screen(parts.customer);
const Van = screen(parts.van);
const TimeScreen = screen(parts.time);
const Outbox = screen(parts.outbox);
const SignIn = screen(() => import("../session/SignIn"));

const known = remembered();

/** Settled when the first screen has what it shows, for the person this device knows. */
export const ready: Promise<unknown> =
  known && isField(known) ? Promise.all([readFirstStops(databaseOf(known.id)), draftsOf(databaseOf(known.id)).load()]).catch(() => {}) : Promise.resolve();

export default function FieldApp({ me }: { me: Me }) {
  return (
    <DeviceProvider me={me}>
      <StopsProvider>
        <StepsProvider>
          <AttachProvider>
            <FieldMap>
              <Screens />
            </FieldMap>
          </AttachProvider>
        </StepsProvider>
      </StopsProvider>
    </DeviceProvider>
  );
}

function Screens() {
  const { t } = useTranslation();
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const load of Object.values(parts)) load().catch(() => {}); // asked for again when it is needed
    }, 2500);
    return () => clearTimeout(timer);
  }, []);
  const wide = useSyncExternalStore(onWidth, isWide);
  const { pathname } = useLocation();
  const { phase } = useSync();
  const visit = useMatch("/field/visit/:id")?.params.id;
  const sheet = useMatch("/field/visit/:id/sheet/:ref")?.params.id;
  const onRoute = pathname === "/field" || pathname === "/field/" || visit !== undefined || (wide && sheet !== undefined);
  if (phase === "signed_out" && pathname === "/field/sign-in") return <SignIn again />;
  return (
    <div className={`field${wide ? " wide" : ""}`}>
      {wide && onRoute && (
        <aside>
          <RouteScreen chosen={visit ?? sheet} />
        </aside>
      )}
      <div className="field-main">
        <Boundary at={pathname}>
          <Suspense fallback={null}>
            <Routes>
              <Route path="/" element={wide ? <Empty>{t("dock.open")}</Empty> : <RouteScreen />} />
              <Route path="/visit/:id" element={<VisitScreen wide={wide} />} />
              <Route path="/visit/:id/sheet/:ref" element={<SheetScreen />} />
              <Route path="/customer/:id" element={<CustomerScreen />} />
              <Route path="/van" element={<Van />} />
              <Route path="/time" element={<TimeScreen />} />
              <Route path="/outbox" element={<Outbox />} />
              <Route path="*" element={<Navigate to="/field" replace />} />
            </Routes>
          </Suspense>
        </Boundary>
      </div>
      {onRoute && !sheet && <Dock visit={visit} />}
      {(wide || (!visit && !sheet)) && <Tabs onRoute={onRoute} />}
    </div>
  );
}

function Tabs({ onRoute }: { onRoute: boolean }) {
  const { t } = useTranslation();
  const { waiting } = useSync();
  const look = useNotices().length;
  return (
    <nav className="tabs on-night" aria-label={t("app.name")}>
      <NavLink to="/field" end className={onRoute ? "active" : undefined}>
        {t("tab.route")}
      </NavLink>
      <NavLink to="/field/van">{t("tab.van")}</NavLink>
      <NavLink to="/field/time">{t("tab.time")}</NavLink>
      <NavLink to="/field/outbox">
        {t("tab.outbox")}
        {!!waiting && <b className="tabs-count"> {waiting}</b>}
        {look > 0 && (
          <span className="tabs-look tag warn">
            <Mark kind="warn" />
            <span className="visually-hidden">{t("tab.look", { count: look })}</span>
          </span>
        )}
      </NavLink>
    </nav>
  );
}
