/** Whom something is given to, what that comes to for each visit, and why it is done against a grave warning. */
import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Board, Handed } from "../../types";
import { Tag } from "../../ui/Glyph";
import { FitLine } from "./Fit";
import type { Giving } from "./giving";
import type { Scale } from "./scale";
import { graveOf, visitOn } from "./stops";

interface Props {
  board: Board;
  scale: Scale;
  handed: Handed[];
  giving: Giving;
  except?: string; // a person
  onChange: (change: Partial<Giving>) => void;
}

export function Proposals({ board, scale, handed, giving, except, onChange }: Props) {
  const { t } = useTranslation();
  return (
    <>
      <TextField
        select
        size="small"
        fullWidth
        label={t("personday.to")}
        value={giving.to}
        onChange={(e) => onChange({ to: e.target.value })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">{t("personday.best")}</MenuItem>
        {board.people
          .filter((p) => p.id !== except)
          .map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
      </TextField>
      <Proposed board={board} scale={scale} handed={handed} why={giving.why} onWhy={(why) => onChange({ why })} />
    </>
  );
}

interface ProposedProps {
  board: Board;
  scale: Scale;
  handed: Handed[];
  why: string;
  onWhy: (why: string) => void;
}

/** What is proposed for each, and why it is done against a grave warning. */
function Proposed({ board, scale, handed, why, onWhy }: ProposedProps) {
  const { t } = useTranslation();
  const siteOf = (id: string) => visitOn(board, id)?.visit.site ?? board.unplaced.find((o) => o.id === id)?.site;
  return (
    <>
      <ul className="gaps">
        {handed.map((h) => (
          <li key={h.id} className="small">
            <b>{siteOf(h.id)}</b> {h.fit ? <FitLine fit={h.fit} board={board} scale={scale} /> : <Tag kind="warn">{t("personday.nobody")}</Tag>}
          </li>
        ))}
      </ul>
      {handed.some((h) => h.fit && graveOf(h.fit.why).length > 0) && (
        <TextField
          size="small"
          fullWidth
          label={t("despite.why")}
          value={why}
          onChange={(e) => onWhy(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 500 } }}
        />
      )}
    </>
  );
}
