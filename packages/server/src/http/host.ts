import { isIP } from "node:net";
import type { RequestHandler } from "express";
import { Problem } from "./problem.js";

/**
 * Refuses requests whose `Host` is a name that is not this service's, so that a page on another
 * site cannot reach it by a name made to point here. Addresses are no names, and pass.
 */
export function checkHost(hosts: readonly string[]): RequestHandler {
  const names = new Set(["localhost", ...hosts.map((each) => each.toLowerCase())]);
  return (request, _response, next) => {
    const host = hostName(request.headers.host ?? "");
    if (names.has(host) || isIP(host) !== 0) {
      next();
      return;
    }
    throw new Problem("wrong-host", "The Host header must name this service or be an address");
  };
}

/** The host without its port and brackets, in lower case. */
function hostName(header: string): string {
  const match = /^(?:\[([^\]]+)\]|([^:]+))(?::\d+)?$/.exec(header);
  return (match?.[1] ?? match?.[2] ?? "").toLowerCase();
}
