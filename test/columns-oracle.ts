/** Columns of dates in three databases, each asked what the evaluator is asked. */
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  DATABASES,
  EVERYTHING,
  countStatement,
  evaluate,
  pageStatement,
  type DateCondition,
  type Edge,
  type Filter,
  type Interval,
  type Row,
} from "@orisma/core/internal";
import fc from "fast-check";
import { START, columnsIn, rawRows, rowOf, type Encoded, type Running } from "./encoded.js";
import { dateConditionsOn, edgeOf, onWholeDays } from "./trees.js";

const RECORDS = 100;

export interface ColumnsTried {
  readonly columns: readonly Encoded[];
  readonly seed: number;
  /** How many random conditions are tried on every column. */
  readonly conditions: number;
  /** Windows that are tried on every column beside the common ones. */
  readonly windows?: readonly (readonly [Edge, Edge])[];
}

/** States, windows, days, counts and order of each column, as its reading has them. */
export function tryColumns(title: string, tried: ColumnsTried): void {
  const { columns, seed, windows = [] } = tried;
  describe.each(DATABASES)(`${title}, in %s`, (database) => {
    const table = columnsIn(database, columns);
    const catalogue = new Map([...table.columns].map(([name, { column }]) => [name, column]));
    const raw = rawRows(database, RECORDS, seed, columns);
    const rows: readonly Row[] = raw.map((each) => rowOf(each, table));
    let running: Running;
    beforeAll(async () => {
      running = await START[database](raw, columns);
    });
    afterAll(() => running.end());

    const evaluated = (filter: Filter) =>
      rows.flatMap((row, index) =>
        evaluate(onWholeDays(filter, catalogue), row, catalogue) ? [index + 1] : [],
      );
    async function queried(
      filter: Filter,
      order = { column: null as string | null, descending: false },
    ) {
      const query = { filter, columns: [], order, after: null, limit: 1_000, counts: [] };
      const found = await running.read(pageStatement(query, table, running.dialect));
      return found.map(([id]) => Number(id));
    }

    test.each(columns.map(({ name }) => name))(
      "%s: states, windows and days, as the reading has them",
      async (name) => {
        const column = catalogue.get(name);
        const place = columns.findIndex((each) => each.name === name);
        const shown = (ids: readonly number[]) => ids.map((id) => [id, raw[id - 1]?.[place]]);
        const policy = column?.type === "date" ? column.partial : undefined;
        const states = ["dated", "blank", "unreadable"] as const;
        const sizes: number[] = [];
        for (const state of states) {
          const filter: Filter = { kind: "state", column: name, state };
          const found = await queried(filter);
          expect([state, shown(found)]).toEqual([state, shown(evaluated(filter))]);
          sizes.push(found.length);
        }
        expect(Math.min(...sizes)).toBeGreaterThan(0);
        let [some, all] = [0, 0];
        const conditions = dateConditionsOn(fc.constant(name));
        const span = (written: string): Interval => ({
          start: edgeOf(written, 1, false),
          end: edgeOf(written, 1, true),
        });
        const withPolicy = (dates: DateCondition): Filter =>
          policy === undefined ? dates : { kind: "partial", policy, dates };
        const common = [
          ...["0001", "2024", "2024-02-29", "9999"].map((written) => [span(written)]),
          ...windows.map(([start, end]) => [{ start, end }]),
          // More than are compared one by one, with one that has the twin of a record in other letters.
          ["2012", "2015", "2018", "2021", "2024-02", "2025"].map(span),
        ].map((intervals) => {
          const where = { column: name, side: "inside", intervals } as const;
          return withPolicy({ kind: "date", ...where, recurring: [], blanks: "exclude" });
        });
        const random = fc.sample(conditions, { numRuns: tried.conditions, seed }).map(withPolicy);
        // With the next column of its kind, in milliseconds.
        const of = column?.type === "date" ? column.kind : undefined;
        const alike = [...catalogue.values()].filter(
          (each) => each.type === "date" && each.kind === of && each.partial === undefined,
        );
        const next = alike[alike.findIndex((each) => each.name === name) + 1];
        const compared: readonly Filter[] =
          next === undefined || policy !== undefined
            ? []
            : [
                { kind: "columns", left: name, comparison: "<", right: next.name },
                {
                  kind: "days",
                  from: name,
                  to: next.name,
                  least: 0,
                  most: 400,
                  side: "inside",
                },
              ];
        for (const filter of [...common, ...random, ...compared]) {
          const expected = evaluated(filter);
          expect([filter, shown(await queried(filter))]).toEqual([filter, shown(expected)]);
          const count = countStatement({ filter, cap: null }, table, running.dialect);
          expect(Number((await running.read(count))[0]?.[0])).toBe(expected.length);
          all++;
          if (expected.length > 0 && expected.length < rows.length) some++;
        }
        expect(some).toBeGreaterThan(all / 3);
        // In the order of dates; where those without one stand is the matter of a page's parts.
        const ordered = await queried(EVERYTHING, { column: name, descending: false });
        const dated = ordered.flatMap((id) => {
          const cell = rows[id - 1]?.[name];
          return cell?.state === "dated" ? [cell.ms] : [];
        });
        expect(dated).toEqual([...dated].sort((a, b) => a - b));
        expect(ordered).toHaveLength(rows.length);
      },
    );
  });
}
