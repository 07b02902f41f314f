import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";
import { orismaText } from "./process.js";

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

const orisma = (...words: readonly string[]) => orismaText(words, { state: running.state });

test("people are added, changed, given a fresh password, and deleted", async () => {
  const made = await orisma("people", "create", "Maud Harrow", "--group", "crew");
  expect(made.text).toMatch(/^Maud Harrow: reader, of crew\npassword {2}[\w-]{20}\n$/);
  const claims = ["--claim", "lock=Tansy Lock", "--claim", "lock=Vale Top"];
  const known = await orisma("people", "change", "Maud Harrow", ...claims);
  expect(known.text).toBe("Maud Harrow: reader, of crew, lock=Tansy Lock|Vale Top\n");
  const listed = await orisma("people");
  expect(listed.text).toMatch(/Maud Harrow +reader +crew +lock=Tansy Lock\|Vale Top +all +never/);
  expect((await orisma("people", "change", "Maud Harrow", "--claim", "lock")).code).toBe(2);
  await orisma("people", "change", "Maud Harrow", "--no-claims");
  const kept = await orisma("people", "change", "maud harrow", "--listing", "works-raised");
  expect(kept.text).toBe("Maud Harrow: reader, of crew, only works-raised\n");
  const author = await orisma("people", "change", "Maud Harrow", "--role", "author", "--no-groups");
  expect(author.text).toBe("Maud Harrow: author\n");
  const fresh = await orisma("people", "password", "Maud Harrow");
  expect(fresh.text).toMatch(/^[\w-]{20}\n$/);
  expect((await orisma("people", "change", "Maud", "--role", "author")).code).toBe(2);
  expect((await orisma("people", "delete", "Maud Harrow")).text).toBe("Maud Harrow was deleted\n");
  expect(await running.client.people()).toEqual([]);
});

test("defaults are set for a time, listed and removed; uses of a column are shown", async () => {
  const set = await orisma(
    ...["overrides", "set", "works-raised", "from", "2025-03", "--reason", "stoppage"],
  );
  expect(set.text).toBe("from of works-raised is “2025-03” by default, until it is removed\n");
  const listed = await orisma("overrides", "list", "works-raised");
  expect(listed.text).toMatch(/from +2025-03 +applied +command line of this machine .*stoppage/);
  const removed = await orisma("overrides", "delete", "works-raised", "from");
  expect(removed.text).toContain("applies to works-raised again");
  const uses = await orisma("sources", "uses", "works", "raised");
  expect(uses.text).toContain("works-raised: mainDate, parameters.0.column");
  expect((await orisma("sources", "uses", "works", "note")).text).toBe(
    "nothing stands on note of works\n",
  );
});
