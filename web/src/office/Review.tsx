import { useTranslation } from "react-i18next";
import { NavLink, Route, Routes } from "react-router";
import { AttentionList } from "./checks/AttentionList";
import { Look } from "./Look";
import { useAttention, useFinished, useFlags, useHeld, useTalks, useUnsigned } from "./queries";
import { FinishedList } from "./review/FinishedList";
import { ReviewVisit } from "./review/ReviewVisit";
import { TalkPage, Talks } from "./review/Talks";
import { UnsignedList } from "./review/UnsignedList";

/** The office's check between finished and billed, with what wants attention, what nobody signed, and what is said about work. */
export function Review() {
  return (
    <Routes>
      <Route path="/" element={<Listed screen={<FinishedList />} />} />
      <Route path="/attention" element={<Listed screen={<Attention />} />} />
      <Route path="/unsigned" element={<Listed screen={<UnsignedList />} />} />
      <Route path="/messages" element={<Listed screen={<Talks />} />} />
      <Route path="/messages/:order" element={<Listed screen={<TalkPage />} />} />
      <Route path="/:id" element={<ReviewVisit />} />
    </Routes>
  );
}

function Attention() {
  const { t } = useTranslation();
  return (
    <>
      <h1 className="visually-hidden">{t("review.wants")}</h1>
      <AttentionList />
      <Look />
    </>
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
  const finished = useFinished().data?.length ?? 0;
  const attention = useAttention(false).data?.length ?? 0;
  const flags = (useFlags().data?.length ?? 0) + (useHeld().data?.length ?? 0);
  const unsigned = useUnsigned().data?.length ?? 0;
  const unread = useTalks().data?.filter((x) => x.unread > 0).length ?? 0;
  const ways = [
    { to: "", word: t("review.finished"), count: finished },
    { to: "/attention", word: t("review.wants"), count: attention + flags },
    { to: "/unsigned", word: t("review.unsignedList"), count: unsigned },
    { to: "/messages", word: t("review.messages"), count: unread },
  ];
  return (
    <nav className="setup-nav" aria-label={t("office.review")}>
      {ways.map((w) => (
        <NavLink key={w.to} to={`/office/review${w.to}`} end={w.to === ""}>
          {w.word} {w.count > 0 && <b>{w.count}</b>}
        </NavLink>
      ))}
    </nav>
  );
}
