import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import { useCore } from "../../device/useCore";
import { DateField } from "../../form/dates";
import { May } from "../../session/May";
import type { PickLine, PickList } from "../../types";
import { decimal, least } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { longDate, momentOf, quantity, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useTurns } from "../../ui/turns";
import { useWedge } from "../../ui/wedge";
import { Answer, Failure, useCommands } from "../queries";
import { fileOf, usePicks } from "./queries";

/** What each van needs from the store for a day: picked by scan or by hand, and loaded. */
export function Picks() {
  const { t } = useTranslation();
  const [day, setDay] = useState("");
  const query = usePicks(day);
  return (
    <section>
      <h2 className="stores-head">
        {t("picks.title")}
        <DateField label={t("picks.day")} value={day || query.data?.day || ""} onChange={setDay} />
      </h2>
      <Answer query={query}>
        {(page) =>
          page.lists.length === 0 ? (
            <Empty>{page.day ? t("picks.none", { day: longDate(momentOf(page.day, "12:00")) }) : t("picks.noDay")}</Empty>
          ) : (
            page.lists.map((l) => <Van key={l.van.id + page.day} list={l} />)
          )
        }
      </Answer>
    </section>
  );
}

const keyOf = (l: PickLine) => `${l.part} ${l.order}`;

function Van({ list }: { list: PickList }) {
  const { t } = useTranslation();
  const ready = useCore();
  const commands = useCommands();
  const [picked, setPicked] = useState<Record<string, string>>({});
  const [said, setSaid] = useState("");
  const [on, setOn] = useState(false);
  const done = (l: PickLine) => decimal(picked[keyOf(l)] ?? "0");
  const set = (l: PickLine, n: string) => setPicked((p) => ({ ...p, [keyOf(l)]: n }));
  const scanned = useTurns(ready, (text: string) => {
    let key = "";
    try {
      key = core("code", { text }).key;
    } catch {}
    const lines = list.lines.filter((l) => l.keys.includes(key));
    const open = lines.find((l) => done(l).lt(l.quantity));
    if (open) {
      setPicked((p) => ({
        ...p,
        [keyOf(open)]: least(
          open.quantity,
          decimal(p[keyOf(open)] ?? "0")
            .plus(1)
            .toString(),
        ),
      }));
      setSaid(t("picks.scanned", { part: open.name }));
    } else setSaid(t(lines.length > 0 ? "picks.enough" : "picks.notOn", { code: text, part: lines[0]?.name }));
  });
  useWedge((text) => on && scanned(text), { alone: on });
  const lines = list.lines.filter((l) => done(l).gt(0));
  const loose = list.lines.filter((l) => decimal(l.held).lt(l.quantity) && decimal(l.there).gt(l.held));
  const keep = () =>
    commands.mutate(
      loose.map((l) => ({
        kind: "stock.reserved",
        subject: { type: "stock", id: list.from.id },
        body: { order: l.order, part: l.part, quantity: decimal(least(l.there, l.quantity)).minus(l.held).toString() },
      })),
    );
  const load = () =>
    commands.mutate(
      [
        {
          kind: "handover.sent",
          subject: { type: "handover", id: commands.idOf("handover") },
          body: {
            from: list.from.id,
            to: list.van.id,
            lines: lines.map((l) => ({ part: l.part, quantity: done(l).toString(), order: l.order })),
            note: t("picks.for", { day: list.day }),
          },
        },
      ],
      { onSuccess: () => setPicked({}) },
    );
  return (
    <section className="pick" aria-label={list.van.name}>
      <h3>
        {list.van.name} <span className="quiet">{list.van.personName}</span>
      </h3>
      <table className="table">
        <thead>
          <tr>
            <th>{t("picks.part")}</th>
            <th>{t("picks.work")}</th>
            <th className="num">{t("picks.there")}</th>
            <th className="num">{t("picks.quantity")}</th>
            <th>{t("picks.picked")}</th>
          </tr>
        </thead>
        <tbody>
          {list.lines.map((l) => (
            <tr key={keyOf(l)}>
              <td>
                <b>{l.name}</b> <span className="small quiet">{l.number}</span>
              </td>
              <td className="small">
                {time(l.start)} {l.site} · {l.orderNo}
              </td>
              <td className="num">
                {decimal(l.there).lt(l.quantity) ? <Tag kind="bad">{l.there}</Tag> : l.there}
                {decimal(l.held).gt(0) && <span className="small quiet"> {t("picks.kept")}</span>}
              </td>
              <td className="num">{quantity(l.quantity, l.unit)}</td>
              <td>
                <Button
                  size="small"
                  variant={done(l).gte(l.quantity) ? "contained" : "outlined"}
                  aria-pressed={done(l).gte(l.quantity)}
                  onClick={() => set(l, done(l).gte(l.quantity) ? "0" : l.quantity)}
                >
                  {t("picks.of", { done: done(l).toString(), quantity: l.quantity })}
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="stores-bar">
        <May right="handover.sent">
          <Button variant="contained" disabled={lines.length === 0 || commands.isPending} onClick={load}>
            {t("picks.load", { van: list.van.name, count: lines.length })}
          </Button>
        </May>
        {loose.length > 0 && (
          <May right="stock.reserved">
            <Button disabled={commands.isPending} onClick={keep}>
              {t("picks.keep")}
            </Button>
          </May>
        )}
        <Button aria-pressed={on} onClick={() => setOn(!on)}>
          {t(on ? "picks.scanning" : "picks.scan")}
        </Button>
        <Button href={fileOf("picks.pdf", { day: list.day, van: list.van.id })} target="_blank">
          {t("picks.paper")}
        </Button>
        <span role="status" className="small">
          {said}
        </span>
      </p>
      <Failure error={commands.error} />
    </section>
  );
}
