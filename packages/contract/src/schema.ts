import type { z } from "zod";

/** A value that nobody may change, at any depth. */
export type ReadonlyDeep<T> = T extends object
  ? { readonly [K in keyof T]: ReadonlyDeep<T[K]> }
  : T;

/** What a schema gives once it was read. */
export type Shown<S extends z.ZodType> = ReadonlyDeep<z.output<S>>;

/** What a schema accepts. */
export type Sent<S extends z.ZodType> = ReadonlyDeep<z.input<S>>;

/** Whether each of two types can stand for the other. */
type Same<A, B> = [A] extends [B] ? ([B] extends [A] ? true : false) : false;

/**
 * Ties a schema to a type of the core, which has no schemas: a schema that gives another type does not
 * compile.
 */
export function tied<T>() {
  return <S extends z.ZodType>(
    schema: Same<Shown<S>, ReadonlyDeep<T>> extends true ? S : { readonly differsFrom: T },
  ): S => schema as S;
}
