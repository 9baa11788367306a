import { useTranslation } from "react-i18next";
import { unsentWork } from "../../device/unsent";
import { isoDate } from "../../ui/format";
import { say } from "../../words/i18n";
import { problemOf, useDevice } from "../device";

/** The last resort: unsent work as a file, to be brought to the office another way. */
export function SaveUnsent() {
  const { t } = useTranslation();
  const { db, me, tell } = useDevice();
  const save = async () => {
    try {
      const url = URL.createObjectURL(await unsentWork(db));
      const a = document.createElement("a");
      a.href = url;
      a.download = `unsent-${me.id}-${isoDate(Date.now())}.jsonl`;
      a.click();
      setTimeout(() => URL.revokeObjectURL(url), 60_000);
      tell(t("outbox.saved", { name: a.download }));
    } catch (e) {
      tell(say(problemOf(e)));
    }
  };
  return (
    <section className="sec">
      <button type="button" className="link" onClick={save}>
        {t("outbox.save")}
      </button>
      <p className="small quiet">{t("outbox.saveHint")}</p>
    </section>
  );
}
