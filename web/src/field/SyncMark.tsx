import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Mark } from "../ui/Glyph";
import { useSync } from "./device";

/** The quiet mark that says whether everything is at the office. It leads to the outbox. */
export function SyncMark() {
  const { t } = useTranslation();
  const { phase, waiting } = useSync();
  const words = phase === "idle" && waiting > 0 ? t("sync.waiting", { count: waiting }) : t(`sync.${phase}`);
  return (
    <Link to={phase === "signed_out" ? "/field/sign-in" : "/field/outbox"} className="tag sync-mark" data-phase={phase}>
      <span className={phase === "idle" && waiting === 0 ? "tag good" : "tag warn"}>
        <Mark kind={phase === "idle" && waiting === 0 ? "good" : phase === "signed_out" || phase === "failing" ? "warn" : "wait"} />
      </span>
      {words}
      {phase === "offline" && waiting > 0 && ` · ${waiting}`}
    </Link>
  );
}
