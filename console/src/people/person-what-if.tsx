import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day } from "../parts/moments";
import { Empty, Fault } from "../parts/states";
import { Heading } from "../parts/title";
import type { Fact } from "./use-facts";

type Answer = Schemas["WhatIfShown"];
type Right = Schemas["RightShown"];

const FATES: [string, string][] = [
  ["lost", "would be lost"],
  ["gained", "would be gained"],
  ["at-risk", "kept for a while"],
  ["kept", "kept"],
];

/** What would become of somebody if facts of theirs were others today: nothing is done. */
export function PersonWhatIf({
  worker,
  facts,
  now,
}: {
  worker: string;
  facts: Fact[];
  now: Record<string, string>;
}) {
  const [said, setSaid] = useState<Record<string, string>>({});
  const ask = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/people/{worker}/what-if", { params: { path: { worker } }, body: { facts: said } }),
      ),
  });
  const say = (key: string, value: string) => {
    const after = { ...said, [key]: value };
    if (value === (now[key] ?? "")) delete after[key];
    setSaid(after);
  };
  return (
    <>
      <form
        className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(12rem,1fr))] items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          ask.mutate();
        }}
      >
        {facts.map((fact) => (
          <Field
            key={fact.key}
            label={fact.key in said ? `${fact.name} (changed)` : fact.name}
            type={fact.type === "date" ? "date" : "text"}
            value={said[fact.key] ?? now[fact.key] ?? ""}
            onChange={(event) => say(fact.key, event.target.value)}
          />
        ))}
        <div className="flex gap-2">
          <Button type="submit" kind="primary" disabled={ask.isPending || Object.keys(said).length === 0}>
            What would become of them?
          </Button>
        </div>
      </form>
      {ask.error && (
        <div className="mt-4">
          <Fault problem={ask.error} />
        </div>
      )}
      {ask.data ? (
        <Fates answer={ask.data} />
      ) : (
        <p className="mt-4 text-muted">
          Change what would be otherwise, and ask. Nothing is kept and nothing is done.
        </p>
      )}
    </>
  );
}

function Fates({ answer }: { answer: Answer }) {
  const of = (fate: string) => answer.rights.filter((right) => right.fate === fate);
  return (
    <section aria-live="polite">
      <Heading
        aside={answer.event ? `it would be a ${answer.event.replace("-", " ")}` : "nothing would differ"}
      >
        {answer.name} would be {answer.standing.replace("-", " ")}
      </Heading>
      {answer.troubles.map((trouble) => (
        <p key={trouble} className="text-warning">
          {trouble}
        </p>
      ))}
      {answer.rights.length === 0 && <Empty title="They have no right, and would have none." />}
      <div className="grid gap-x-8 md:grid-cols-2">
        {FATES.map(([fate, words]) => (
          <Rights key={fate} fate={fate} words={words} rights={of(fate)} />
        ))}
      </div>
      {answer.accounts.length > 0 && (
        <>
          <Heading>In their accounts</Heading>
          <ul>
            {answer.accounts.map((each) => (
              <li key={each.application}>
                {each.name} <span className="font-mono text-dense text-muted">{each.account}</span>:{" "}
                {each.what}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function Rights({ fate, words, rights }: { fate: string; words: string; rights: Right[] }) {
  const zone = useZone();
  if (rights.length === 0) return null;
  return (
    <div>
      <Heading aside={String(rights.length)}>
        <Badge state={fate}>{words}</Badge>
      </Heading>
      <ul className="border-t border-rule">
        {rights.map((right) => (
          <li
            key={right.entitlement}
            className="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1"
          >
            <span>{right.name}</span>
            {right.until && <span className="text-dense text-muted">until {day(right.until, zone)}</span>}
            <span className="ml-auto font-mono text-dense text-muted">{right.entitlement}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
