import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, data, Problem } from "../api/client";
import { useSession } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { PageFault } from "../parts/page-fault";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { AskPreview } from "./ask-preview";
import { QuestionField } from "./question-field";
import { addAsk } from "./use-list";
import { useAskedQuestions } from "./use-requests";
import { givesOf } from "./words";

/** Asks for one offer: what it gives, what it asks, who decides, before anything is sent. */
export function AskPage() {
  const { offer: key = "" } = useParams();
  const [query] = useSearchParams();
  const worker = query.get("for") ?? "";
  const found = useQuery({
    queryKey: ["offers", worker, ""],
    queryFn: () => data(api.GET("/api/v1/offers", { params: { query: { worker, text: "" } } })),
  });
  if (found.error) return <PageFault problem={found.error} />;
  if (!found.data) return <Waiting what="the offer" />;
  const offer = found.data.find((each) => each.key === key);
  if (!offer) {
    return (
      <>
        <Title strong="Ask for something" />
        <Empty title={`“${key}” is nothing that you could ask for${worker ? ` for ${worker}` : ""}.`}>
          <Link to="/requests">See what there is to ask for</Link>
        </Empty>
      </>
    );
  }
  const grant = query.get("change");
  return grant ? (
    <ChangeForm key={grant} offer={offer} worker={worker} grant={grant} />
  ) : (
    <AskForm key={key + worker} offer={offer} worker={worker} />
  );
}

/** Asks for other answers to what somebody has, beginning with those it has. */
function ChangeForm({ offer, worker, grant }: { offer: Offered; worker: string; grant: string }) {
  const { data: session } = useSession();
  const whose = worker || (session?.worker ?? "");
  const held = useQuery({
    queryKey: ["grants", whose],
    enabled: whose !== "",
    queryFn: () => data(api.GET("/api/v1/grants", { params: { query: { worker: whose, limit: 200 } } })),
  });
  if (held.error) return <Fault problem={held.error} />;
  if (!held.data) return <Waiting what="what is held" />;
  const found = held.data.items.find((each) => String(each.id) === grant);
  return <AskForm offer={offer} worker={worker} grant={grant} before={found?.answers ?? {}} />;
}

type Offered = Awaited<ReturnType<typeof offers>>[number];
const offers = () => data(api.GET("/api/v1/offers", { params: { query: {} } }));

function AskForm({
  offer,
  worker,
  grant,
  before = {},
}: {
  offer: Offered;
  worker: string;
  grant?: string;
  before?: Record<string, string>;
}) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [answers, setAnswers] = useState<Record<string, string>>(before);
  const [reason, setReason] = useState("");
  const [startDay, setStartDay] = useState("");
  const [lastDay, setLastDay] = useState("");
  const [once] = useState(() => crypto.randomUUID());
  const asked = useAskedQuestions(offer, worker, answers);
  const line = {
    offer: offer.key,
    worker: worker || undefined,
    ...(grant ? { kind: "change", grant } : {}),
    startDay: startDay || undefined,
    lastDay: lastDay || undefined,
    reason,
    answers: Object.fromEntries(
      asked.map((question) => [question.key, answers[question.key] ?? ""]).filter(([, said]) => said),
    ),
  };
  const preview = useMutation({
    mutationFn: () => data(api.POST("/api/v1/requests/preview", { body: { lines: [line] } })),
  });
  const send = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/requests", {
          params: { header: { "Idempotency-Key": once } },
          body: { lines: [line] },
        }),
      ),
    onSuccess: (made) => navigate(`/requests/${made.id}`),
    onSettled: () => queries.invalidateQueries(),
  });
  const problem = send.error ?? preview.error;
  const wrong = (field: string) =>
    problem instanceof Problem
      ? problem.errors.find((each) => each.pointer === `/lines/0/${field}`)?.detail
      : undefined;
  const changed =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      preview.reset();
      send.reset();
    };
  return (
    <>
      <Title strong={offer.name}>{offer.purpose}</Title>
      <p className="mt-1 text-dense text-muted">
        {grant && "to change what is held · "}
        {worker ? `for ${worker}` : "for yourself"} · {givesOf(offer.gives)}
      </p>
      <div className="mt-5 grid gap-8 lg:grid-cols-[minmax(20rem,30rem)_1fr]">
        <form
          className="flex flex-col gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            if (preview.data) send.mutate();
            else preview.mutate();
          }}
        >
          {asked.map((question) => (
            <QuestionField
              key={question.key}
              question={question}
              value={answers[question.key] ?? ""}
              wrong={wrong(`answers/${question.key}`)}
              onChange={changed((value: string) => setAnswers({ ...answers, [question.key]: value }))}
            />
          ))}
          <Field
            label={offer.reasonNeeded ? "What is it needed for?" : "What is it needed for? (if you like)"}
            value={reason}
            wrong={wrong("reason")}
            maxLength={1000}
            onChange={(event) => changed(setReason)(event.target.value)}
          />
          {!grant && (
            <div className="grid gap-4 sm:grid-cols-2">
              <Field
                label="From; empty for at once"
                type="date"
                value={startDay}
                wrong={wrong("startDay")}
                onChange={(event) => changed(setStartDay)(event.target.value)}
              />
              {offer.lastDayChosen && (
                <Field
                  label={`Until; empty for ${offer.term === "open" ? "open-ended" : offer.term.replace("up to ", "")}`}
                  type="date"
                  value={lastDay}
                  wrong={wrong("lastDay")}
                  onChange={(event) => changed(setLastDay)(event.target.value)}
                />
              )}
            </div>
          )}
          {problem && <Fault problem={problem} />}
          <div className="flex gap-3">
            <Button kind="primary" type="submit" disabled={preview.isPending || send.isPending}>
              {preview.data ? "Ask for it" : "See who decides"}
            </Button>
            {!grant && !worker && (
              <Button
                onClick={() => {
                  addAsk({ offer: offer.key, name: offer.name, answers: line.answers, reason });
                  navigate("/requests");
                }}
              >
                Add it to my list
              </Button>
            )}
            <Button onClick={() => navigate("/requests")}>Leave it</Button>
          </div>
        </form>
        {preview.data?.[0] && <AskPreview line={preview.data[0]} />}
      </div>
    </>
  );
}
