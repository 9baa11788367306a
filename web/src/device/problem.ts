/** What the server said no with, to a device. */
import type { Code } from "../types";

export class ServerProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly args?: Record<string, string>,
  ) {
    super(code);
  }

  get problem(): Code {
    return { code: this.code, args: this.args };
  }
}
