import { useQuery } from "@tanstack/react-query";
import { api, data } from "./client";

/** Whether this installation acts, asked twice a minute. */
export function useInstallation() {
  return useQuery({
    queryKey: ["installation"],
    queryFn: () => data(api.GET("/api/v1/installation")),
    refetchInterval: 30_000,
  });
}
