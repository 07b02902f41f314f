import type { Gateway } from "../database/index.js";

/** Rights with which nothing can be changed. */
const HARMLESS = new Set([
  "USAGE",
  "SELECT",
  "SHOW VIEW",
  "SHOW DATABASES",
  "PROCESS",
  "BINLOG MONITOR",
  "SLAVE MONITOR",
  "REPLICA MONITOR",
]);
/** Roles within roles that are followed. */
const MAX_ROLES = 50;

/** The rights of an account, with those of its roles, by which it could change something. */
export async function writingRights(gateway: Gateway): Promise<readonly string[]> {
  const rights = new Set<string>();
  const roles = new Set<string>();
  const take = (lines: readonly string[]) => {
    for (const line of lines) {
      for (const right of rightsOf(line)) if (!HARMLESS.has(right)) rights.add(right);
      const role = /^GRANT (`(?:[^`]|``)+`) TO /.exec(line)?.[1];
      if (role !== undefined && roles.size < MAX_ROLES) roles.add(role);
    }
  };
  take(await grants("", gateway));
  // A set goes on to what is added while it is gone through.
  for (const role of roles) {
    // One that it has not taken on may keep its rights to itself: then the worst is assumed.
    const lines = await grants(` FOR ${role}`, gateway).catch(() => null);
    if (lines === null) rights.add(`the role ${role}`);
    else take(lines);
  }
  return [...rights].sort();
}

/** The role's name comes from the database, in its own quotes. */
async function grants(whose: string, gateway: Gateway): Promise<readonly string[]> {
  const rows = await gateway.read({ text: `SHOW GRANTS${whose}`, values: [] });
  return rows.map(([line]) => String(line ?? ""));
}

/**
 * The rights that a line of SHOW GRANTS gives: `GRANT SELECT (a, b), INSERT ON … TO …`. A line that
 * gives something in another form counts as a right of its own, so that none is overlooked.
 */
export function rightsOf(line: string): readonly string[] {
  if (/^(?:GRANT `|SET DEFAULT ROLE )/.test(line)) return [];
  const found = /^GRANT ([A-Z][^`]*?) ON /.exec(line.replace(/\((?:`(?:[^`]|``)*`|[^`)])*\)/g, ""));
  if (found === null) return [line];
  const rights = (found[1] ?? "").split(",").map((right) => right.trim());
  const passesOn = / WITH .*GRANT OPTION/.test(line) ? ["GRANT OPTION"] : [];
  return [...rights.filter((right) => right !== ""), ...passesOn];
}
