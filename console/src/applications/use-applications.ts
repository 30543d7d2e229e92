import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";

/** The applications with their health and load; asked for again while a page shows them. */
export function useApplications(options: { enabled?: boolean; refetchInterval?: number } = {}) {
  return useQuery({
    queryKey: ["applications"],
    queryFn: async () => (await data(api.GET("/api/v1/applications"))).items,
    ...options,
  });
}
