import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { Audience } from "../parts/audience";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import { RehearsedSteps } from "./rehearsed-steps";

/** A playbook that is being written: for how many it is, and what it would do for one of them. */
export function PlaybookDraft({ playbook, text, good }: { playbook: string; text: string; good: boolean }) {
  const [worker, setWorker] = useState("");
  const { data: draft, error } = useQuery({
    queryKey: ["playbook-draft", playbook, text, worker],
    enabled: good,
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(
        api.POST("/api/v1/playbooks/{key}/draft", {
          params: { path: { key: playbook } },
          body: { text, worker: worker || undefined },
        }),
      ),
  });
  return (
    <>
      <Heading aside="as people are now">For whom it is</Heading>
      {draft && <Audience draft={draft} good={good} />}
      <Heading aside="nothing is done">What it would do for somebody</Heading>
      <PersonChoice label="For whom" choose={setWorker} />
      {error && (
        <div className="mt-3">
          <Fault problem={error} />
        </div>
      )}
      {draft?.rehearsal && (
        <div className={good ? "" : "opacity-60"}>
          <RehearsedSteps rehearsal={draft.rehearsal} />
        </div>
      )}
    </>
  );
}
