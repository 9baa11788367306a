/** The directory on this device, made ready for search once and again when there is another one. */
import { useEffect, useState } from "react";
import { keptDirectory } from "../../device/directory";
import { useLive } from "../../device/live";
import { useDevice } from "../device";
import { DirectoryIndex } from "./directoryIndex";

let made: { of: string; index: DirectoryIndex } | undefined;

/** The directory, and when the office told it; undefined until it is here. */
export function useDirectory(): { index: DirectoryIndex; at: string } | undefined {
  const { db } = useDevice();
  const kept = useLive(db, keptDirectory, []);
  const [ready, setReady] = useState<{ index: DirectoryIndex; at: string }>();
  useEffect(() => {
    if (!kept) return;
    const of = `${db.person} ${kept.history} ${kept.seq}`;
    if (made?.of !== of) made = { of, index: new DirectoryIndex(kept) };
    setReady({ index: made.index, at: kept.at });
  }, [db, kept]);
  return ready;
}
