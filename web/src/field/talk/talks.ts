/** Conversations about work orders on this device. */

import { core } from "../../device/core";
import { useLive } from "../../device/live";
import { useCore, useDevice } from "../device";

/** How much the person has not read, by work order. */
export function useUnread(): Record<string, number> {
  const { db, me } = useDevice();
  const ready = useCore();
  return (
    useLive(
      db,
      async (db) => {
        if (!ready) return {};
        const all = await db.all("talk");
        return Object.fromEntries(all.map((x) => [x.id, core("unread", { talk: x.body, reader: me.id })]).filter(([, n]) => n !== 0));
      },
      [me, ready],
    ) ?? {}
  );
}
