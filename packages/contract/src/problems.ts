/** The kinds of problem that the service answers with, each with its HTTP status. */
export const PROBLEMS = {
  "invalid-value": { status: 422, title: "A value is invalid" },
  "unreadable-request": { status: 400, title: "The request cannot be read" },
  "not-signed-in": { status: 401, title: "Not signed in: a valid key or session is required" },
  "not-allowed": { status: 403, title: "The key does not allow this" },
  "not-found": { status: 404, title: "Not found" },
  "method-not-allowed": { status: 405, title: "Method not allowed" },
  "request-timeout": { status: 408, title: "The request did not arrive in time" },
  "already-there": { status: 409, title: "The name is taken or in use" },
  "breaks-listings": { status: 409, title: "Listings would no longer be served" },
  busy: { status: 409, title: "In use now" },
  cancelled: { status: 409, title: "Cancelled" },
  "too-large": { status: 413, title: "The request is too large" },
  "unsupported-media": { status: 415, title: "The media type of the body is not accepted" },
  "wrong-host": { status: 421, title: "The Host header names another service" },
  "too-many-requests": { status: 429, title: "Too many requests" },
  "disk-full": { status: 507, title: "The disk is full" },
  "internal-error": { status: 500, title: "Internal error" },
  "listing-broken": { status: 503, title: "The listing no longer fits its source" },
  overloaded: { status: 503, title: "Too many requests are waiting" },
  "too-slow": { status: 503, title: "The request takes too long" },
  "table-changed": { status: 503, title: "A table is not as it was" },
  unavailable: { status: 503, title: "The database cannot be reached" },
} as const;

export type ProblemName = keyof typeof PROBLEMS;
