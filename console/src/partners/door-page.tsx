import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, data, Problem, type Schemas } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { OpenPage } from "../frame/open-page";

/** Where somebody of a partner organisation asks for access, without signing in. */
export function DoorPage() {
  const { organisation: key = "" } = useParams();
  const asked = useQuery({
    queryKey: ["partner-door", key],
    retry: false,
    refetchOnWindowFocus: false,
    queryFn: () => data(api.GET("/api/v1/partner-doors/{key}", { params: { path: { key } } })),
  });
  return (
    <OpenPage>
      {asked.error ? (
        <>
          <Title strong="Nothing to ask for here" />
          <div className="mt-4">
            <Fault problem={asked.error} />
          </div>
        </>
      ) : asked.data ? (
        <AskForm organisation={key} welcome={asked.data} />
      ) : (
        <Waiting what="what is offered to you" />
      )}
    </OpenPage>
  );
}

function AskForm({ organisation, welcome }: { organisation: string; welcome: Schemas["PartnerWelcome"] }) {
  const [said, setSaid] = useState({ given: "", family: "", mail: "", reason: "" });
  const [offer, setOffer] = useState(welcome.offers.length === 1 ? welcome.offers[0]!.key : "");
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const [accepted, setAccepted] = useState(false);
  const chosen = welcome.offers.find((each) => each.key === offer);
  const ask = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/partner-doors/{key}/asks", {
          params: { path: { key: organisation } },
          body: {
            ...said,
            offer,
            answers: Object.fromEntries(
              (chosen?.questions ?? [])
                .map((question) => [question.key, answers[question.key] ?? ""])
                .filter(([, answer]) => answer),
            ),
            acceptedVersion: accepted ? welcome.termsVersion : 0,
          },
        }),
      ),
  });
  const wrong = (field: string) =>
    ask.error instanceof Problem
      ? ask.error.errors.find((each) => each.pointer === `/${field}`)?.detail
      : undefined;
  if (ask.isSuccess) {
    return (
      <>
        <Title strong="Look into your letters">one is on its way to {said.mail}</Title>
        <p role="status" className="mt-3">
          Follow the link in it within two days to confirm that the address is yours. Only then is anybody
          asked.
        </p>
      </>
    );
  }
  const field = (key: keyof typeof said, label: string, more: { type?: string; help?: string } = {}) => (
    <Field
      label={label}
      value={said[key]}
      wrong={wrong(key)}
      maxLength={key === "reason" ? 1000 : 200}
      onChange={(event) => setSaid({ ...said, [key]: event.target.value })}
      {...more}
    />
  );
  return (
    <>
      <Title strong={welcome.organisation}>ask for what you need with us</Title>
      <form
        className="mt-5 flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          ask.mutate();
        }}
      >
        <fieldset>
          <legend className="mb-1 text-dense text-muted">What do you need?</legend>
          {welcome.offers.map((each) => (
            <label key={each.key} className="flex flex-wrap gap-x-3 border-b border-rule py-2">
              <input
                type="radio"
                name="offer"
                className="mt-1 size-4 accent-accent"
                checked={offer === each.key}
                onChange={() => setOffer(each.key)}
              />
              <span className="font-bold">{each.name}</span>
              <span className="basis-full pl-7 text-dense text-muted">
                {each.purpose} · {each.term === "open" ? "open-ended" : each.term}
              </span>
            </label>
          ))}
          {wrong("offer") && <p className="mt-1 text-dense text-danger">{wrong("offer")}</p>}
        </fieldset>
        <div className="grid gap-4 sm:grid-cols-2">
          {field("given", "Your given name, or the one name you have")}
          {field("family", "Your family name")}
        </div>
        {field("mail", "Your address at work", {
          type: "email",
          help: `it ends with @${welcome.mailDomains.join(" or @")}`,
        })}
        {(chosen?.questions ?? []).map((question) =>
          question.kind === "choice" ? (
            <fieldset key={question.key}>
              <legend className="mb-1 text-dense text-muted">{question.text}</legend>
              <div className="flex flex-wrap gap-x-5">
                {question.choices.map((choice) => (
                  <label key={choice} className="flex items-center gap-2 py-1">
                    <input
                      type="radio"
                      name={question.key}
                      className="size-4 accent-accent"
                      checked={answers[question.key] === choice}
                      onChange={() => setAnswers({ ...answers, [question.key]: choice })}
                    />
                    {choice}
                  </label>
                ))}
              </div>
              {wrong(`answers/${question.key}`) && (
                <p className="mt-1 text-dense text-danger">{wrong(`answers/${question.key}`)}</p>
              )}
            </fieldset>
          ) : (
            <Field
              key={question.key}
              label={question.text}
              type={question.kind === "date" || question.kind === "number" ? question.kind : "text"}
              value={answers[question.key] ?? ""}
              wrong={wrong(`answers/${question.key}`)}
              onChange={(event) => setAnswers({ ...answers, [question.key]: event.target.value })}
            />
          ),
        )}
        {field("reason", "What is it needed for?")}
        {welcome.termsVersion > 0 && (
          <section aria-label={welcome.termsName} className="border-y border-rule py-3">
            <h2 className="font-bold">{welcome.termsName}</h2>
            <p className="mt-1 max-h-60 overflow-y-auto whitespace-pre-line" tabIndex={0}>
              {welcome.terms}
            </p>
            <label className="mt-3 flex items-center gap-3">
              <input
                type="checkbox"
                className="size-4 accent-accent"
                checked={accepted}
                onChange={(event) => setAccepted(event.target.checked)}
              />
              I have read this and accept it
            </label>
            {wrong("acceptedVersion") && (
              <p className="mt-1 text-dense text-danger">{wrong("acceptedVersion")}</p>
            )}
          </section>
        )}
        {ask.error && <Fault problem={ask.error} />}
        <div>
          <Button kind="primary" type="submit" disabled={ask.isPending}>
            Send it
          </Button>
        </div>
      </form>
    </>
  );
}
