import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { Empty } from "../../ui/Empty";
import { isoDate } from "../../ui/format";
import { keepLast } from "../commands";
import { Answer, useQuestion } from "../queries";
import { DueLines } from "./DueLines";

const spans = [30, 60, 180, 365];
const usual = 60;

/** What falls due in the coming time, and what is open of it. */
export function DueScreen() {
  const { t } = useTranslation();
  const [asked, setAsked] = useSearchParams();
  const days = spans.find((s) => String(s) === asked.get("days")) ?? usual;
  const query = useQuestion("/api/office/upkeep", { until: isoDate(Date.now() + days * 86_400_000) }, keepLast);
  return (
    <>
      <p>
        <TextField
          select
          fullWidth={false}
          size="small"
          label={t("upkeep.dueUntil")}
          value={days}
          onChange={(e) => setAsked(Number(e.target.value) === usual ? {} : { days: e.target.value }, { replace: true })}
          sx={{ minWidth: 140, mt: 2 }}
        >
          {spans.map((s) => (
            <MenuItem key={s} value={s}>
              {t("upkeep.days", { count: s })}
            </MenuItem>
          ))}
        </TextField>
      </p>
      <Answer query={query}>
        {(all) => (
          <>
            {all.due.length === 0 ? (
              <Empty>{t(all.plans.length === 0 ? "upkeep.none" : "upkeep.noneDue")}</Empty>
            ) : (
              <DueLines lines={all.due} today={all.today} />
            )}
            {all.more > 0 && <p className="small quiet">{t("upkeep.more", { count: all.more })}</p>}
          </>
        )}
      </Answer>
    </>
  );
}
