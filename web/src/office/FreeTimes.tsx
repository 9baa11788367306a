import { useTranslation } from "react-i18next";
import type { FreeTime, Questions } from "../types";
import { shortDate, time } from "../ui/format";
import { fitWords } from "../ui/planReasons";
import { keepLast, useQuestion } from "./commands";
import css from "./FreeTimes.module.css";
import { useSettings } from "./queries";

interface Props {
  asked: Questions["/api/office/free"]["query"];
  /** says what is done by choosing a time */
  label: string;
  most?: number;
  onTake: (free: FreeTime) => void;
}

/** When somebody could come: the best times of the coming days, with what each costs. */
export function FreeTimes({ asked, label, most, onTake }: Props) {
  const { t } = useTranslation();
  const free = useQuestion("/api/office/free", asked, keepLast).data;
  const skills = useSettings().data?.orders.skills ?? [];
  if (!free) return null;
  return (
    <fieldset className={css.free}>
      <legend className="small quiet">{label}</legend>
      {free.length === 0 && <p className="small">{t("free.none")}</p>}
      {free.slice(0, most).map((f) => (
        <button type="button" key={f.date + f.person} onClick={() => onTake(f)}>
          <b>
            {shortDate(f.start)} {time(f.start)}
          </b>{" "}
          {f.name}
          <span className="tiny quiet">{fitWords(f.fit, skills)}</span>
        </button>
      ))}
    </fieldset>
  );
}
