import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

const ask = (path: string, key = running.service.key) =>
  fetch(`${running.service.url}${path}`, { headers: { Authorization: `Bearer ${key}` } });

/** A figure by its name and labels, as it stands in the text. */
async function figure(line: string): Promise<number> {
  const text = await (await ask("/metrics")).text();
  const found = text.split("\n").find((each) => each.startsWith(`${line} `));
  return Number(found?.slice(line.length + 1) ?? NaN);
}

describe("the figures of a service", () => {
  test("are for owners alone, in the text format of Prometheus", async () => {
    const answer = await ask("/metrics");
    expect(answer.status).toBe(200);
    expect(answer.headers.get("Content-Type")).toMatch(/^text\/plain; version=0\.0\.4/);
    expect(await answer.text()).toMatch(/^# HELP orisma_http_requests_total /m);
    const { key } = await running.client.createKey({ name: "site", role: "reader" });
    expect((await ask("/metrics", key)).status).toBe(403);
    expect((await fetch(`${running.service.url}/metrics`)).status).toBe(401);
  });

  test("count requests by route and status, never by what was sent", async () => {
    const [name = ""] = Object.keys(LISTINGS);
    const route = "/v1/listings/:name/records";
    const counted = `orisma_http_requests_total{method="GET",route="${route}",status="200"}`;
    const refused = `orisma_http_requests_total{method="GET",route="${route}",status="422"}`;
    const before = (await figure(counted)) || 0;
    await (await ask(`/v1/listings/${name}/records?from=2025`)).text();
    await (await ask(`/v1/listings/${name}/records?from=soon`)).text();
    expect(await figure(counted)).toBe(before + 1);
    expect(await figure(refused)).toBe(1);
    const text = await (await ask("/metrics")).text();
    expect(text).not.toContain(name);
    expect(text).not.toContain("soon");
  });

  test("have the calls that run and wait, the connections, the event loop, memory and the disk", async () => {
    expect(await figure('orisma_calls_running{class="heavy"}')).toBe(0);
    expect(await figure('orisma_calls_waiting{class="page"}')).toBe(0);
    expect(await figure('orisma_database_connections{state="free"}')).toBeGreaterThan(0);
    expect(await figure('orisma_event_loop_delay_seconds{quantile="0.99"}')).toBeGreaterThan(0);
    expect(await figure("process_resident_memory_bytes")).toBeGreaterThan(1e7);
    expect(await figure("orisma_disk_free_bytes")).toBeGreaterThan(0);
    expect(await figure("orisma_imports_running")).toBe(0);
  });
});
