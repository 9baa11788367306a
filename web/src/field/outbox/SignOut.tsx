import { useState } from "react";
import { useTranslation } from "react-i18next";
import { leave } from "../../device/wipe";
import { Confirm } from "../../ui/Confirm";
import { useDevice } from "../device";
import { SaveUnsent } from "./SaveUnsent";

/** Signs out: what is unsent is handed over first, then the device keeps nothing. When something can't be handed over, it asks. */
export function SignOut({ label }: { label: string }) {
  const { t } = useTranslation();
  const { db, syncer } = useDevice();
  const [busy, setBusy] = useState(false);
  const [left, setLeft] = useState<number>();
  const [alone, setAlone] = useState(0); // how much is at the office, on one disk
  const begin = async () => {
    setBusy(true);
    const unsent = await syncer.handOver();
    const reached = syncer.status.phase === "idle" || syncer.status.phase === "signed_out";
    const alone = unsent === 0 && reached ? await syncer.untilKept() : 0;
    if (unsent === 0 && reached && alone === 0) return void leave(db);
    setBusy(false);
    setLeft(unsent);
    setAlone(alone);
  };
  return (
    <>
      <button type="button" className="link" disabled={busy} onClick={begin}>
        {busy ? t("leave.handing") : label}
      </button>
      {left !== undefined && (
        <Confirm
          title={t(left ? "leave.unsent" : alone ? "leave.alone" : "leave.offline", { count: left || alone })}
          text={t(left ? "leave.unsentHint" : alone ? "leave.aloneHint" : "leave.offlineHint")}
          act={t(left ? "leave.drop" : "leave.go")}
          stay={t("leave.stay")}
          rather="stay"
          onAct={() => void leave(db)}
          onClose={() => setLeft(undefined)}
        >
          {left ? <SaveUnsent /> : null}
        </Confirm>
      )}
    </>
  );
}
