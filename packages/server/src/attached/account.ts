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

/**
 * The rights of an account, with those of its roles, by which it could change something in a database, each with what
 * it is granted on: `INSERT on `levels`.*`. What it may do in other databases is no matter.
 */
export async function writingRights(
  database: string,
  gateway: Gateway,
): Promise<readonly string[]> {
  const rights = new Set<string>();
  const roles = new Set<string>();
  const take = (lines: readonly string[]) => {
    for (const line of lines) {
      for (const right of writingRightsIn(line, database)) rights.add(right);
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
 * The rights that a line of SHOW GRANTS gives to change something in a database: `GRANT SELECT (a, b), INSERT ON … TO
 * …`. A line that gives something in another form counts as a right of its own, so that none is overlooked.
 */
export function writingRightsIn(line: string, database: string): readonly string[] {
  if (/^(?:GRANT `|SET DEFAULT ROLE )/.test(line)) return [];
  const plain = line.replace(/\((?:`(?:[^`]|``)*`|[^`)])*\)/g, "");
  const [, granted, on = ""] = /^GRANT ([A-Z][^`]*?) ON (.+?) TO /.exec(plain) ?? [];
  if (granted === undefined) return [line];
  if (!isWithin(on, database)) return [];
  const rights = granted.split(",").map((right) => right.trim());
  const passesOn = / WITH .*GRANT OPTION/.test(line) ? ["GRANT OPTION"] : [];
  return [...rights, ...passesOn]
    .filter((right) => right !== "" && !HARMLESS.has(right))
    .map((right) => `${right} on ${on}`);
}

/** Whether what rights are granted on is a database, or a part of it, or may be. */
function isWithin(on: string, database: string): boolean {
  const [, name, rest = ""] = /^(?:[A-Z]+(?: BODY)? )?`((?:[^`]|``)+)`\.(.+)$/.exec(on) ?? [];
  // Of all databases, or in a form that is not known here.
  if (name === undefined) return true;
  const plain = name.replaceAll("``", "`");
  if (rest !== "*") return plain.toLowerCase() === database.toLowerCase();
  // Whole databases are granted by a pattern.
  const pattern = plain.replace(/\\?./gsu, (piece) => {
    if (piece === "%") return ".*";
    if (piece === "_") return ".";
    return piece.replace(/^\\(?=.)/su, "").replace(/[\\^$.*+?()[\]{}|/-]/, "\\$&");
  });
  return new RegExp(`^${pattern}$`, "isu").test(database);
}
