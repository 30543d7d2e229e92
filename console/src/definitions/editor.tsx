import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession, type Permission } from "../api/session";
import { isOpen, useWork, type Work } from "../api/work";
import { Templates } from "../campaigns/templates-choice";
import { RuleDraft } from "../conflicts/rule-draft";
import { GroupPages } from "../frame/group-pages";
import { WorkLine } from "../jobs/work-line";
import { LetterDraft } from "../letters/letter-draft";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { OfferDraft } from "../requests/offer-draft";
import { PlaybookDraft } from "../playbooks/playbook-draft";
import { DefinitionText, lineOf } from "./definition-text";
import { Versions } from "./versions";

const WRITTEN = 400;

/** With what somebody may load the kinds that are not for administrators alone. */
const OWN: Record<string, Permission> = { package: "bundle", offer: "bundle", portfolio: "tend-portfolios" };

/** What a text says once nobody has written in it for a moment. */
function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), WRITTEN);
    return () => clearTimeout(timer);
  }, [text]);
  return settled;
}

/** The key in the first line of a definition: letter: welcome. */
export function keyIn(text: string, kind: string): string {
  const first = text.split("\n").find((line) => line.trim() !== "" && !line.startsWith("#")) ?? "";
  const [word, ...rest] = first.split(":");
  return word?.trim() === kind ? rest.join(":").trim() : "";
}

/** What people call it: the line name: Welcome aboard. */
export function nameIn(text: string): string {
  return /^name: *(.+)$/m.exec(text)?.[1]?.trim() ?? "";
}

/** Writes a definition: what is wrong stands at its line while it is written, and what it would do beside. */
export function Editor({ kind, before, saved }: { kind: string; before: string; saved: boolean }) {
  const { data: session } = useSession();
  const queries = useQueryClient();
  const [text, setText] = useState(before);
  const [work, setWork] = useState<string>();
  const [why, setWhy] = useState("");
  const field = useRef<HTMLTextAreaElement>(null);
  const settled = useSettled(text);
  const checked = useQuery({
    queryKey: ["definition-check", settled],
    queryFn: () => data(api.POST("/api/v1/definitions/check", { body: { text: settled } })),
    staleTime: 10_000,
  });
  const { data: followed } = useWork(work);
  const send = useMutation({
    mutationFn: (forecast: boolean) => {
      const body = { files: [{ name: `${kind}.yaml`, text }], replace: false, why };
      return forecast
        ? data<Work>(api.POST("/api/v1/definitions/forecast", { body }))
        : data<Work>(api.POST("/api/v1/definitions", { body }));
    },
    onSuccess: (begun) => setWork(begun.id),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ["definition-check"] });
      void queries.invalidateQueries({ queryKey: ["definition-versions"] });
    },
  });
  const mistakes = (checked.data?.mistakes ?? []).map((each) => ({
    line: lineOf(each.pointer),
    sentence: each.sentence,
  }));
  const changes = checked.data?.changes ?? [];
  const key = keyIn(settled, kind);
  const portfolio = kind === "portfolio" ? key : /^portfolio: *([a-z0-9-]+)$/m.exec(settled)?.[1];
  const good = checked.data !== undefined && mistakes.length === 0 && settled === text;
  const mayLoad = may(session, "load-definitions") || may(session, OWN[kind]);
  const needsWhy = changes.some((each) => each.kind === "package" && each.change !== "added");
  const busy = send.isPending || (followed !== undefined && isOpen(followed));
  return (
    <div className="flex min-h-0 grow flex-col">
      {(kind === "letter" || kind === "playbook") && <GroupPages group="flow" name="Around the flow" />}
      <Title strong={nameIn(settled) || key || `A new ${kind}`}>
        {mistakes.length > 0
          ? count(mistakes.length, "thing is wrong", "things are wrong")
          : changes.length === 0
            ? "as it is in force"
            : `${changes.map((each) => each.change).join(", ")}, not loaded yet`}
      </Title>
      <div className="mt-1 flex gap-5 text-dense text-muted">
        <span className="font-mono">{key ? `${kind}: ${key}` : kind}</span>
        {kind === "letter" && <Link to="/letters?tab=templates">All letters</Link>}
        {kind === "playbook" && <Link to="/playbooks">All playbooks</Link>}
        {kind === "campaign" && <Link to="/campaigns">All campaigns</Link>}
        {kind === "conflict-rule" && <Link to="/conflicts">All conflicts</Link>}
        {portfolio && <Link to={`/portfolios/${portfolio}`}>Its portfolio</Link>}
      </div>
      <div className="mt-4 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <div className="min-w-0">
          <DefinitionText text={text} change={setText} mistakes={mistakes} field={field} />
          <ul className="mt-2" aria-live="polite">
            {mistakes.map((each, index) => (
              <li key={index} className="border-b border-rule py-1.5 text-danger">
                {each.line > 0 && (
                  <button
                    type="button"
                    className="mr-2 font-mono text-dense underline"
                    onClick={() => goTo(field.current, text, each.line)}
                  >
                    line {each.line}
                  </button>
                )}
                {each.sentence}
              </li>
            ))}
          </ul>
          {checked.error && <Fault problem={checked.error} />}
          {send.error && <Fault problem={send.error} />}
          {mayLoad && changes.length > 0 && (
            <Field
              label={needsWhy ? "Why; it is kept, for those who have it" : "Why; it is kept (if you like)"}
              value={why}
              maxLength={1000}
              onChange={(event) => setWhy(event.target.value)}
              className="mt-3 max-w-xl"
            />
          )}
          <div className="mt-3 flex flex-wrap items-center gap-2">
            {mayLoad && (
              <Button
                kind="primary"
                disabled={!good || busy || changes.length === 0 || (needsWhy && !why.trim())}
                onClick={() => send.mutate(false)}
              >
                Load it
              </Button>
            )}
            <Button disabled={!good || busy} onClick={() => send.mutate(true)}>
              What would it do
            </Button>
            <Button disabled={text === before} onClick={() => setText(before)}>
              As it was
            </Button>
          </div>
          {followed && <WorkLine work={followed} />}
          {followed && !isOpen(followed) && followed.result && (
            <Came outcome={followed.result as Schemas["Outcome"]} loaded={followed.kind} />
          )}
        </div>
        <div className="min-w-0">
          {kind === "campaign" && !saved && <Templates take={setText} />}
          {kind === "letter" && key && <LetterDraft letter={key} text={settled} good={good} />}
          {kind === "conflict-rule" && key && <RuleDraft rule={key} text={settled} good={good} />}
          {kind === "offer" && key && <OfferDraft offer={key} text={settled} good={good} />}
          {kind === "playbook" && key && <PlaybookDraft playbook={key} text={settled} good={good} />}
          {key && before && <Versions kind={kind} definition={key} take={setText} />}
        </div>
      </div>
    </div>
  );
}

function Came({ outcome, loaded }: { outcome: Schemas["Outcome"]; loaded: string }) {
  const sum = outcome.forecast;
  return (
    <div role="status" className="mt-3 border-l-3 border-info px-4 py-2">
      <Heading>
        {outcome.held
          ? "A brake holds it"
          : loaded === "definitions-load"
            ? "It is in force"
            : "It would change"}
      </Heading>
      <p>
        {count(sum.people, "person changes", "people change")}, by{" "}
        {count(sum.operations, "operation", "operations")}; {count(sum.losing, "person loses", "people lose")}{" "}
        something.
      </p>
      {outcome.held && <Link to={`/held/${outcome.held}`}>See what it would do</Link>}
      {outcome.warnings.map((each) => (
        <p key={each} className="text-warning">
          {each}
        </p>
      ))}
    </div>
  );
}

/** Puts the caret at the beginning of a line. */
function goTo(field: HTMLTextAreaElement | null, text: string, line: number) {
  const at = text
    .split("\n")
    .slice(0, line - 1)
    .reduce((sum, each) => sum + each.length + 1, 0);
  field?.focus();
  field?.setSelectionRange(at, at);
}
