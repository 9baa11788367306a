import { useTranslation } from "react-i18next";
import { NavLink, Route, Routes } from "react-router";
import { AttentionList } from "./checks/AttentionList";
import { Look } from "./Look";
import { useBoard, useUnsigned } from "./queries";
import { FinishedList } from "./review/FinishedList";
import { ReviewVisit } from "./review/ReviewVisit";
import { TalkPage, Talks } from "./review/Talks";
import { UnsignedList } from "./review/UnsignedList";

/** The office's check between finished and billed, with what wants attention, what nobody signed, and what is said about work. */
export function Review() {
  return (
    <Routes>
      <Route path="/" element={<Overview />} />
      <Route path="/unsigned" element={<Listed screen={<UnsignedList />} />} />
      <Route path="/messages" element={<Listed screen={<Talks />} />} />
      <Route path="/messages/:order" element={<Listed screen={<TalkPage />} />} />
      <Route path="/:id" element={<ReviewVisit />} />
    </Routes>
  );
}

function Overview() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <h1 className="visually-hidden">{t("office.review")}</h1>
      <Ways />
      <AttentionList />
      <Look />
      <FinishedList />
    </main>
  );
}

function Listed({ screen }: { screen: React.ReactNode }) {
  return (
    <main className="review">
      <Ways />
      {screen}
    </main>
  );
}

/** What there is to go through, and how much of it. */
function Ways() {
  const { t } = useTranslation();
  const unsigned = useUnsigned().data?.length ?? 0;
  const unread = useBoard("").data?.unread ?? 0;
  return (
    <nav className="setup-nav" aria-label={t("office.review")}>
      <NavLink to="/office/review" end>
        {t("review.finished")}
      </NavLink>
      <NavLink to="/office/review/unsigned">
        {t("review.unsignedList")} {unsigned > 0 && <b>{unsigned}</b>}
      </NavLink>
      <NavLink to="/office/review/messages">
        {t("review.messages")} {unread > 0 && <b>{unread}</b>}
      </NavLink>
    </nav>
  );
}
