import { Column, Entity, ManyToOne, PrimaryGeneratedColumn, type Relation } from "typeorm";
import type { ListingDeclaration } from "@orisma/core";
import { Source } from "../sources/entities.js";

/** A declared listing; each change of it counts its version up. */
@Entity("listings")
export class Listing {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "varchar", length: 64, unique: true })
  name: string;

  @Column({ type: "int", unsigned: true })
  version: number;

  @ManyToOne(() => Source, { onDelete: "RESTRICT", nullable: false })
  source: Relation<Source>;

  @Column({ type: "json" })
  declaration: ListingDeclaration;
}
