export { Metrics, metricsRoutes } from "./metrics.js";
export { consoleRoutes } from "./console.js";
export { problemRoutes } from "./problems.js";
export { healthRoutes } from "./routes.js";
