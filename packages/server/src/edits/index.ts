export { Edit, EditedCell } from "./entities.js";
export { KeepEdits } from "./keeper.js";
export { editRoutes } from "./routes.js";
export { Edits } from "./service.js";
export { EditWriter } from "./writer.js";
