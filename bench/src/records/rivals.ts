import type { DatabaseLogin } from "@orisma/server";

/** What a rival's process is given, as JSON in its environment. */
export interface RivalTask {
  readonly login: DatabaseLogin;
  /** The table of works that Orisma keeps: `id`, and `c1` to `c5`, of which `c2` is the day. */
  readonly table: string;
  readonly key: string;
  readonly port: number;
}

/** Reads the task of this process. */
export function rivalTask(): RivalTask {
  return JSON.parse(process.env.BENCH_TASK ?? "{}") as RivalTask;
}
