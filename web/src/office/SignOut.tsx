import { useState } from "react";
import { useTranslation } from "react-i18next";
import { leave } from "../device/wipe";
import type { Me } from "../types";
import { Confirm } from "../ui/Confirm";
import { forget, untilKept } from "./acknowledged";
import { forgetOpened } from "./find/recent";
import { forgetTyped } from "./typed";

/** Signs out of the office. What is on its one disk alone is said first: this browser could give it again. */
export function SignOut({ me }: { me: Me }) {
  const { t } = useTranslation();
  const [busy, setBusy] = useState(false);
  const [alone, setAlone] = useState(0);
  const go = async () => {
    await forget(me.id).catch(() => {});
    forgetTyped(me.id);
    forgetOpened(me.id);
    await leave(undefined);
  };
  const begin = async () => {
    setBusy(true);
    const left = await untilKept(me.id).catch(() => 0); // a browser that keeps nothing has nothing to lose
    if (left === 0) return void go();
    setBusy(false);
    setAlone(left);
  };
  return (
    <>
      <button type="button" className="link" disabled={busy} onClick={begin}>
        {t("signin.out")}
      </button>
      {alone > 0 && (
        <Confirm
          title={t("leave.alone", { count: alone })}
          text={t("leave.aloneHint")}
          act={t("leave.go")}
          stay={t("leave.stay")}
          rather="stay"
          onAct={() => void go()}
          onClose={() => setAlone(0)}
        />
      )}
    </>
  );
}
