import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Mark } from "../ui/Glyph";
import { useSync, useWhole } from "./device";

/** Where the device stands with the office, in words. Before the first work has come, nothing is said of how it lies. */
export function useSyncWords(): string {
  const { t } = useTranslation();
  const { phase, waiting } = useSync();
  const whole = useWhole();
  if (phase === "idle") return waiting === 0 && !whole ? t("sync.fetching") : t(waiting === 0 ? "sync.idle" : "sync.waiting", { count: waiting });
  return t(`sync.${phase}`) + (phase === "offline" && waiting > 0 ? ` · ${waiting}` : "");
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
