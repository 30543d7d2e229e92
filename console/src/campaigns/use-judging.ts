import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import type { Item } from "./use-reviews";

type Word = "keep" | "revoke";
type Which =
  { items: string[]; revision?: number } | { filter: { suggestion?: string; application?: string } };

/**
 * Judges items of a review. What is suggested to go is kept only with a reason: `needsReason` is the item
 * that was meant to be kept without one.
 */
export function useJudging(review: string) {
  const queries = useQueryClient();
  const [needsReason, setNeedsReason] = useState<string>();
  const [left, setLeft] = useState<Schemas["Judged"]["left"]>({});
  const refresh = () => queries.invalidateQueries({ queryKey: ["reviews"] });
  const decided = useMutation({
    mutationFn: ({ which, judgement, reason }: { which: Which; judgement: Word; reason: string }) =>
      data(
        api.POST("/api/v1/reviews/{id}/decisions", {
          params: { path: { id: review } },
          body: { ...which, judgement, reason },
        }),
      ),
    onSuccess: (judged) => setLeft(judged.left),
    onSettled: refresh,
  });
  const undone = useMutation({
    mutationFn: (items: string[]) =>
      data(api.POST("/api/v1/reviews/{id}/undo", { params: { path: { id: review } }, body: { items } })),
    onSettled: refresh,
  });
  const decide = (item: Item, judgement: Word, then: () => void, reason = "") => {
    if (decided.isPending) return;
    if (judgement === "keep" && item.suggestion === "revoke" && !reason) {
      setNeedsReason(item.id);
      return;
    }
    setNeedsReason(undefined);
    decided.mutate(
      { which: { items: [item.id], revision: item.revision }, judgement, reason },
      { onSuccess: then },
    );
  };
  return {
    decide,
    needsReason,
    decideFound: (filter: { suggestion?: string; application?: string }, judgement: Word, reason: string) =>
      decided.mutate({ which: { filter }, judgement, reason }),
    undo: (item: Item) => item.state === "decided" && undone.mutate([item.id]),
    left,
    busy: decided.isPending || undone.isPending,
    error: decided.error ?? undone.error,
  };
}

export type Judging = ReturnType<typeof useJudging>;
