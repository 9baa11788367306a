import { useEffect, useState } from "react";
import { loadCore } from "./core";

/** Whether the core is loaded. */
export function useCore(): boolean {
  const [ready, set] = useState(!!globalThis.iterCore);
  useEffect(() => {
    let here = true;
    loadCore().then(
      () => here && set(true),
      () => {},
    );
    return () => {
      here = false;
    };
  }, []);
  return ready;
}
