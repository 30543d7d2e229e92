import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, data, forgeryProof, problemOf, type Schemas } from "./client";

/** Long work, of which the kind says what it comes to. */
export type Work = Schemas["Work"];

/** Whether work waits or goes on. */
export const isOpen = (work: Work) => work.state === "waiting" || work.state === "running";

/** What was wrong in what work was given, each at its place. */
export function mistakes(work: Work): { pointer: string; detail: string }[] {
  const errors = work.errors as { pointer: string; sentence: string }[] | null;
  return (errors ?? []).map((each) => ({ pointer: each.pointer, detail: each.sentence }));
}

/**
 * Long work as it goes on, by its identity; it goes on whether or not anybody looks. When it ends, all that
 * is shown is asked for anew.
 */
export function useWork(id: string | undefined) {
  const queries = useQueryClient();
  const work = useQuery({
    queryKey: ["work", id],
    enabled: id !== undefined,
    queryFn: () => data<Work>(api.GET("/api/v1/progress/{id}", { params: { path: { id: id ?? "" } } })),
    refetchInterval: ({ state }) => (state.data && !isOpen(state.data) ? false : 250),
  });
  const ended = work.data !== undefined && !isOpen(work.data);
  useEffect(() => {
    if (ended) void queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "work" });
  }, [ended, queries]);
  return work;
}

/** Has work stop. */
export function cancelWork(id: string): Promise<Work> {
  return data<Work>(api.POST("/api/v1/progress/{id}/cancel", { params: { path: { id } } }));
}

/** Begins to write a whole list to a file; the answer is the work to follow. */
export function beginExport(list: string, filters: Record<string, string>): Promise<Work> {
  return data<Work>(api.POST("/api/v1/exports", { body: { list, filters } }));
}

/** Sends a file to be loaded or forecast; the answer is the work to follow. */
export async function sendFeed(file: File, source: string, forecast: boolean): Promise<Work> {
  const query = new URLSearchParams({ source, fileName: file.name, forecast: String(forecast) });
  const response = await fetch(`/api/v1/feeds?${query}`, {
    method: "POST",
    body: file,
    headers: { "Content-Type": "text/csv", ...forgeryProof() },
  });
  if (!response.ok) throw await problemOf(response);
  return response.json();
}
