import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { day, time } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Play } from "./play";

/** What each step would do for somebody, as things are now; nothing is done. */
export function Rehearsal({ playbook }: { playbook: Schemas["PlaybookShown"] }) {
  const zone = useZone();
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
          <p className="mt-4">
            <strong>{rehearsal.name}</strong>{" "}
            <span className="font-mono text-dense text-muted">{rehearsal.worker}</span>
            {!rehearsal.isFor && <span className="text-warning"> — the playbook is not for them</span>}
          </p>
          <ol className="mt-2 border-t border-rule">
            {rehearsal.steps.map((step) => (
              <li
                key={step.number}
                className="grid gap-x-6 gap-y-1 border-b border-rule py-2 md:grid-cols-[2rem_11rem_1fr]"
              >
                <span className="text-dense leading-6 text-muted">{step.number}</span>
                <span className="text-dense leading-6 text-muted">
                  {step.due ? `${day(step.due, zone)} ${time(step.due, zone).slice(0, 5)}` : "then"}
                </span>
                <span>
                  {!step.good && (
                    <>
                      <Badge state="failed">cannot</Badge>{" "}
                    </>
                  )}
                  {step.sentence}
                </span>
              </li>
            ))}
          </ol>
          {playbook.on === "demand" && rehearsal.isFor && (
            <Play playbook={playbook.key} worker={rehearsal.worker} />
          )}
        </>
      )}
    </>
  );
}
