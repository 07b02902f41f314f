import type { Dialect } from "./fragment.js";

/** MariaDB and MySQL: names in backticks, `?` for values. */
export const MARIADB: Dialect = {
  quoteName: (name) => `\`${name.includes("`") ? name.replaceAll("`", "``") : name}\``,
  placeholder: () => "?",
  exactCollation: "utf8mb4_nopad_bin",
};
