import { useLive } from "../../device/live";
import type { Ahead } from "../../types";
import { useDevice } from "../device";

/** How far ahead the person of the device sees their plan: what is said of them, or of all. Undefined until it is read. */
export function useAhead(): Ahead | undefined {
  const { db } = useDevice();
  return useLive(
    db,
    async (d): Promise<Ahead> => {
      const person = await d.body("person", d.person);
      return person?.ahead || (await d.settings())?.visits.ahead || "all";
    },
    [],
  );
}
