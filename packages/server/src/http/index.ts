export { ROLES, type Caller, type Role } from "./caller.js";
export { contextOf, pathParameter, type RequestContext } from "./context.js";
export { answerFailures, nothingHere, sendProblem } from "./errors.js";
export { checkHost } from "./host.js";
export { logRequests } from "./log.js";
export { parse } from "./parse.js";
export { planned } from "./planned.js";
export {
  PROBLEMS,
  PROBLEM_MEDIA_TYPE,
  Problem,
  problemOf,
  type ProblemDocument,
  type ProblemName,
} from "./problem.js";
export { sentParameters } from "./query.js";
