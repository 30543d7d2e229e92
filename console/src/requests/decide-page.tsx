import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { OpenPage } from "../frame/open-page";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { givesOf } from "./words";

/** Where a letter leads: one decision, without signing in. The key stands behind the #, so no server logs it. */
export function DecidePage() {
  const [key] = useState(() => window.location.hash.slice(1));
  const asked = useQuery({
    queryKey: ["decision-key", key],
    retry: false,
    refetchOnWindowFocus: false,
    queryFn: () => data(api.POST("/api/v1/decision-keys/look", { body: { key } })),
  });
  return (
    <OpenPage>
      {asked.error ? (
        <>
          <Title strong="Nothing to decide here" />
          <div className="mt-4">
            <Fault problem={asked.error} />
          </div>
          <p className="mt-4">
            <Link to="/">Sign in</Link>
          </p>
        </>
      ) : asked.data ? (
        <Ask ask={asked.data} letterKey={key} />
      ) : (
        <Waiting what="what you are asked" />
      )}
    </OpenPage>
  );
}

function Ask({ ask, letterKey }: { ask: Schemas["KeyedAsk"]; letterKey: string }) {
  const [reason, setReason] = useState("");
  const decide = useMutation({
    mutationFn: (decision: string) =>
      data(api.POST("/api/v1/decision-keys", { body: { key: letterKey, decision, reason } })),
  });
  if (decide.data) {
    return (
      <>
        <Title strong="Thank you">your word is kept</Title>
        <p role="status" className="mt-3">
          {ask.name} for {ask.person} is{" "}
          {decide.data.state === "open" ? "asked of the next who decide" : decide.data.state} now.
        </p>
        <p className="mt-4">
          <Link to="/">Sign in to see more</Link>
        </p>
      </>
    );
  }
  return (
    <>
      <Title strong={ask.name}>for {ask.person}</Title>
      <p className="mt-1 text-muted">
        {ask.purpose}
        {ask.personDetail && ` · ${ask.personDetail}`}
      </p>
      {ask.reason && <p className="mt-3">“{ask.reason}”</p>}
      {ask.answers.map((each) => (
        <p key={each.key} className="text-dense text-muted">
          {each.question} <span className="text-ink">{each.answer}</span>
        </p>
      ))}
      <p className="mt-3">{givesOf(ask.gives)}</p>
      {ask.conflicts.map((each) => (
        <p key={each.rule} className="mt-3 border-l-3 border-danger bg-danger-wash px-4 py-2">
          <span className="font-bold">{each.name}</span> — {each.risk}
        </p>
      ))}
      {decide.error && (
        <div className="mt-4">
          <Fault problem={decide.error} />
        </div>
      )}
      {ask.needsSignIn ? (
        <p className="mt-5">
          To allow this you say on what terms: <Link to="/">sign in</Link>.
        </p>
      ) : (
        <div className="mt-5 flex flex-wrap items-end gap-3">
          <Field
            label={`Why, ${ask.approver.split(" ")[0]}; a no needs it`}
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-56 grow"
          />
          <Button kind="primary" disabled={decide.isPending} onClick={() => decide.mutate("approve")}>
            Approve
          </Button>
          <Button
            kind="danger"
            disabled={decide.isPending || !reason.trim()}
            onClick={() => decide.mutate("decline")}
          >
            Decline
          </Button>
        </div>
      )}
    </>
  );
}
