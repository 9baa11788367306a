import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Navigate, NavLink, useNavigate, useParams } from "react-router";
import { May } from "../../session/May";
import type { Word } from "../../words/i18n";
import { Export } from "../checks/Export";
import { Failure } from "../queries";
import { type Asking, useAsking } from "./address";
import { Columns } from "./Columns";
import { Files } from "./Files";
import { FilterRow } from "./FilterRow";
import { Groups } from "./Groups";
import { Lines } from "./Lines";
import css from "./Lists.module.css";
import { useList } from "./queries";
import { Selection } from "./Selection";
import { Views } from "./Views";
import { isList, type ListName, listNames } from "./words";

/** The lists of all records: filtered, sorted, grouped, kept as views, written to files, changed many at once. */
export function ListScreen() {
  const { list = "" } = useParams();
  return isList(list) ? <List key={list} list={list} /> : <Navigate to="/office/lists/orders" replace />;
}

/** What is begun from a list: where that is done, and the right it takes. */
const begun: Partial<Record<ListName, { to: string; word: Word; right: Parameters<typeof May>[0]["right"] }>> = {
  orders: { to: "/office/intake", word: "list.new.orders", right: "work.opened" },
  customers: { to: "/office/intake", word: "list.new.customers", right: "record.created customer" },
  people: { to: "/office/setup/people", word: "list.new.people", right: "record.created person" },
  parts: { to: "/office/stores/catalogue", word: "list.new.parts", right: "record.created part" },
};

function List({ list }: { list: ListName }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const [asked, ask] = useAsking();
  const query = useList(list, asked);
  const [picked, setPicked] = useState<string[]>([]);
  const page = query.data;
  const start = begun[list];
  const narrow = (change: Partial<Asking>) => {
    setPicked([]);
    ask(change);
  };
  return (
    <main className={css.page}>
      <header className={css.head}>
        <h1 className="visually-hidden">{t(`list.name.${list}`)}</h1>
        <nav className={css.lists} aria-label={t("list.lists")}>
          {listNames.map((name) => (
            <NavLink key={name} to={`/office/lists/${name}`} aria-current={name === list ? "page" : undefined}>
              {t(`list.name.${name}`)}
            </NavLink>
          ))}
          <NavLink to="/office/undertakings">{t("undertaking.all")}</NavLink>
        </nav>
        {start && (
          <May right={start.right}>
            <Button onClick={() => navigate(start.to)}>{t(start.word)}</Button>
          </May>
        )}
      </header>
      <FilterRow list={list} columns={page?.columns ?? []} asked={asked} onAsk={narrow}>
        <Views list={list} asked={asked} />
        {page && <Columns list={list} columns={page.columns} asked={asked} onAsk={ask} />}
        {page && <Files list={list} page={page} asked={asked} picked={picked} />}
      </FilterRow>
      <Failure error={query.error} />
      {page && (
        <div className={asked.by ? css.grouped : undefined}>
          {asked.by && <Groups list={list} columns={page.columns} asked={asked} onAsk={narrow} />}
          <Lines list={list} page={page} asked={asked} busy={query.isFetching} picked={picked} onPick={setPicked} onAsk={ask} />
        </div>
      )}
      {page && list === "orders" && picked.length > 0 && <Selection page={page} asked={asked} picked={picked} onPick={setPicked} />}
      {list === "visits" && <Export />}
    </main>
  );
}
