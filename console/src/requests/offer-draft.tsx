import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { may, useSession } from "../api/session";
import { Audience } from "../parts/audience";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import { PreviewStages } from "./preview-stages";

/** An offer that is being written: for how many it is, and who would be asked for one of them. */
export function OfferDraft({ offer, text, good }: { offer: string; text: string; good: boolean }) {
  const { data: session } = useSession();
  const [worker, setWorker] = useState("");
  const { data: draft, error } = useQuery({
    queryKey: ["offer-draft", offer, text, worker],
    enabled: good,
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(
        api.POST("/api/v1/offers/{key}/draft", {
          params: { path: { key: offer } },
          body: { text, worker: worker || undefined },
        }),
      ),
  });
  return (
    <>
      <Heading aside="as people are now">For whom it is</Heading>
      {draft && <Audience draft={draft} good={good} />}
      {may(session, "see-everybody") && (
        <>
          <Heading aside="nothing is asked">Who would decide</Heading>
          <PersonChoice label="For whom" choose={setWorker} />
        </>
      )}
      {error && (
        <div className="mt-3">
          <Fault problem={error} />
        </div>
      )}
      {draft?.rehearsal && (
        <div className={good ? "mt-3" : "mt-3 opacity-60"}>
          <p className="mb-1 font-bold">{draft.rehearsal.subject.name}</p>
          <PreviewStages stages={draft.rehearsal.stages} />
        </div>
      )}
    </>
  );
}
