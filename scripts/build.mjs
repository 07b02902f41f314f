/** `npm run build`: builds what is out of date, and nothing else. */
import { bootstrap } from "./bootstrap.mjs";

bootstrap([]);
