/** A day put right after somebody fell ill, is late, or an emergency came in: as few changes as can be, each with why, into a draft. */
import { Button, TextField } from "@mui/material";
import { useMemo } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Board, Repaired } from "../../types";
import { Tag } from "../../ui/Glyph";
import { Failure } from "../queries";
import { FitLine } from "./Fit";
import { repair } from "./fits";
import { givenEntries } from "./giving";
import type { Scale } from "./scale";
import { graveOf, movable, visitOn } from "./stops";
import { useIntoDraft } from "./usePlanDraft";

interface Props {
  board: Board;
  scale: Scale;
  onClose: () => void;
}

export function PutRight({ board, scale, onClose }: Props) {
  const { t } = useTranslation();
  const into = useIntoDraft();
  const draft = useDraft(`put right ${board.date}`, { why: "" });
  const { why } = draft.value;
  const list = useMemo(() => {
    const urgent = board.unplaced.filter((o) => o.priority === "emergency" && !o.waits).map((o) => o.id);
    return (board.plan ? repair(urgent) : []).filter((r) => {
      const on = visitOn(board, r.id);
      return !on || movable(on.visit, scale); // what began on an earlier day stays
    });
  }, [board, scale]);
  const changes = givenEntries(list, why, board, scale, into.idOf);
  const record = async () => {
    await into.put(changes);
    draft.clear();
    onClose();
  };
  return (
    <section className="chosen" aria-label={t("repair.title")}>
      <h2>{t("repair.title")}</h2>
      <div className="hand-over">
        {list.length === 0 && <p className="small">{t("repair.nothing")}</p>}
        <ul className="gaps">
          {list.map((r) => (
            <Line key={r.id} repaired={r} board={board} scale={scale} />
          ))}
        </ul>
        {list.some((r) => r.fit && graveOf(r.fit.why).length > 0) && (
          <TextField
            size="small"
            fullWidth
            label={t("despite.why")}
            value={why}
            onChange={(e) => draft.change({ why: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
        )}
        <Failure error={into.error} />
        {list.length > 0 && (
          <Button variant="contained" disabled={into.busy || changes.length === 0} onClick={() => record().catch(() => {})}>
            {t("solution.into", { count: changes.length })}
          </Button>
        )}
        <p className="tiny quiet">{t("repair.hint")}</p>
      </div>
      <button type="button" className="link" onClick={onClose}>
        {t("photos.close")}
      </button>
    </section>
  );
}

/** What changes, and for whom. */
function Line({ repaired: r, board, scale }: { repaired: Repaired; board: Board; scale: Scale }) {
  const { t } = useTranslation();
  const on = visitOn(board, r.id);
  const order = board.unplaced.find((o) => o.id === r.id);
  return (
    <li className="small">
      <b>{on?.visit.site ?? order?.site}</b>{" "}
      <span className="quiet">{r.trouble ? t(`repair.${r.trouble}`, { name: on?.person.name }) : t("repair.urgent")}</span>
      <span className="block">
        {r.fit ? <FitLine fit={r.fit} board={board} scale={scale} /> : <Tag kind="warn">{t(r.trouble === "late" ? "repair.stays" : "personday.nobody")}</Tag>}
      </span>
    </li>
  );
}
