import { describe, expect, test } from "@jest/globals";
import mysql from "mysql2/promise";
import { startTestService } from "../../../test/service.js";
import { SMALL, SMALL_CSV } from "../../../test/works.js";

describe("records that were taken before strings had a folded copy", () => {
  test("get theirs at the next start, and are appended to as before", async () => {
    const first = await startTestService();
    await first.client.createSource(SMALL);
    await first.client.importFile("works", SMALL_CSV);
    await first.client.declareListing("works", {
      source: "works",
      mainDate: "raised",
      filter: { columns: "all" },
    });
    const connection = await mysql.createConnection({ ...first.login, rowsAsArray: true });
    const [tables] = await connection.query("SHOW TABLES LIKE 'records\\_%'");
    const [[table] = []] = tables as string[][];
    const [fields] = await connection.query(`SHOW COLUMNS FROM ${table ?? ""}`);
    const folded = (fields as string[][])
      .map(([name]) => name ?? "")
      .filter((name) => /^f\d/.test(name));
    expect(folded.length).toBeGreaterThan(1);
    await connection.query(
      `ALTER TABLE ${table ?? ""} ${folded.map((name) => `DROP COLUMN ${name}`).join(", ")}`,
    );
    await connection.end();

    const second = await startTestService({ login: first.login });
    const idsWhere = async (filter: string) =>
      (await second.client.records("works", { filter, order: "raised" })).records.map(
        ({ id }) => id,
      );
    expect(await idsWhere("CASEI(note) = CASEI('LAST MOMENT')")).toEqual(["W-05"]);
    expect(await idsWhere("note = 'LAST MOMENT'")).toEqual([]);
    expect(await idsWhere("note IS NULL")).toEqual([]);
    await second.client.importFile(
      "works",
      "order,raised,passed,cost,note\nW-11,02/03/2025,,1,Extra\n",
      {
        mode: "append",
      },
    );
    expect(await idsWhere("CASEI(note) IN (CASEI('EXTRA'), CASEI('NEXT MIDNIGHT'))")).toEqual([
      "W-06",
      "W-11",
    ]);
    await second.end();
    await first.end();
  });
});
