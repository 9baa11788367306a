import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Mark } from "../ui/Glyph";
import { useSync, useWhole } from "./device";

/** Where the device stands with the office, in words. Nothing is said of how it lies before the first work has come and what waits is counted. */
export function useSyncWords(): string {
  const { t } = useTranslation();
  const { phase, waiting } = useSync();
  const whole = useWhole();
  if (phase === "offline") return t("sync.offline") + (waiting ? ` · ${waiting}` : "");
  if (phase !== "idle") return t(`sync.${phase}`);
  if (waiting) return t("sync.waiting", { count: waiting });
  if (waiting === undefined || whole === undefined) return t("sync.counting");
  return t(whole ? "sync.idle" : "sync.fetching");
}

/** The quiet mark that says whether everything is at the office. It leads to the outbox. */
export function SyncMark() {
  const { phase, waiting } = useSync();
  const good = useWhole() && phase === "idle" && waiting === 0;
  return (
    <Link to={phase === "signed_out" ? "/field/sign-in" : "/field/outbox"} className="tag sync-mark" data-phase={phase}>
      <span className={good ? "tag good" : "tag warn"}>
        <Mark kind={good ? "good" : phase === "signed_out" || phase === "failing" ? "warn" : "wait"} />
      </span>
      {useSyncWords()}
    </Link>
  );
}
