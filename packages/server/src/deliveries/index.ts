export { Delivery, DeliveryRunEntity } from "./entities.js";
export { Outbox } from "./outbox.js";
export { deliveryRoutes } from "./routes.js";
export { Deliveries } from "./service.js";
export { Webhooks } from "./webhook.js";
