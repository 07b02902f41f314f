import { useQuery, type UseQueryResult } from "@tanstack/react-query";
import { OrismaError, type Role } from "@orisma/client";
import { keepCsrf, service } from "./service.js";

type Session = Awaited<ReturnType<typeof service.session>>;

/** Who is signed in; requested once. */
export function useSession(): UseQueryResult<Session> {
  return useQuery({
    queryKey: ["session"],
    queryFn: async ({ signal }) => {
      // Who has no session is not asked for it: the refusal would stand in the log of the browser.
      if (!document.cookie.includes("orisma_here_"))
        throw new OrismaError("Not signed in", 401, null);
      const found = await service.session(signal);
      keepCsrf(found.csrf);
      return found;
    },
    staleTime: Infinity,
  });
}

/** The name of who is signed in; the owner's is that of a session. Undefined before that is known. */
export function useWho(): string | undefined {
  const { data } = useSession();
  if (data === undefined) return undefined;
  return data.person?.name ?? data.key?.name ?? "session";
}

const RANKS: readonly Role[] = ["reader", "author", "owner"];

/** Whether who is signed in has at least a role; not before that is known. */
export function useMay(least: Role): boolean {
  const { data } = useSession();
  return data !== undefined && RANKS.indexOf(data.role) >= RANKS.indexOf(least);
}
