/**
 * Import cycles: files that import one another in a ring, types included. The rule reports every
 * import that is a part of one; `cyclesIn` lists the rings of a folder.
 */
import { existsSync, readFileSync, readdirSync, statSync } from "node:fs";
import { dirname, join, resolve } from "node:path";

/** What a file imports or exports from a file beside it. */
const IMPORT = /(?:^|\n)\s*(?:import|export)\b[^;"']*?(?:from\s*)?["'](\.{1,2}\/[^"']+)["']/g;

/** The files of a folder, each with those that it imports. */
export function importsIn(folder) {
  const graph = new Map();
  for (const file of filesIn(folder)) {
    const found = [...readFileSync(file, "utf8").matchAll(IMPORT)];
    graph.set(file, new Set(found.flatMap(([, text]) => targetOf(file, text) ?? [])));
  }
  return graph;
}

/**
 * The files of which each reaches every other one, by rings; the smallest names first.
 * @param {string} folder
 * @returns {readonly (readonly string[])[]}
 */
export function cyclesIn(folder) {
  const graph = importsIn(folder);
  const rings = [];
  const state = new Map();
  const stack = [];
  let count = 0;
  // Tarjan's strongly connected components.
  const visit = (file) => {
    const own = { index: count, low: count++, isOpen: true };
    state.set(file, own);
    stack.push(file);
    for (const next of graph.get(file) ?? []) {
      if (!state.has(next)) visit(next);
      const other = state.get(next);
      if (other?.isOpen === true) own.low = Math.min(own.low, other.low);
    }
    if (own.low !== own.index) return;
    const ring = stack.splice(stack.indexOf(file));
    for (const each of ring) state.get(each).isOpen = false;
    if (ring.length > 1 || graph.get(file)?.has(file)) rings.push(ring.sort());
  };
  for (const file of graph.keys()) if (!state.has(file)) visit(file);
  return rings;
}

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory())
      return ["dist", "node_modules"].includes(entry.name) ? [] : filesIn(path);
    return /\.tsx?$/.test(entry.name) ? [path] : [];
  });
}

/** The file that an import means: written with `.js`, it is a `.ts` or a `.tsx`. */
function targetOf(file, text) {
  const path = resolve(dirname(file), text).replace(/\.js$/, "");
  return [`${path}.ts`, `${path}.tsx`, path].find(
    (each) => existsSync(each) && statSync(each).isFile(),
  );
}

/** The rings of each folder, found once in a process of the linter. */
const known = new Map();

function ringOf(file, folder) {
  if (!known.has(folder)) known.set(folder, cyclesIn(folder));
  return known.get(folder).find((ring) => ring.includes(file));
}

/**
 * The lint rule; its option is the folder of the files, `src` of a package.
 * @type {import("eslint").Rule.RuleModule}
 */
export const noCycles = {
  meta: { type: "problem", schema: [{ type: "string" }] },
  create(context) {
    const [folder] = context.options;
    const file = context.filename;
    const check = (node) => {
      const text = node.source?.value;
      if (typeof text !== "string" || !text.startsWith(".")) return;
      const ring = ringOf(file, folder);
      const target = targetOf(file, text);
      if (ring === undefined || target === undefined || !ring.includes(target)) return;
      const names = ring.map((each) => each.slice(folder.length + 1)).join(", ");
      context.report({ node, message: `these files import one another in a ring: ${names}` });
    };
    return {
      ImportDeclaration: check,
      ExportNamedDeclaration: check,
      ExportAllDeclaration: check,
    };
  },
};
