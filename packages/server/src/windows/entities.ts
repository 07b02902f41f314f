import type { CalendarDeclaration, NamedWindow } from "@orisma/core/internal";
import { Column, Entity, PrimaryColumn } from "typeorm";

/** A named window that was declared, beside those that are always there. */
@Entity("named_windows")
export class DeclaredWindow implements NamedWindow {
  @PrimaryColumn({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "varchar", length: 128 })
  label: string;

  @Column({ type: "text" })
  window: string;
}

/** A declared set of named windows that tiles an interval. */
@Entity("ladders")
export class Ladder {
  @PrimaryColumn({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "varchar", length: 128 })
  label: string;

  /** The zone in which it was seen to tile. */
  @Column({ type: "varchar", length: 64 })
  zone: string;

  @Column({ type: "json" })
  calendar: CalendarDeclaration & { readonly holidayLists?: readonly string[] };

  @Column({ type: "json" })
  rungs: readonly NamedWindow[];
}
