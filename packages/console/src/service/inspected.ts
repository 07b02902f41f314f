import type { ListingDetails } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { service } from "./service.js";
import { useMay } from "./session.js";

/** The cells of a record as they came and as they were read; nothing for those who may not see the source. */
export function useInspected({ source }: ListingDetails, id: string) {
  const isAuthor = useMay("author");
  return useQuery({
    queryKey: ["inspected", source, id],
    queryFn: () => service.inspectRecord(source, id),
    enabled: isAuthor,
    retry: false,
  });
}
