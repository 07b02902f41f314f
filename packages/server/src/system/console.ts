import { existsSync } from "node:fs";
import { join } from "node:path";
import express, { Router } from "express";

/**
 * The console's built files; every address of a page of it gets the one document. So does a browser at any other, with
 * 404: the page says that there is none, and leads on.
 */
export function consoleRoutes(folder: string): Router {
  const router = Router();
  const document = join(folder, "index.html");
  // Files have a hash of their content in their names.
  router.use(
    "/assets",
    express.static(join(folder, "assets"), { immutable: true, maxAge: "1y", fallthrough: false }),
  );
  router.use(express.static(folder, { index: false }));
  router.get(
    [
      "/",
      "/listings",
      "/listings/*path",
      "/sources",
      "/sources/*path",
      "/windows",
      "/reference",
      // What that page was called before; the console goes on to it.
      "/docs",
      "/access",
      "/declare",
      "/declare/*path",
      "/sign-in",
    ],
    (_request, response, next) => {
      if (!existsSync(document)) {
        next();
        return;
      }
      response.set("Cache-Control", "no-cache").sendFile(document);
    },
  );
  // Whatever its address: one that cannot be decoded is nowhere too.
  router.use((request, response, next) => {
    const isLooking = request.method === "GET" || request.method === "HEAD";
    const wantsPage = request.accepts(["json", "html"]) === "html";
    if (!isLooking || !wantsPage || !existsSync(document)) {
      next();
      return;
    }
    response.status(404).set("Cache-Control", "no-cache").sendFile(document);
  });
  return router;
}
