import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Play } from "./play";
import { RehearsedSteps } from "./rehearsed-steps";

/** What each step would do for somebody, as things are now; nothing is done. */
export function Rehearsal({ playbook }: { playbook: Schemas["PlaybookShown"] }) {
  const [worker, setWorker] = useState("");
  const { data: rehearsal, error } = useQuery({
    queryKey: ["rehearsal", playbook.key, worker],
    enabled: worker !== "",
    queryFn: () =>
      data(
        api.GET("/api/v1/playbooks/{key}/rehearsal", {
          params: { path: { key: playbook.key }, query: { worker } },
        }),
      ),
  });
  return (
    <>
      <p className="mb-2 text-muted">
        Choose somebody: what each step would do for them stands here, and nothing is done.
      </p>
      <PersonChoice label="For whom" choose={setWorker} />
      {error && (
        <div className="mt-3">
          <Fault problem={error} />
        </div>
      )}
      {rehearsal && (
        <>
          <RehearsedSteps rehearsal={rehearsal} />
          {playbook.on === "demand" && rehearsal.isFor && (
            <Play playbook={playbook.key} worker={rehearsal.worker} />
          )}
        </>
      )}
    </>
  );
}
