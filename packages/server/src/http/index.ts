export { callerWith, mayAs, notSignedIn } from "./caller.js";
export { contextOf, pathParameter, type Caller, type RequestContext } from "./context.js";
export { answerFailures, nothingHere, sendProblem } from "./errors.js";
export { checkHost } from "./host.js";
export { logRequests } from "./log.js";
export { parse } from "./parse.js";
export { PROBLEM_MEDIA_TYPE, Problem, problemOf } from "./problem.js";
export { sentParameters } from "./query.js";
export { SENT, planned, route, type Received } from "./route.js";
