/** What the customer was promised of an order, and how it stands: when somebody comes, and when the work is done. */
import { useTranslation } from "react-i18next";
import type { PromiseStanding } from "../../types";
import { duration, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";

const kinds = { kept: "good", broken: "bad", late: "bad", risk: "bad", open: "warn", moot: undefined, "": undefined } as const;

interface Props {
  come: PromiseStanding;
  promiseTo?: string;
  done: PromiseStanding;
  doneBy?: string;
}

export function Promises({ come, promiseTo, done, doneBy }: Props) {
  const { t } = useTranslation();
  const line = (s: PromiseStanding, by: string | undefined, of: "promise" | "done") => {
    if (!by || s.state === "") return null;
    const words = t(`${of}.${s.state}`, { time: timeOrDay(by), late: duration(s.late ?? 0) });
    const kind = kinds[s.state];
    return <p className="small">{kind ? <Tag kind={kind}>{words}</Tag> : words}</p>;
  };
  return (
    <>
      {line(come, promiseTo, "promise")}
      {line(done, doneBy, "done")}
    </>
  );
}
