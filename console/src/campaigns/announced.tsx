import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { useZone } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import type { Item } from "./use-reviews";

/** What is to go from me, and I may say that I need. */
export function Announced() {
  const asked = useQuery({
    queryKey: ["announced"],
    queryFn: () => data(api.GET("/api/v1/announced")),
    refetchInterval: 30_000,
  });
  if (!asked.data || asked.data.length === 0) return null;
  return (
    <>
      <Heading aside="say so if you need it for your work">What is to go from you</Heading>
      <ul className="border-t border-rule">
        {asked.data.map((item) => (
          <OneAnnounced key={item.id} item={item} />
        ))}
      </ul>
    </>
  );
}

function OneAnnounced({ item }: { item: Item }) {
  const zone = useZone();
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const answer = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/items/{id}/answer", { params: { path: { id: item.id } }, body: { text } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["announced"] }),
  });
  return (
    <li className="flex flex-wrap items-end gap-x-6 gap-y-2 border-b border-rule py-3">
      <div className="min-w-64 grow">
        <span className="font-bold">{item.name}</span>
        <p className="text-dense text-muted">
          {item.applicationName && `${item.applicationName} · `}
          {item.answer
            ? `you said that you need it: ${item.answer}`
            : `goes on ${item.actsAt ? day(item.actsAt, zone) : "its day"}${item.reason ? `: ${item.reason}` : ""}`}
        </p>
      </div>
      {!item.answer && (
        <>
          <Field
            label="What you need it for"
            value={text}
            maxLength={1000}
            onChange={(event) => setText(event.target.value)}
            className="min-w-56"
          />
          <Button disabled={!text.trim() || answer.isPending} onClick={() => answer.mutate()}>
            I need this
          </Button>
        </>
      )}
      {answer.error && <Fault problem={answer.error} />}
    </li>
  );
}
