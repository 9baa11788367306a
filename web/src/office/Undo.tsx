import { createContext, type ReactNode, useCallback, useContext, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { EntryDraft } from "../types";
import { Failure, useCommands } from "./queries";

/** How long a command can be taken back from the strip, in milliseconds. */
const undoFor = 30_000;

interface Offer {
  said: string;
  back: EntryDraft[];
}

const Context = createContext<(offer: Offer) => void>(() => {});

/** Says what was done, with the way back: the commands that are its opposite. */
export const useUndo = () => useContext(Context);

export function UndoProvider({ children }: { children: ReactNode }) {
  const [offer, setOffer] = useState<Offer>();
  const show = useCallback((o: Offer) => setOffer(o), []);
  return (
    <Context.Provider value={show}>
      {children}
      {offer && <Strip key={offer.said} offer={offer} onDone={() => setOffer(undefined)} />}
    </Context.Provider>
  );
}

function Strip({ offer, onDone }: { offer: Offer; onDone: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  useEffect(() => {
    const timer = setTimeout(onDone, undoFor);
    return () => clearTimeout(timer);
  }, [onDone]);
  return (
    <div className="undo-strip on-night" role="status">
      <span>{offer.said}</span>
      <button type="button" className="link" disabled={commands.isPending} onClick={() => commands.mutate(offer.back, { onSuccess: onDone })}>
        {t("undo.do")}
      </button>
      <Failure error={commands.error} />
    </div>
  );
}
