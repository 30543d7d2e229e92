import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { PageFault } from "../parts/page-fault";
import { Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";

/** Who acts for me while I am away: what is asked of me is asked of them. */
export function AwayPage() {
  const queries = useQueryClient();
  const [deputy, setDeputy] = useState("");
  const [from, setFrom] = useState("");
  const [until, setUntil] = useState("");
  const settled = () => queries.invalidateQueries();
  const periods = useQuery({
    queryKey: ["away"],
    queryFn: () => data(api.GET("/api/v1/away-periods", { params: { query: {} } })),
  });
  const add = useMutation({
    mutationFn: () => data(api.POST("/api/v1/away-periods", { body: { deputy, from, until } })),
    onSuccess: () => {
      setDeputy("");
      setFrom("");
      setUntil("");
    },
    onSettled: settled,
  });
  const end = useMutation({
    mutationFn: (id: string) => data(api.POST("/api/v1/away-periods/{id}/end", { params: { path: { id } } })),
    onSettled: settled,
  });
  if (periods.error) return <PageFault problem={periods.error} />;
  if (!periods.data) return <Waiting what="away periods" />;
  return (
    <>
      <Title strong="While you are away">
        {periods.data.items.length === 0
          ? "nobody acts for you"
          : "what is asked of you is asked of your deputy"}
      </Title>
      <ul className="mt-4 border-t border-rule">
        {periods.data.items.map((period) => (
          <li key={period.id} className="flex flex-wrap items-center gap-x-6 border-b border-rule py-2">
            <span>
              {day(period.from)} to {day(period.until)}
            </span>
            <span>
              {period.deputyName}{" "}
              <span className="font-mono text-dense text-muted">{period.deputyWorker}</span>
            </span>
            <Button className="ml-auto" disabled={end.isPending} onClick={() => end.mutate(period.id)}>
              I am back
            </Button>
          </li>
        ))}
      </ul>
      <Heading>Somebody acts for you</Heading>
      {add.error && <Fault problem={add.error} />}
      <div className="flex max-w-3xl flex-col gap-4">
        <div className="flex flex-wrap gap-4">
          <Field label="From" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
          <Field label="Until" type="date" value={until} onChange={(event) => setUntil(event.target.value)} />
          <Field
            label="Deputy, by worker number"
            value={deputy}
            onChange={(event) => setDeputy(event.target.value)}
          />
        </div>
        <PersonChoice label="Find a deputy" choose={setDeputy} />
        <div>
          <Button
            kind="primary"
            disabled={!deputy || !from || !until || add.isPending}
            onClick={() => add.mutate()}
          >
            Have them act for you
          </Button>
        </div>
      </div>
    </>
  );
}
