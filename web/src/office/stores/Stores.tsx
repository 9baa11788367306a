import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { NavLink, Route, Routes } from "react-router";
import { letCoreLoad } from "../../device/core";
import { Ahead } from "./Ahead";
import { CatalogueScreen } from "./CatalogueScreen";
import { FillUp } from "./FillUp";
import { OnTheWay } from "./OnTheWay";
import { Picks } from "./Picks";
import { Places } from "./Places";
import { Purchases } from "./Purchases";
import { useHandovers, useRequests } from "./queries";
import { Requests } from "./Requests";
import "./stores.css";

/** Parts: what is asked for, picked, ordered, filled up; what is where; the catalogue. */
export default function Stores() {
  const { t } = useTranslation();
  useEffect(letCoreLoad, []);
  const waiting = useRequests(false).data?.length ?? 0;
  const moving = useHandovers().data?.length ?? 0;
  const pages = [
    ["", "requests", waiting],
    ["picks", "picks", 0],
    ["places", "places", 0],
    ["moving", "moving", moving],
    ["orders", "orders", 0],
    ["fill", "fill", 0],
    ["ahead", "ahead", 0],
    ["catalogue", "catalogue", 0],
  ] as const;
  return (
    <main className="stores">
      <h1 className="visually-hidden">{t("office.stores")}</h1>
      <nav className="stores-nav" aria-label={t("office.stores")}>
        {pages.map(([path, word, count]) => (
          <NavLink key={word} to={`/office/stores${path && `/${path}`}`} end={path === ""}>
            {t(`stores.${word}`)} {count > 0 && <b>{count}</b>}
          </NavLink>
        ))}
      </nav>
      <Routes>
        <Route path="/" element={<Requests />} />
        <Route path="/picks" element={<Picks />} />
        <Route path="/places" element={<Places />} />
        <Route path="/places/:place" element={<Places />} />
        <Route path="/moving" element={<OnTheWay />} />
        <Route path="/orders" element={<Purchases />} />
        <Route path="/fill" element={<FillUp />} />
        <Route path="/ahead" element={<Ahead />} />
        <Route path="/catalogue" element={<CatalogueScreen />} />
      </Routes>
    </main>
  );
}
