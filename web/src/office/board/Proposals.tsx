/** Whom something is given to, and what that comes to for each visit. */
import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Board, Handed } from "../../types";
import { Tag } from "../../ui/Glyph";
import { FitLine } from "./Fit";
import type { Scale } from "./scale";
import { visitOn } from "./stops";

interface Props {
  board: Board;
  scale: Scale;
  handed: Handed[];
  to: string;
  except?: string; // a person
  onTo: (person: string) => void;
}

export function Proposals({ board, scale, handed, to, except, onTo }: Props) {
  const { t } = useTranslation();
  const siteOf = (id: string) => visitOn(board, id)?.visit.site ?? board.unplaced.find((o) => o.id === id)?.site;
  return (
    <>
      <TextField
        select
        size="small"
        fullWidth
        label={t("personday.to")}
        value={to}
        onChange={(e) => onTo(e.target.value)}
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
      <ul className="gaps">
        {handed.map((h) => (
          <li key={h.id} className="small">
            <b>{siteOf(h.id)}</b> {h.fit ? <FitLine fit={h.fit} board={board} scale={scale} /> : <Tag kind="warn">{t("personday.nobody")}</Tag>}
          </li>
        ))}
      </ul>
    </>
  );
}
