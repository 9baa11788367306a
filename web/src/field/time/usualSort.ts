import { useLive } from "../../device/live";
import { useDevice } from "../device";

/** The sort of work that the person's time goes to where nothing else is said, as the office has it now. */
export function useUsualSort(): string | undefined {
  const { db, me } = useDevice();
  return useLive(db, async (db) => (await db.body("person", me.id))?.sort, [me.id]);
}
