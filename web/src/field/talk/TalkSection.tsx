import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { VisitView } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice } from "../device";
import { VisitSection } from "../visit/VisitSection";
import { useUnread } from "./talks";

const TalkDrawer = lazy(() => import("./TalkDrawer"));

/** The conversation with the office about the work order: the last word, and how much is new. */
export function TalkSection({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const [open, setOpen] = useState(false);
  const order = view.visit.order;
  const talk = useLive(db, (db) => db.body("talk", order), [order]);
  const unread = useUnread()[order] ?? 0;
  const last = talk?.said.at(-1);
  return (
    <VisitSection
      id="talk"
      title={t("talk.title")}
      end={
        <button type="button" className="link" onClick={() => setOpen(true)}>
          {t(last ? "talk.open" : "talk.write")}
        </button>
      }
    >
      {last ? (
        <button type="button" className="line line-button" onClick={() => setOpen(true)}>
          <span className="grow pre">
            {last.text}
            <span className="tiny quiet block">
              {last.office ? t("talk.office") : (view.names[last.person] ?? last.person)} · {timeOrDay(last.at)}
            </span>
          </span>
          {unread > 0 && <Tag kind="warn">{t("talk.unread", { count: unread })}</Tag>}
        </button>
      ) : (
        <p className="quiet small">{t("talk.none")}</p>
      )}
      <Suspense fallback={null}>{open && <TalkDrawer order={order} visit={view.id} onClose={() => setOpen(false)} />}</Suspense>
    </VisitSection>
  );
}
