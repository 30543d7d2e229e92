import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, data, Problem } from "../api/client";
import { useSession } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Empty, Fault } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { AskPreview } from "./ask-preview";
import { listAsks, useListedAsks, type Listed } from "./use-list";

/** Several things asked for in one go, for oneself or for several people. */
export function AskListPage() {
  const asks = useListedAsks();
  const { data: session } = useSession();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [people, setPeople] = useState<string[]>([]);
  const [choosing, setChoosing] = useState(false);
  const [once] = useState(() => crypto.randomUUID());
  const workers = people.length > 0 ? people : [undefined];
  const lines = workers.flatMap((worker) =>
    asks.map((ask) => ({ offer: ask.offer, worker, answers: ask.answers, reason: ask.reason })),
  );
  const preview = useMutation({
    mutationFn: () => data(api.POST("/api/v1/requests/preview", { body: { lines } })),
  });
  const send = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/requests", {
          params: { header: { "Idempotency-Key": once } },
          body: { lines },
        }),
      ),
    onSuccess: (made) => {
      listAsks([]);
      navigate(`/requests/${made.id}`);
    },
    onSettled: () => queries.invalidateQueries(),
  });
  const again = () => {
    preview.reset();
    send.reset();
  };
  const problem = send.error ?? preview.error;
  const wrong = (at: number) =>
    problem instanceof Problem
      ? problem.errors
          .filter((each) => Number(each.pointer.split("/")[2]) % asks.length === at)
          .map((each) => each.detail)
      : [];
  if (asks.length === 0) {
    return (
      <>
        <Title strong="Your list">is empty</Title>
        <Empty title="Nothing is on your list.">
          <Link to="/requests">Choose what you need</Link>, and add it to the list to ask for several things
          together.
        </Empty>
      </>
    );
  }
  return (
    <>
      <Title strong="Your list">
        {count(asks.length, "thing", "things")}, for{" "}
        {people.length === 0 ? "yourself" : count(people.length, "person", "people")}
      </Title>
      <div className="mt-5 grid gap-8 lg:grid-cols-[minmax(20rem,34rem)_1fr]">
        <div>
          <ul className="border-t border-rule">
            {asks.map((ask, at) => (
              <li key={ask.offer} className="border-b border-rule py-2">
                <div className="flex flex-wrap items-center gap-x-4">
                  <span className="grow font-bold">{ask.name}</span>
                  <Button
                    kind="quiet"
                    onClick={() => {
                      again();
                      listAsks(asks.filter((each) => each.offer !== ask.offer));
                    }}
                  >
                    Take it off
                  </Button>
                </div>
                <p className="text-dense text-muted">
                  {[...Object.values(ask.answers), ask.reason].filter(Boolean).join(" · ")}
                </p>
                {wrong(at).map((sentence) => (
                  <p key={sentence} className="text-dense text-danger">
                    {sentence}
                  </p>
                ))}
              </li>
            ))}
          </ul>
          <div className="mt-3 flex flex-wrap items-center gap-3">
            <span className="text-muted">
              {people.length === 0 ? "for yourself" : `for ${people.join(", ")}`}
            </span>
            {people.length > 0 && (
              <Button
                kind="quiet"
                onClick={() => {
                  again();
                  setPeople([]);
                }}
              >
                For myself
              </Button>
            )}
            {!choosing && <Button onClick={() => setChoosing(true)}>For somebody else, too</Button>}
          </div>
          {choosing && (
            <div className="mt-2">
              <PersonChoice
                label="For whom"
                choose={(worker) => {
                  again();
                  setChoosing(false);
                  setPeople([
                    ...new Set([
                      ...(people.length === 0 && session?.worker ? [session.worker] : people),
                      worker,
                    ]),
                  ]);
                }}
              />
            </div>
          )}
          {problem && (
            <div className="mt-3">
              <Fault problem={problem} />
            </div>
          )}
          <div className="mt-4 flex flex-wrap gap-3">
            <Button
              kind="primary"
              disabled={preview.isPending || send.isPending}
              onClick={() => (preview.data ? send.mutate() : preview.mutate())}
            >
              {preview.data ? `Ask for ${count(lines.length, "thing", "things")}` : "See who decides"}
            </Button>
            <Button onClick={() => navigate("/requests")}>Choose more</Button>
          </div>
          <SaveSet asks={asks} />
        </div>
        <div className="flex flex-col gap-6">
          {preview.data?.map((line, index) => (
            <div key={index}>
              <Heading aside={line.subject.name}>{line.name}</Heading>
              <AskPreview line={line} />
            </div>
          ))}
        </div>
      </div>
    </>
  );
}

/** Keeps the list under a name, for the next time. */
function SaveSet({ asks }: { asks: Listed[] }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const save = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/saved-asks", {
          body: { name, lines: asks.map(({ offer, answers, reason }) => ({ offer, answers, reason })) },
        }),
      ),
    onSuccess: () => setName(""),
    onSettled: () => queries.invalidateQueries({ queryKey: ["saved-asks"] }),
  });
  return (
    <div className="mt-6 border-t border-rule pt-3">
      {save.error && <Fault problem={save.error} />}
      <div className="flex flex-wrap items-end gap-3">
        <Field
          label="Do you ask for this often? Keep it under a name"
          placeholder="A new hand at the ticket desk"
          value={name}
          maxLength={100}
          onChange={(event) => setName(event.target.value)}
          className="min-w-56 grow"
        />
        <Button disabled={!name.trim() || save.isPending} onClick={() => save.mutate()}>
          Keep it
        </Button>
      </div>
      {save.isSuccess && (
        <p role="status" className="mt-1 text-dense text-success">
          Kept; it stands above what you can ask for.
        </p>
      )}
    </div>
  );
}
