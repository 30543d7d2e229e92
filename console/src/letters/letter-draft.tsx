import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { LetterReading } from "./letter-reading";

/** A letter that is being written, as it would read about somebody. */
export function LetterDraft({ letter, text, good }: { letter: string; text: string; good: boolean }) {
  const [worker, setWorker] = useState("");
  const { data: written, error } = useQuery({
    queryKey: ["letter-draft", letter, text, worker],
    enabled: good && worker !== "",
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(
        api.POST("/api/v1/letters/{key}/draft", {
          params: { path: { key: letter } },
          body: { text, worker },
        }),
      ),
  });
  return <LetterReading written={written} error={error} choose={setWorker} pale={!good} />;
}
