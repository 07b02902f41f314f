import type { z } from "zod";

/** A value that nobody may change, at any depth. */
export type ReadonlyDeep<T> = T extends object
  ? { readonly [K in keyof T]: ReadonlyDeep<T[K]> }
  : T;

/** What a schema gives once it was read. */
export type Shown<S extends z.ZodType> = ReadonlyDeep<z.output<S>>;

/** What a schema accepts. */
export type Sent<S extends z.ZodType> = ReadonlyDeep<z.input<S>>;

/** A type whose optional properties are marked as such, so that one that is missing is a difference. */
type Marked<T> = T extends object
  ? { [K in keyof T]-?: [object extends Pick<T, K> ? "optional" : "required", Marked<T[K]>] }
  : T;

/** Whether each of two types can stand for the other, and has the same optional properties. */
type Same<A, B> = [Marked<A>] extends [Marked<B>]
  ? [Marked<B>] extends [Marked<A>]
    ? true
    : false
  : false;

/**
 * Ties a schema to a type of the core, which has no schemas: a schema that gives another type does not
 * compile.
 */
export function tied<T>() {
  return <S extends z.ZodType>(
    schema: Same<Shown<S>, ReadonlyDeep<T>> extends true ? S : { readonly differsFrom: T },
  ): S => schema as S;
}
