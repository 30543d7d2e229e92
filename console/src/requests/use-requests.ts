import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";

/** Lines of requests that wait for whoever is signed in. */
export function useWaitingLines() {
  return useQuery({
    queryKey: ["requests", "waiting"],
    queryFn: () => data(api.GET("/api/v1/requests", { params: { query: { whose: "waiting", limit: 100 } } })),
    refetchInterval: 15_000,
  });
}

/** A request, looked at again while something of it is open. */
export function useRequest(id: string) {
  return useQuery({
    queryKey: ["request", id],
    queryFn: () => data(api.GET("/api/v1/requests/{id}", { params: { path: { id } } })),
    refetchInterval: 4_000,
  });
}

export type NewDecision = Schemas["NewDecision"];

/** Decides on one line, and has everything looked at again. */
export function useDecision(line: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (decision: NewDecision) =>
      data(api.POST("/api/v1/approvals/{line}", { params: { path: { line } }, body: decision })),
    onSettled: () => queries.invalidateQueries(),
  });
}

/** The questions of an offer that are asked with the answers so far, as the service says. */
export function useAskedQuestions(
  offer: Schemas["Offered"],
  worker: string,
  answers: Record<string, string>,
): Schemas["Asks"][] {
  const depends = offer.questions.some((question) => question.where);
  const { data: keys } = useQuery({
    queryKey: ["questions", offer.key, worker, answers],
    enabled: depends,
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(
        api.POST("/api/v1/offers/{key}/questions", {
          params: { path: { key: offer.key } },
          body: { worker: worker || undefined, answers },
        }),
      ),
  });
  return depends
    ? offer.questions.filter((question) => (keys ? keys.includes(question.key) : !question.where))
    : offer.questions;
}
