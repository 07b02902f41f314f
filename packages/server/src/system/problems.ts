import { PROBLEMS } from "@orisma/contract";
import { FAULT_CODES, FAULT_MEANINGS } from "@orisma/core/internal";
import { Router } from "express";

/** The page to which the `type` of every problem document points: every kind, and every code. */
export function problemRoutes(): Router {
  const router = Router();
  const page = problemPage();
  router.get("/problems", (_request, response) => {
    response.type("html").send(page);
  });
  return router;
}

function problemPage(): string {
  const problems = Object.entries(PROBLEMS).map(
    ([name, { status, title }]) =>
      `<tr id="${name}"><td><code>${name}</code></td><td>${status}</td><td>${title}</td></tr>`,
  );
  const codes = [...FAULT_CODES]
    .sort()
    .map(
      (code) =>
        `<tr id="${code}"><td><code>${code}</code></td><td>${FAULT_MEANINGS[code]}</td></tr>`,
    );
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Orisma: problems</title>
<style>
  :root { color-scheme: light dark; }
  body { font: 1rem/1.5 system-ui, sans-serif; max-width: 60rem; margin: 2rem auto; padding: 0 1rem; }
  table { border-collapse: collapse; width: 100%; }
  td, th { text-align: left; vertical-align: top; padding: 0.35rem 1rem 0.35rem 0; border-bottom: 1px solid color-mix(in srgb, currentColor 18%, transparent); }
  tr:target { background: color-mix(in srgb, currentColor 12%, transparent); }
  td:first-child { white-space: nowrap; }
</style>
<h1>Problems</h1>
<p>A failure is returned as a problem document (RFC 9457). Its <code>faults</code> have an entry for each
value that is wrong: the parameter or path, the value, a code, a message, what is accepted, and the
nearest right name.</p>
<table><thead><tr><th>Problem</th><th>Status</th><th>Meaning</th></tr></thead>
<tbody>${problems.join("\n")}</tbody></table>
<h2>Codes of faults</h2>
<table><thead><tr><th>Code</th><th>Meaning</th></tr></thead>
<tbody>${codes.join("\n")}</tbody></table>
</html>
`;
}
