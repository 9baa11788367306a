import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { Board } from "../../types";
import { Tag } from "../../ui/Glyph";
import { Failure, useCommands } from "../queries";
import type { ShownVisit } from "./filters";
import { useShownBoard } from "./useShownBoard";

/** What there is to know of the day at a glance, and what has to be seen to. */
export function DayCounts({ date, drafting }: { date: string; drafting: boolean }) {
  const board = useShownBoard(date);
  return board ? <Counts board={board} drafting={drafting} /> : null;
}

function Counts({ board, drafting }: { board: Board; drafting: boolean }) {
  const { t } = useTranslation();
  const visits = board.people.flatMap((p) => p.visits);
  const flagged = visits.filter((v) => v.flags > 0).length;
  const declined = visits.filter((v) => v.stage === "declined").length;
  const unseen = visits.filter((v) => v.known && !v.known.seen).length;
  const atRisk = visits.filter((v) => v.drive?.risk || v.drive?.done).length;
  return (
    <>
      <span className="quiet">
        {t("board.summary", { people: board.people.length, visits: visits.length })} ·{" "}
        {t("board.onSite", { count: visits.filter((v) => v.stage === "on_site" || v.stage === "paused").length })} ·{" "}
        {t("board.finished", { count: visits.filter((v) => v.stage === "finished").length })}
      </span>
      <span className="board-alarms">
        {!drafting && <Unsent visits={visits} />}
        {!drafting && unseen > 0 && <Tag kind="warn">{t("known.count", { count: unseen })}</Tag>}
        {atRisk > 0 && <Tag kind="bad">{t("board.atRisk", { count: atRisk })}</Tag>}
        {declined > 0 && <Tag kind="bad">{t("board.declined", { count: declined })}</Tag>}
        {flagged > 0 && <Tag kind="warn">{t("board.flagged", { count: flagged })}</Tag>}
        {board.unread > 0 && (
          <Link to="/office/review/messages">
            <Tag kind="warn">{t("board.unread", { count: board.unread })}</Tag>
          </Link>
        )}
        {board.held > 0 && (
          <Link to="/office/review/attention">
            <Tag kind="bad">{t("board.held", { count: board.held })}</Tag>
          </Link>
        )}
      </span>
    </>
  );
}

/** Sends the visits of the day that are shown and nobody has been told of yet. */
function Unsent({ visits }: { visits: ShownVisit[] }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay("visit.sent");
  const unsent = visits.filter((v) => v.stage === "planned" && !v.faded).slice(0, mostAtOnce);
  if (!may || unsent.length === 0) return null;
  const send = () => commands.mutate(unsent.map((v) => ({ kind: "visit.sent", subject: { type: "visit", id: v.id }, body: {} })));
  return (
    <>
      <Button size="small" variant="outlined" disabled={commands.isPending} onClick={send}>
        {t("board.sendAll", { count: unsent.length })}
      </Button>
      <Failure error={commands.error} />
    </>
  );
}

/** How many visits are sent at a press: what is left is offered again. */
const mostAtOnce = 200;
