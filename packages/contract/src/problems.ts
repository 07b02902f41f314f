/** The kinds of problem that the service answers with, each with its HTTP status. */
export const PROBLEMS = {
  "invalid-value": { status: 422, title: "A value is wrong" },
  "unreadable-request": { status: 400, title: "The request cannot be read" },
  "not-signed-in": { status: 401, title: "No valid key or session was shown" },
  "not-allowed": { status: 403, title: "The key does not allow this" },
  "not-found": { status: 404, title: "There is no such thing" },
  "method-not-allowed": { status: 405, title: "The method is not one of this address" },
  "already-there": { status: 409, title: "The name is taken or in use" },
  "breaks-listings": { status: 409, title: "Listings would no longer be served" },
  busy: { status: 409, title: "In use at the moment" },
  cancelled: { status: 409, title: "It was cancelled" },
  "too-large": { status: 413, title: "The request is too large" },
  "wrong-host": { status: 421, title: "The Host header names another service" },
  "too-many-requests": { status: 429, title: "Too many requests" },
  "internal-error": { status: 500, title: "A fault of the service itself" },
  "listing-broken": { status: 503, title: "The listing no longer fits its source" },
  unavailable: { status: 503, title: "The database cannot answer now" },
} as const;

export type ProblemName = keyof typeof PROBLEMS;
