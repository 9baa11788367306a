/** Has files that were picked attached, also those that were picked before the page was loaded. */
import { createContext, type ReactNode, useCallback, useContext, useEffect } from "react";
import { attachPicked } from "../device/picked";
import { say } from "../words/i18n";
import { problemOf, useDevice, useRecord } from "./device";

const Context = createContext<() => void>(() => {});

/** Attaches what was picked; called after something was. */
export const useAttach = () => useContext(Context);

export function AttachProvider({ children }: { children: ReactNode }) {
  const { db, tell } = useDevice();
  const record = useRecord();
  const attach = useCallback(() => {
    attachPicked(db, { record, failed: (problem) => tell(say(problemOf(problem))) }).catch((problem) => tell(say(problemOf(problem))));
  }, [db, record, tell]);
  useEffect(() => {
    void db.picked.count().then((n) => n > 0 && attach());
  }, [db, attach]);
  return <Context.Provider value={attach}>{children}</Context.Provider>;
}
