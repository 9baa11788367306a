import type { Order, Task } from "../types";

/** All tasks of a work order: the office's, then those that were added on visits. */
export const tasksOf = (order?: Order): Task[] => [...(order?.tasks ?? []), ...(order?.added ?? []).filter((a) => !a.struck)];
