import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";

export type Review = Schemas["ReviewShown"];
export type Item = Schemas["ItemShown"];

/** What is mine to judge, in rounds that go on. */
export function useReviews() {
  return useQuery({
    queryKey: ["reviews"],
    queryFn: async () =>
      (await data(api.GET("/api/v1/reviews", { params: { query: { limit: 500 } } }))).items,
    refetchInterval: 15_000,
  });
}

/** Whether it still waits for somebody. */
export const waits = (review: Review) => !review.signedOffAt && review.roundState === "open";
