import type { Dialect } from "./fragment.js";

/** MariaDB and MySQL: names in backticks, `?` for values. */
export const MARIADB: Dialect = {
  quoteName: (name) => `\`${name.replaceAll("`", "``")}\``,
  placeholder: () => "?",
};
