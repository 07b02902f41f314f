import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;
let clerk: OrismaClient;
let keeper: OrismaClient;

beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  await client.createSource({
    name: "works",
    columns: { raised: { type: "date", reading: { kind: "date", encoding: "text" } } },
  });
  await client.importFile("works", "task,raised\nweir,2025-02-01\ngate,2025-03-01\n");
  for (const name of ["works", "tasks", "passing"]) {
    await client.declareListing(name, {
      source: "works",
      zone: "UTC",
      parameters: [{ name: "raised", column: "raised", type: "window", comparison: "on" }],
    });
  }
  [clerk, keeper] = (await Promise.all(
    ["clerk", "keeper"].map(async (name) => {
      const { key } = await client.createKey({
        name,
        role: "reader",
        listings: ["works", "tasks"],
      });
      return new OrismaClient({ url: running.service.url, key });
    }),
  )) as [OrismaClient, OrismaClient];
});
afterAll(() => running.end());

const FEBRUARY = { raised: ["2025-02"], order: ["-raised"] };

describe("views of a listing", () => {
  test("are kept for the one who made them, and found by nobody else", async () => {
    const kept = await clerk.putView("works", "Février / 2025", { parameters: FEBRUARY });
    expect(kept).toMatchObject({ name: "Février / 2025", parameters: FEBRUARY, isDefault: false });
    await clerk.putView("works", "all", {});
    expect((await clerk.views("works")).map(({ name }) => name)).toEqual(["all", "Février / 2025"]);
    expect(await keeper.views("works")).toEqual([]);
    expect(await clerk.views("tasks")).toEqual([]);
    expect(await refusal(keeper.deleteView("works", "all"))).toMatchObject({ status: 404 });
    await clerk.deleteView("works", "all");
    expect(await clerk.views("works")).toHaveLength(1);
  });

  test("one at most opens with the listing; a name is kept once, letter by letter", async () => {
    await clerk.putView("tasks", "mine", { isDefault: true });
    await clerk.putView("tasks", "Mine", { isDefault: true });
    await clerk.putView("tasks", "Mine", { parameters: FEBRUARY, isDefault: true });
    const found = await clerk.views("tasks");
    expect(found.map(({ name, isDefault }) => [name, isDefault]).sort()).toEqual([
      ["Mine", true],
      ["mine", false],
    ]);
    await Promise.all([1, 2, 3].map(() => keeper.putView("tasks", "at once", {})));
    expect(await keeper.views("tasks")).toHaveLength(1);
  });

  test("what the listing would refuse is refused, and so is a listing that one may not read", async () => {
    const wrong = { parameters: { raised: ["2025-13"] } };
    expect(await refusal(clerk.putView("works", "wrong", wrong))).toMatchObject({ status: 422 });
    const unknown = { parameters: { raisd: ["2025-02"] } };
    expect(await refusal(clerk.putView("works", "wrong", unknown))).toMatchObject({
      faults: [{ code: "parameter.unknown", nearest: ["raised"] }],
    });
    const long = await refusal(clerk.putView("works", "x".repeat(65), {}));
    expect(long?.detail).toContain("64 characters at most");
    expect(await refusal(clerk.views("passing"))).toMatchObject({ status: 404 });
    expect(await refusal(clerk.putView("passing", "mine", {}))).toMatchObject({ status: 404 });
  });

  test("past the most that one may keep it is said, and nothing is lost", async () => {
    for (let count = (await keeper.views("works")).length; count < 100; count++) {
      await keeper.putView("works", `view ${count}`, {});
    }
    const more = await refusal(keeper.putView("works", "one more", {}));
    expect(more).toMatchObject({ status: 413 });
    expect(more?.detail).toContain("the most there can be: delete one");
    // One of them can still be kept anew.
    await keeper.putView("works", "view 5", { parameters: FEBRUARY });
    expect(await keeper.views("works")).toHaveLength(100);
  });

  test("go with a listing that is renamed, with a key that is renewed, and end with the listing", async () => {
    const { client } = running;
    await client.putView("passing", "mine", { parameters: FEBRUARY });
    await client.renameListing("passing", { to: "passages" });
    expect(await client.views("passages")).toMatchObject([{ name: "mine", parameters: FEBRUARY }]);
    const { id, key } = await client.createKey({ name: "crew", role: "reader" });
    await new OrismaClient({ url: running.service.url, key }).putView("passages", "ours", {});
    const renewed = await client.rotateKey(id);
    const crew = new OrismaClient({ url: running.service.url, key: renewed.key });
    expect((await crew.views("passages")).map(({ name }) => name)).toEqual(["ours"]);
    await client.deleteListing("passages");
    await client.declareListing("passages", { source: "works", zone: "UTC" });
    expect(await client.views("passages")).toEqual([]);
  });
});
