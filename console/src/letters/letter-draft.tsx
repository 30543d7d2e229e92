import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import { Written } from "./written";

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
  return (
    <>
      <Heading aside="nothing is sent">As it would read about somebody</Heading>
      <PersonChoice label="About whom" choose={setWorker} />
      {error && (
        <div className="mt-3">
          <Fault problem={error} />
        </div>
      )}
      {written && (
        <div className={`mt-3 ${good ? "" : "opacity-60"}`}>
          <p className="mb-2 font-bold">{written.subject}</p>
          <Written text={written.text} html={written.html} />
        </div>
      )}
    </>
  );
}
