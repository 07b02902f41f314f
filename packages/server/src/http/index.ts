export { ARRIVAL_LIMITS, limitArrival, type ArrivalLimits } from "./arriving.js";
export { hasHalves, mayHoldHalves } from "./characters.js";
export { callerWith, mayAs, notSignedIn } from "./caller.js";
export { compressed } from "./compress.js";
export {
  PUBLIC_ROLE,
  contextOf,
  pathParameter,
  type Caller,
  type RequestContext,
} from "./context.js";
export { disconnectedSignal } from "./disconnected.js";
export { answerFailures, nothingHere, sendProblem, translateFaults } from "./errors.js";
export { checkHost } from "./host.js";
export { Turns } from "./turn.js";
export { errorForLog, type LoggedError } from "./error-for-log.js";
export { logRequests } from "./log.js";
export { parse } from "./parse.js";
export { Places } from "./places.js";
export { PROBLEM_MEDIA_TYPE, Problem, problemOf } from "./problem.js";
export { endWhenStalled } from "./stalled.js";
export { sentParameters, sentValues } from "./query.js";
export { SENT, planned, route, type Received, type Returned } from "./route.js";
