import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";

type Person = Schemas["Listed"];

/** Chooses somebody by a part of their name or the beginning of their worker number. */
export function PersonChoice({ label, choose }: { label: string; choose: (worker: string) => void }) {
  const [text, setText] = useState("");
  const asked = text.trim().length > 1;
  const { data: found } = useQuery({
    queryKey: ["person-choice", text],
    enabled: asked,
    placeholderData: keepPreviousData,
    queryFn: () => data(api.GET("/api/v1/people", { params: { query: { text, limit: 8 } } })),
  });
  return (
    <Command shouldFilter={false} label={label} className="max-w-xl">
      <Command.Input
        value={text}
        onValueChange={setText}
        aria-label={label}
        placeholder="A name, or a worker number"
        className="h-8 w-full rounded-sm border border-rule bg-raised px-2 text-body placeholder:text-muted"
      />
      {/* What the input says it controls has to be there, seen or not. */}
      <Command.List label="Found" className={asked ? "mt-1 border-y border-rule" : "hidden"}>
        {asked && <Command.Empty className="px-2 py-2 text-muted">Nobody by that name.</Command.Empty>}
        {(asked ? (found?.items ?? []) : []).map((person: Person) => (
          <Command.Item
            key={person.worker}
            value={person.worker}
            onSelect={() => {
              setText("");
              choose(person.worker);
            }}
            className="flex cursor-pointer items-baseline gap-3 px-2 py-1.5 data-[selected=true]:bg-muted-wash"
          >
            <span>{person.name}</span>
            <span className="text-dense text-muted">{person.standing.replace("-", " ")}</span>
            <span className="ml-auto font-mono text-dense text-muted">{person.worker}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}
