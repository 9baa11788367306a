/** What the customer was promised of an order, and how it stands: when somebody comes, and when the work is done. */
import { useTranslation } from "react-i18next";
import type { OrderPage } from "../../types";
import { duration, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { type Standing, standing } from "./promised";

const kinds = { kept: "good", broken: "bad", late: "bad", risk: "bad", open: "warn", over: undefined } as const;

export function Promises({ page, over }: { page: OrderPage; over: boolean }) {
  const { t } = useTranslation();
  const { come, done } = standing(page, over, Date.now());
  const { promiseTo, doneBy } = page.order;
  const words = (s: Standing, by: string, of: "promise" | "done") => {
    const args = { time: timeOrDay(by), late: duration(s.late ?? 0) };
    if (s.is === "open" || s.is === "over") return t(of === "promise" ? "orderPage.promise" : "orderPage.doneBy", args);
    if (s.is === "late") return t(`orderPage.${of}Late`, args);
    return t(`orderPage.${of}${s.is === "kept" ? "Kept" : s.is === "broken" ? "Broken" : "Risk"}`, args);
  };
  const line = (s: Standing | undefined, by: string | undefined, of: "promise" | "done") => {
    if (!s || !by) return null;
    const kind = kinds[s.is];
    return <p className="small">{kind ? <Tag kind={kind}>{words(s, by, of)}</Tag> : words(s, by, of)}</p>;
  };
  return (
    <>
      {line(come, promiseTo, "promise")}
      {line(done, doneBy, "done")}
    </>
  );
}
