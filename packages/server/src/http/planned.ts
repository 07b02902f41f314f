import type { Request, Response } from "express";
import { planAgain } from "../database/index.js";

type Handler = (request: Request, response: Response) => Promise<void>;

/** A handler that reads records: it begins anew where their table was replaced in the meantime. */
export function planned(handler: Handler): Handler {
  return (request, response) =>
    planAgain(
      () => handler(request, response),
      () => !response.headersSent,
    );
}
