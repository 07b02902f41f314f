/** The place in the address of a record's own panel; without an id it asks for one. */
export function placeOfRecord(id: string | number): string {
  return `#record=${encodeURIComponent(id)}`;
}
