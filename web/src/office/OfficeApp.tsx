import { Dialog } from "@mui/material";
import { QueryClient, QueryClientProvider, useQueryClient } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, Navigate, NavLink, Route, Routes, useLocation, useNavigate } from "react-router";
import { DraftsProvider } from "../draft/draft";
import { get } from "../session/api";
import { has, onChange, onLapse, useMay } from "../session/session";
import type { Me } from "../types";
import { Boundary } from "../ui/Boundary";
import { timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { chooseGround, grounds, useGround } from "../ui/ground";
import { settle } from "./acknowledged";
import { BoardScreen } from "./board/BoardScreen";
import { Kinds } from "./designer/Kinds";
import { Sheets } from "./designer/Sheets";
import { FindBar } from "./find/FindBar";
import { Home } from "./Home";
import { HoursScreen } from "./hours/HoursScreen";
import { Intake } from "./intake/Intake";
import { Keys } from "./Keys";
import { readings } from "./news";
import { OrderScreen } from "./order/OrderScreen";
import { OfficeMap } from "./place/OfficeMap";
import { Review } from "./Review";
import { RecordScreen } from "./record/RecordScreen";
import { Setup } from "./Setup";
import { SignOut } from "./SignOut";
import { draftsOf } from "./typed";
import { UndoProvider } from "./Undo";
import { VisitPage } from "./VisitPage";
import "./office.css";

const SignIn = lazy(() => import("../session/SignIn"));
const ChangePassword = lazy(() => import("../session/ChangePassword"));
const Accounts = lazy(() => import("./Accounts"));
const Designer = lazy(() => import("./designer/Designer"));
const ListScreen = lazy(() => import("./lists/ListScreen").then((m) => ({ default: m.ListScreen })));
const Stores = lazy(() => import("./stores/Stores"));
const EndRules = lazy(() => import("./rules/EndRules"));
const Lists = lazy(() => import("./rules/Lists"));
const People = lazy(() => import("./people/People"));
const PersonPage = lazy(() => import("./people/PersonPage"));
const ResourcePage = lazy(() => import("./people/ResourcePage"));
const PromiseRules = lazy(() => import("./rules/PromiseRules"));
const PlanRules = lazy(() => import("./rules/PlanRules"));
const AreaRules = lazy(() => import("./rules/AreaRules"));
const SignalsScreen = lazy(() => import("./signals/SignalsScreen"));
const PromiseFigures = lazy(() => import("./order/PromiseFigures"));
const RoadRules = lazy(() => import("./rules/RoadRules"));
const Troubles = lazy(() => import("./rules/Troubles"));
const Undertakings = lazy(() => import("./undertaking/Undertakings"));
const UndertakingPage = lazy(() => import("./undertaking/UndertakingPage"));
const UpkeepScreen = lazy(() => import("./upkeep/UpkeepScreen"));
const PlanPage = lazy(() => import("./upkeep/PlanPage"));
const KnowHowList = lazy(() => import("./knowhow/KnowHowList"));
const KnowHowPage = lazy(() => import("./knowhow/KnowHowPage"));

/** How often it is asked how far the office's data rests on more than one disk, in milliseconds. */
const keptEvery = 60_000;

// Asked without signal too: that nobody answers is said at once.
const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 5000, refetchOnWindowFocus: true, networkMode: "always" }, mutations: { networkMode: "always" } },
});

export default function OfficeApp({ me }: { me: Me }) {
  const drafts = useMemo(() => draftsOf(me.id), [me.id]);
  return (
    <QueryClientProvider client={queries}>
      <DraftsProvider key={me.id} drafts={drafts}>
        <UndoProvider>
          <OfficeMap>
            <Office me={me} />
          </OfficeMap>
        </UndoProvider>
      </DraftsProvider>
    </QueryClientProvider>
  );
}

function Office({ me }: { me: Me }) {
  const { t } = useTranslation();
  const { open: live, since, lapsed } = useLive(me);
  const { pathname } = useLocation();
  const [mayOpen, mayHours, mayDesign] = [useMay("work.opened"), useMay("day.approved"), useMay("record.created sheetdraft")];
  return (
    <div className="office">
      <Menu me={me} live={live} />
      <Keys />
      {lapsed && (
        <Dialog open fullScreen aria-label={t("signin.title")}>
          <Suspense fallback={null}>
            <SignIn again />
          </Suspense>
        </Dialog>
      )}
      <div className="office-main">
        <div className="office-top">
          <FindBar me={me} />
        </div>
        {since && (
          <p className="stale" role="status">
            <Tag kind="warn">{t("office.stale", { time: timeOrDay(since) })}</Tag>
          </p>
        )}
        <Boundary at={pathname}>
          <Routes>
            <Route path="/" element={<BoardScreen />} />
            <Route path="/home" element={<Home />} />
            {mayOpen && <Route path="/intake" element={<Intake />} />}
            <Route path="/review/*" element={<Review />} />
            {mayHours && <Route path="/hours" element={<HoursScreen />} />}
            <Route path="/orders/:id" element={<OrderScreen />} />
            <Route path="/visits/:id" element={<VisitPage />} />
            <Route path="/records" element={<Navigate to="/office/lists/orders" replace />} />
            <Route path="/lists/:list" element={<Later screen={<ListScreen />} />} />
            <Route path="/records/:type/:id" element={<RecordScreen />} />
            <Route path="/stores/*" element={<Later screen={<Stores />} />} />
            <Route path="/setup" element={<Setup me={me} />} />
            {has(me, "administrator") && <Route path="/setup/people" element={<Later screen={<Accounts />} />} />}
            <Route path="/setup/sheets" element={<Sheets />} />
            <Route path="/setup/kinds" element={<Kinds />} />
            <Route path="/people" element={<Later screen={<People />} />} />
            <Route path="/people/:id" element={<Later screen={<PersonPage />} />} />
            <Route path="/things/:id" element={<Later screen={<ResourcePage />} />} />
            <Route path="/setup/promises" element={<Later screen={<PromiseRules />} />} />
            <Route path="/promises" element={<Later screen={<PromiseFigures />} />} />
            <Route path="/setup/signals" element={<Later screen={<SignalsScreen />} />} />
            <Route path="/setup/roads" element={<Later screen={<RoadRules />} />} />
            <Route path="/setup/plans" element={<Later screen={<PlanRules />} />} />
            <Route path="/setup/areas" element={<Later screen={<AreaRules />} />} />
            <Route path="/setup/lists" element={<Later screen={<Lists />} />} />
            <Route path="/setup/troubles" element={<Later screen={<Troubles />} />} />
            <Route path="/undertakings" element={<Later screen={<Undertakings />} />} />
            <Route path="/undertakings/:id" element={<Later screen={<UndertakingPage />} />} />
            <Route path="/upkeep" element={<Later screen={<UpkeepScreen />} />} />
            <Route path="/upkeep/:id" element={<Later screen={<PlanPage />} />} />
            <Route path="/knowhow" element={<Later screen={<KnowHowList />} />} />
            <Route path="/knowhow/:id" element={<Later screen={<KnowHowPage />} />} />
            <Route path="/setup/ends" element={<Later screen={<EndRules />} />} />
            {mayDesign && <Route path="/setup/sheets/:id" element={<Later screen={<Designer />} />} />}
            <Route path="*" element={<NotHere />} />
          </Routes>
        </Boundary>
      </div>
    </div>
  );
}

/** An address without a screen, or with one that is not for whoever is signed in. */
function NotHere() {
  const { t } = useTranslation();
  return (
    <div className="empty" role="alert">
      <p>{t("office.notHere")}</p>
      <Link to="/office">{t("office.board")}</Link>
    </div>
  );
}

function Later({ screen }: { screen: ReactNode }) {
  return <Suspense fallback={null}>{screen}</Suspense>;
}

/**
 * Listens for changes, and has what is on screen asked for again. Tells whether the line is open, and whether the sign-in is over: then it is
 * asked for over what is on the screen, where what is half typed stays.
 */
function useLive(me: Me): { open: boolean; since?: number; lapsed: boolean } {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const [since, setSince] = useState<number>(); // when the line broke: what is on the screen is as it was then
  const [lapsed, setLapsed] = useState<Me>(); // whose sign-in is over: signing in again makes it another
  useEffect(() => onLapse(() => setLapsed(me)), [me]);
  useEffect(() => onChange((changed) => readings.tell(client, { changed, seq: 0 })), [client]);
  useEffect(() => {
    const minute = setInterval(() => document.hidden || void readings.tell(client, { changed: ["clock"], seq: 0 }), 60_000);
    return () => clearInterval(minute);
  }, [client]);
  // Signing in again begins anew.
  useEffect(() => {
    let events: EventSource;
    let timer: ReturnType<typeof setTimeout>;
    const settleKept = () => void settle(me.id).catch(() => {}); // asked for again soon
    const keeping = setInterval(settleKept, keptEvery);
    const connect = () => {
      events = new EventSource("/api/events");
      events.addEventListener("hello", () => {
        setOpen(true);
        setSince(undefined);
        readings.missed(client); // what changed while the line was down
        settleKept();
      });
      events.addEventListener("changed", (e) => void readings.tell(client, JSON.parse(e.data)));
      events.onerror = () => {
        setOpen(false);
        setSince((before) => before ?? Date.now());
        events.close();
        timer = setTimeout(() => {
          // The line may be down, or the sign-in may have run out: the next question tells which.
          get("/api/me").then(connect, (e) => e.problem?.status !== 401 && connect());
        }, 1500);
      };
    };
    connect();
    return () => {
      clearTimeout(timer);
      clearInterval(keeping);
      events.close();
    };
  }, [client, me]);
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [role=dialog]") || document.querySelector("[role=dialog]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      const to = {
        w: "/office/home",
        b: "/office",
        n: "/office/intake",
        r: "/office/review",
        h: "/office/hours",
        p: "/office/stores",
        m: "/office/upkeep",
        o: "/office/lists/orders",
        s: "/office/setup",
      }[e.key];
      if (!to) return;
      e.preventDefault(); // the key is not typed into what has the focus there
      navigate(to);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [navigate]);
  return { open, since, lapsed: lapsed === me };
}

function Menu({ me, live }: { me: Me; live: boolean }) {
  const { t } = useTranslation();
  const ground = useGround();
  const { pathname } = useLocation();
  const [changing, setChanging] = useState(false);
  return (
    <nav className="menu on-night" aria-label={t("office.nav")}>
      <p className="menu-name">{t("app.name")}</p>
      <NavLink to="/office/home">
        {t("home.menu")} <kbd>w</kbd>
      </NavLink>
      {useMay("work.opened") && (
        <NavLink to="/office/intake">
          {t("office.intake")} <kbd>n</kbd>
        </NavLink>
      )}
      <NavLink to="/office" end>
        {t("office.board")} <kbd>b</kbd>
      </NavLink>
      <NavLink to="/office/upkeep">
        {t("office.upkeep")} <kbd>m</kbd>
      </NavLink>
      <NavLink to="/office/review">
        {t("office.review")} <kbd>r</kbd>
      </NavLink>
      <NavLink to="/office/stores">
        {t("office.stores")} <kbd>p</kbd>
      </NavLink>
      {has(me, "dispatcher", "reviewer") && (
        <NavLink to="/office/hours">
          {t("office.hours")} <kbd>h</kbd>
        </NavLink>
      )}
      <NavLink to="/office/lists/orders" className={({ isActive }) => (isActive || /^\/office\/(lists|records)\//.test(pathname) ? "active" : "")}>
        {t("office.records")} <kbd>o</kbd>
      </NavLink>
      <NavLink to="/office/setup">
        {t("office.setup")} <kbd>s</kbd>
      </NavLink>
      <div className="menu-foot small">
        <p role="status">{live ? t("office.live") : <Tag kind="warn">{t("office.broken")}</Tag>}</p>
        <p>{me.person.name}</p>
        <label>
          <span className="visually-hidden">{t("settings.ground")}</span>
          <select value={ground} onChange={(e) => chooseGround(e.target.value as (typeof grounds)[number])}>
            {grounds.map((g) => (
              <option key={g} value={g}>
                {t(`ground.${g}`)}
              </option>
            ))}
          </select>
        </label>
        <button type="button" className="link" onClick={() => setChanging(true)}>
          {t("password.change")}
        </button>
        <SignOut me={me} />
        {changing && (
          <Suspense fallback={null}>
            <ChangePassword onClose={() => setChanging(false)} />
          </Suspense>
        )}
      </div>
    </nav>
  );
}
