import { Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { time, timeOrDay } from "../../ui/format";
import { screen } from "../../ui/screen";
import { VisitSection } from "./VisitSection";

const TellCustomer = screen(() => import("./TellCustomer"));

/** What the customer was told, and telling them more. */
export function Customer({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [telling, setTelling] = useState(false);
  const messages = view.visit.messages ?? [];
  return (
    <VisitSection
      id="customer"
      title={t("visit.customer")}
      end={
        <button type="button" className="link" onClick={() => setTelling(true)}>
          {t("tell.open")}
        </button>
      }
    >
      {messages.length === 0 && <p className="quiet small">{t("tell.none")}</p>}
      {messages.map((m) => (
        <div className="line" key={m.entry}>
          <span className="grow">
            {m.text}
            <span className="tiny quiet block">
              {t("tell.to")} {m.to} · {timeOrDay(m.at)}
              {m.expected && ` · ${t("directions.arrive", { time: time(m.expected) })}`}
            </span>
          </span>
        </div>
      ))}
      {telling && (
        <Suspense fallback={null}>
          <TellCustomer visit={view.id} onDone={() => setTelling(false)} />
        </Suspense>
      )}
    </VisitSection>
  );
}
