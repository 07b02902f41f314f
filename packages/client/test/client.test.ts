import { afterEach, describe, expect, test } from "@jest/globals";
import { createServer, type Server, type Socket } from "node:net";
import type { AddressInfo } from "node:net";
import { OrismaClient, OrismaError } from "../src/index.js";

/** What a service that loses connections does with the requests of each of them, in turn. */
type Deed = "answer" | "reset" | "end" | "cut" | "gone";

const servers: Server[] = [];
const sockets: Socket[] = [];
afterEach(() => {
  for (const server of servers.splice(0)) server.close();
  for (const socket of sockets.splice(0)) socket.destroy();
});

/** A service that answers, or loses the connection, as it is returned; and the heads of what came. */
async function serviceThat(...deeds: readonly Deed[]) {
  const heads: string[] = [];
  const server = createServer((socket) => {
    sockets.push(socket);
    socket.on("error", () => undefined);
    socket.on("data", (data) => {
      const text = data.toString("latin1");
      const [head] = text.split("\r\n");
      if (head?.endsWith(" HTTP/1.1") !== true) return;
      const deed = deeds[heads.length] ?? "answer";
      heads.push(head);
      const body = JSON.stringify({ records: [], listings: [], results: [] });
      const length = `Content-Length: ${body.length}`;
      const type = "Content-Type: application/json";
      if (deed === "reset") socket.resetAndDestroy();
      else if (deed === "end") socket.end();
      else if (deed === "cut") {
        socket.write(`HTTP/1.1 200 OK\r\n${type}\r\n${length}\r\n\r\n{`, () => socket.destroy());
      } else if (deed === "gone") {
        socket.write("HTTP/1.1 404 Not Found\r\nContent-Length: 0\r\n\r\n");
      } else socket.write(`HTTP/1.1 200 OK\r\n${type}\r\n${length}\r\n\r\n${body}`);
    });
  });
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const { port } = server.address() as AddressInfo;
  return { client: new OrismaClient({ url: `http://127.0.0.1:${port}`, key: "k" }), heads };
}

const failure = async (call: Promise<unknown>): Promise<OrismaError> => {
  try {
    await call;
  } catch (error) {
    if (error instanceof OrismaError) return error;
    throw error;
  }
  throw new Error("it did not fail");
};

describe("a connection that is lost before an answer", () => {
  test.each(["reset", "end"] as const)(
    "%s: what only reads is requested once more",
    async (deed) => {
      const { client, heads } = await serviceThat("answer", deed, "answer", deed, "answer");
      await client.listings();
      expect(await client.listings()).toEqual([]);
      // What is requested in a body changes nothing either.
      expect(await client.readDates(["2025-02-28"], { kind: "date", encoding: "text" })).toEqual(
        [],
      );
      expect(heads.map((head) => head.split(" ").slice(0, 2).join(" "))).toEqual([
        "GET /v1/listings",
        "GET /v1/listings",
        "GET /v1/listings",
        "POST /v1/dates/read",
        "POST /v1/dates/read",
      ]);
    },
  );

  test("what would do something twice is not", async () => {
    const { client, heads } = await serviceThat("reset", "answer");
    const { status, message } = await failure(client.createSource({ name: "works" }));
    expect([status, message]).toEqual([0, expect.stringContaining("no answer from")]);
    expect(heads).toEqual(["POST /v1/sources HTTP/1.1"]);
  });

  test("nor is a file, which is read as it is sent", async () => {
    const { client, heads } = await serviceThat("reset", "answer");
    expect((await failure(client.importFile("works", "a\n1\n"))).status).toBe(0);
    expect(heads).toHaveLength(1);
  });

  test("what was removed by a call whose answer was lost is gone, and no failure", async () => {
    const { client, heads } = await serviceThat("reset", "gone");
    await client.deleteListing("works");
    expect(heads).toHaveLength(2);
    const other = await serviceThat("gone");
    expect((await failure(other.client.deleteListing("works"))).status).toBe(404);
  });

  test("twice in a row it fails, as a service does that is not there", async () => {
    const { client, heads } = await serviceThat("reset", "reset", "answer");
    expect((await failure(client.listings())).status).toBe(0);
    expect(heads).toHaveLength(2);
    const none = new OrismaClient({ url: "http://127.0.0.1:1" });
    expect((await failure(none.listings())).status).toBe(0);
  });

  test("an answer that ends before it is whole fails as one that did not come", async () => {
    const { client } = await serviceThat("cut");
    const { status, message } = await failure(client.listings());
    expect([status, message]).toEqual([0, expect.stringContaining("before it was whole")]);
  });

  test("a call that is called off is not sent again, and fails as that", async () => {
    const { client, heads } = await serviceThat("answer");
    const abort = new AbortController();
    abort.abort();
    await expect(client.listings(abort.signal)).rejects.toMatchObject({ name: "AbortError" });
    expect(heads).toEqual([]);
  });
});
