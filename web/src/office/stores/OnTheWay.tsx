import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { May } from "../../session/May";
import type { HandoverLine } from "../../types";
import { Empty } from "../../ui/Empty";
import { quantity, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, Failure, useCommands } from "../queries";
import { sumLines } from "./lines";
import { useHandovers, usePlaces } from "./queries";

/** What was handed over and not confirmed yet, and what did not arrive. */
export function OnTheWay() {
  const { t } = useTranslation();
  const query = useHandovers();
  return (
    <section>
      <h2>{t("moving.title")}</h2>
      <Answer query={query}>{(lines) => (lines.length === 0 ? <Empty>{t("moving.none")}</Empty> : lines.map((l) => <Line key={l.id} line={l} />))}</Answer>
    </section>
  );
}

function Line({ line: l }: { line: HandoverLine }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const store = usePlaces().data?.find((p) => p.id === l.handover.to)?.kind === "store";
  const subject = { type: "handover", id: l.id };
  const open = !l.handover.doneAt;
  const name = (part: string) => l.parts[l.handover.lines.findIndex((x) => x.part === part)]?.name ?? part;
  const back = () =>
    commands.mutate([{ kind: "handover.returned", subject, body: { place: l.handover.from, lines: open ? sumLines(l.handover.lines) : l.missing } }]);
  const take = () => commands.mutate([{ kind: "handover.received", subject, body: { place: l.handover.to, lines: l.handover.lines } }]);
  return (
    <div className="line">
      <span className="grow">
        <b>{t("moving.way", { from: l.fromName, to: l.toName })}</b>
        <span className="small block">{l.handover.lines.map((x, i) => `${quantity(x.quantity, l.parts[i].unit)} × ${l.parts[i].name}`).join(", ")}</span>
        <span className="small quiet block">
          {l.byName}, {timeOrDay(l.handover.at)}
          {l.handover.note && ` · ${l.handover.note}`}
        </span>
      </span>
      {open ? (
        <Tag kind="warn">{t("moving.unconfirmed")}</Tag>
      ) : (
        <Tag kind="bad">{t("moving.missing", { what: l.missing.map((m) => `${m.quantity} × ${name(m.part)}`).join(", ") })}</Tag>
      )}
      {open && store && (
        <May right="handover.received">
          <Button size="small" variant="contained" disabled={commands.isPending} onClick={take}>
            {t("handover.take")}
          </Button>
        </May>
      )}
      <May right="handover.returned">
        <Button size="small" disabled={commands.isPending} onClick={back}>
          {t(open ? "handover.back" : "moving.return", { place: l.fromName })}
        </Button>
      </May>
      <Failure error={commands.error} />
    </div>
  );
}
