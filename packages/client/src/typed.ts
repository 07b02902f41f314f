import type { RecordAnswer, RecordsAnswer } from "@orisma/core/internal";

/** A value of a parameter; a list is sent repeated. */
export type ParameterValue = string | number | boolean;

/** Parameters of a listing, by name; undefined ones are not sent, a list is sent repeated. */
export type QueryParameters = Readonly<
  Record<string, ParameterValue | readonly ParameterValue[] | undefined>
>;

/** Listings of which no types are known: whatever name, whatever parameters. */
export type AnyListings = Readonly<
  Record<string, { readonly parameters: QueryParameters; readonly record: RecordAnswer }>
>;

/** The names of listings. */
export type ListingName<L> = keyof L & string;

/** What a listing of some types takes. */
export type ParametersOf<L, N extends ListingName<L>> = L[N] extends {
  readonly parameters: infer P;
}
  ? P & object
  : QueryParameters;

/** A record of a listing of some types. */
export type RecordOf<L, N extends ListingName<L>> = L[N] extends { readonly record: infer R }
  ? R
  : RecordAnswer;

/** A page of records of known columns. */
export type RecordsOf<R> = Omit<RecordsAnswer, "records"> & { readonly records: readonly R[] };
