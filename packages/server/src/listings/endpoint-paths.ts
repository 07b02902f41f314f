import {
  fault,
  literalSegments,
  matchPath,
  pathShape,
  type EndpointDeclaration,
  type Fault,
  type ListingDeclaration,
} from "@orisma/core/internal";

/** An endpoint of a listing's own, and the values in the path that led there. */
export interface FoundEndpoint {
  readonly declaration: ListingDeclaration;
  readonly endpoint: EndpointDeclaration;
  readonly values: Readonly<Record<string, string>>;
}

/** The endpoint that a path leads to: of several the one with the fewest parameters; null for none. */
export function endpointAt(
  declarations: readonly ListingDeclaration[],
  path: string,
): FoundEndpoint | null {
  const found = declarations.flatMap((declaration): readonly FoundEndpoint[] => {
    const { endpoint } = declaration;
    const values = endpoint === undefined ? null : matchPath(endpoint.path, path);
    return endpoint === undefined || values === null ? [] : [{ declaration, endpoint, values }];
  });
  const literal = ({ endpoint }: FoundEndpoint) => literalSegments(endpoint.path);
  return [...found].sort((a, b) => literal(b) - literal(a))[0] ?? null;
}

/** That the path of a listing is another's already; null where it is not. */
export function pathTaken(
  { name, endpoint }: ListingDeclaration,
  declarations: readonly ListingDeclaration[],
): Fault | null {
  if (endpoint === undefined) return null;
  const shape = pathShape(endpoint.path);
  const clash = declarations.find(
    (other) =>
      other.name !== name &&
      other.endpoint !== undefined &&
      pathShape(other.endpoint.path) === shape,
  );
  if (clash === undefined) return null;
  const reason = `it is the path of ${clash.name}`;
  const place = { path: "endpoint.path", value: endpoint.path };
  return fault("parameter.setting", { name: endpoint.path, reason }, place);
}
