import { Button } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { act, sendFile } from "../session/api";
import { has } from "../session/session";
import type { DeviceLine, Me } from "../types";
import { Confirm } from "../ui/Confirm";
import { Empty } from "../ui/Empty";
import { duration, timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { PageHead } from "../ui/PageHead";
import { PickFile } from "../ui/PickFile";
import { Badges } from "./Badges";
import { Answer, Failure, useDevices } from "./queries";
import { SentMessages } from "./SentMessages";

/** Who has access and with which devices, and unsent work from a file. */
export function Setup({ me }: { me: Me }) {
  const { t } = useTranslation();
  const devices = useDevices();
  return (
    <main className="review">
      <nav className="setup-nav" aria-label={t("office.setup")}>
        <Link to="/office/setup/sheets">{t("sheets.title")}</Link>
        <Link to="/office/setup/kinds">{t("kinds.title")}</Link>
        <Link to="/office/setup/ends">{t("rules.title")}</Link>
        <Link to="/office/setup/lists">{t("ownLists.title")}</Link>
        <Link to="/office/setup/troubles">{t("troubles.title")}</Link>
        <Link to="/office/people">{t("planned.title")}</Link>
        <Link to="/office/setup/plans">{t("planRules.title")}</Link>
        <Link to="/office/setup/areas">{t("areas.title")}</Link>
        <Link to="/office/setup/promises">{t("promiseRules.title")}</Link>
        <Link to="/office/promises">{t("promises.title")}</Link>
        <Link to="/office/setup/signals">{t("signals.title")}</Link>
        <Link to="/office/setup/roads">{t("roadRules.title")}</Link>
        <Link to="/office/knowhow">{t("knowhow.title")}</Link>
        {has(me, "administrator") && <Link to="/office/setup/people">{t("accounts.title")}</Link>}
      </nav>
      <PageHead title={t("devices.title")} hint={t("devices.hint")} />
      <Answer query={devices}>
        {(lines) => (lines.length === 0 ? <Empty>{t("devices.none")}</Empty> : <Devices lines={lines} mayEnd={has(me, "dispatcher")} />)}
      </Answer>
      {has(me, "dispatcher") && <TakeIn />}
      {has(me, "dispatcher") && <Badges />}
      <SentMessages />
    </main>
  );
}

function Devices({ lines, mayEnd }: { lines: DeviceLine[]; mayEnd: boolean }) {
  const { t } = useTranslation();
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("devices.who")}</th>
          <th>{t("devices.what")}</th>
          <th>{t("devices.contact")}</th>
          <th>{t("devices.unsent")}</th>
          <th>{t("devices.clock")}</th>
          <th>{t("devices.version")}</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {lines.map((d) => (
          <tr key={d.replica}>
            <td className="strong">{d.person}</td>
            <td>
              {d.agent} <span className="tiny quiet">{d.replica.slice(-4)}</span>
            </td>
            <td className="nowrap">{timeOrDay(d.contact)}</td>
            <td>{d.unsent > 0 ? <Tag kind="warn">{d.unsent}</Tag> : "0"}</td>
            <td className="nowrap">
              <Clock skew={d.skew} />
            </td>
            <td>{d.version}</td>
            <td className="nowrap">{mayEnd && <End device={d} />}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** A clock is right when it is off by less than it takes to notice: half a minute. */
function Clock({ skew }: { skew: number }) {
  const { t } = useTranslation();
  if (Math.abs(skew) < 30_000) return <span className="quiet">{t("devices.right")}</span>;
  return <Tag kind="warn">{t(skew > 0 ? "devices.ahead" : "devices.behind", { time: duration(Math.abs(skew) / 1000) })}</Tag>;
}

function End({ device: d }: { device: DeviceLine }) {
  const { t } = useTranslation();
  const [asking, setAsking] = useState(false);
  const end = useMutation({
    mutationFn: () => act("/api/office/devices/:replica/end", { replica: d.replica }),
    onSuccess: () => setAsking(false),
  });
  if (d.wiped) return <span className="small quiet">{t("devices.wiped", { time: timeOrDay(d.wiped) })}</span>;
  if (d.ended) return <Tag kind="warn">{t("devices.ending")}</Tag>;
  return (
    <>
      <Button size="small" onClick={() => setAsking(true)}>
        {t("devices.end")}
      </Button>
      {asking && (
        <Confirm
          title={t("devices.endTitle", { name: d.person })}
          text={t("devices.endAsk")}
          act={t("devices.end")}
          stay={t("devices.cancel")}
          busy={end.isPending}
          onAct={() => end.mutate()}
          onClose={() => setAsking(false)}
        >
          <Failure error={end.error} />
        </Confirm>
      )}
    </>
  );
}

function TakeIn() {
  const { t } = useTranslation();
  const take = useMutation({
    mutationFn: (file: File) => sendFile("/api/office/unsent", {}, file),
  });
  const r = take.data;
  return (
    <section className="sec">
      <h2>{t("unsent.title")}</h2>
      <p className="quiet">{t("unsent.hint")}</p>
      <p className="line">
        <PickFile label={t("unsent.pick")} accept=".jsonl,application/x-ndjson" disabled={take.isPending} onFile={(file) => take.mutate(file)} />
      </p>
      <div role="status">
        {r && <Tag kind="good">{t("unsent.done", { ...r, saved: undefined, time: timeOrDay(r.saved) })}</Tag>}
        {r && r.badFiles > 0 && <Tag kind="bad">{t("unsent.bad", { count: r.badFiles })}</Tag>}
      </div>
      <Failure error={take.error} />
    </section>
  );
}
