import type { Dialect } from "./dialect.js";
import { sql, type Fragment, type SqlValue, type Statement } from "./fragment.js";

/** Writes a piece out for a database. */
export function render(fragment: Fragment, dialect: Dialect): Statement {
  const values: SqlValue[] = [];
  let text = "";
  const write = (piece: Fragment): void => {
    switch (piece.kind) {
      case "text":
        text += piece.text;
        return;
      case "name":
        text += dialect.quoteName(piece.name);
        return;
      case "call":
        write(dialect[piece.call](piece.of));
        return;
      case "dateText":
        write(dialect.isDateText(piece.of, piece.form));
        return;
      case "pattern":
        write(dialect.hasPattern(piece.of, piece.pattern));
        return;
      case "dateField":
        write(dialect.dateField(piece.field, piece.of));
        return;
      case "week":
        write(dialect.weekNumber(piece.of, piece.weeks) ?? piece.otherwise);
        return;
      case "shifted":
        write(dialect.shifted(piece.of, piece.seconds));
        return;
      case "byItself":
        write(dialect.byItself ?? sql`1 = 1`);
        return;
      case "worked":
        write(dialect.workedOnce(piece.of, { kind: "text", text: piece.name }, piece.make));
        return;
      case "concat":
        write(dialect.concat(piece.of));
        return;
      case "realDay":
        write(dialect.isRealDay(piece.of) ?? sql`1 = 1`);
        return;
      case "value":
        values.push(piece.value);
        text += dialect.placeholder(values.length);
        return;
      case "sequence":
        for (const part of piece.parts) write(part);
    }
  };
  write(fragment);
  return { text, values };
}
