import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { api, data } from "../api/client";
import { Fault, Waiting } from "../parts/states";
import { Editor } from "./editor";

/** One definition, to be written: a new one begins with an example of its kind. */
export function DefinitionPage() {
  const { kind = "", key = "" } = useParams();
  const fresh = key === "new";
  const asked = useQuery({
    queryKey: ["definition", kind, key],
    enabled: !fresh,
    // What somebody is writing is not written over by what somebody else has loaded.
    staleTime: Infinity,
    refetchOnWindowFocus: false,
    queryFn: () => data(api.GET("/api/v1/definitions/{kind}/{key}", { params: { path: { kind, key } } })),
  });
  if (asked.error) return <Fault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!fresh && !asked.data) return <Waiting what="the definition" />;
  return <Editor key={`${kind} ${key}`} kind={kind} before={asked.data?.text ?? examples[kind] ?? ""} />;
}

const examples: Record<string, string> = {
  letter: `letter: a-new-letter
name: A new letter
subject: About {{person.name}}
body: |
  Dear {{recipient.name}},

  this is about {{person.name}}.
`,
  playbook: `playbook: a-new-playbook
name: A new playbook
on: joiner
steps:
- letter: welcome
  at: on the day
`,
};
