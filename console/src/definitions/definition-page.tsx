import { useQuery } from "@tanstack/react-query";
import { useParams, useSearchParams } from "react-router";
import { api, data } from "../api/client";
import { templates } from "../campaigns/templates";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Editor } from "./editor";

/** One definition, to be written: a new one begins with an example of its kind. */
export function DefinitionPage() {
  const { kind = "", key = "" } = useParams();
  const [query] = useSearchParams();
  const fresh = key === "new";
  const asked = useQuery({
    queryKey: ["definition", kind, key],
    enabled: !fresh,
    // What somebody is writing is not written over by what somebody else has loaded.
    staleTime: Infinity,
    refetchOnWindowFocus: false,
    queryFn: () => data(api.GET("/api/v1/definitions/{kind}/{key}", { params: { path: { kind, key } } })),
  });
  if (asked.error) return <PageFault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!fresh && !asked.data) return <Waiting what="the definition" />;
  return (
    <Editor
      key={`${kind} ${key}`}
      kind={kind}
      saved={!fresh}
      before={asked.data?.text ?? exampleOf(kind, query.get("portfolio"))}
    />
  );
}

function exampleOf(kind: string, portfolio: string | null): string {
  const example = examples[kind] ?? `${kind}: a-new-one\n`;
  return portfolio ? example.replace("portfolio: deck", `portfolio: ${portfolio}`) : example;
}

const examples: Record<string, string> = {
  letter: `letter: a-new-letter
name: A new letter
subject: About {{person.name}}
body: |
  Dear {{recipient.name}},

  this is about {{person.name}}.
`,
  package: `package: a-new-package
name: A new package
purpose: What it is for, in the words of who asks for it
portfolio: deck
tags: []
entitlements: []
`,
  offer: `offer: a-new-offer
package: a-new-package
portfolio: deck
for: person.kind == "employee"
asked-by: [person, manager]
route: line-manager
term: up to 90 days
reason: needed
`,
  "partner-organisation": `partner-organisation: a-new-one
name: A new organisation
mail-domains: [new.example]
until: 2027-12-31
sponsor: W-01124
source: surveyors
letter: partner-confirm
offers: []
facts: {kind: partner}
`,
  route: `route: a-new-route
name: A new route
stages:
- ask: line-manager
  otherwise: managers-manager
  nudge: 3 days
  lapse: 7 days
`,
  campaign: templates[0]?.text ?? "",
  "conflict-rule": `conflict-rule: a-new-rule
name: Do both
risk: What somebody could do who holds both, in plain words
sides:
- application/one-right
- application/another
exempt: 30 days
controls:
- Somebody else looks through what they do, each week
`,
  playbook: `playbook: a-new-playbook
name: A new playbook
on: joiner
steps:
- letter: welcome
  at: on the day
`,
};
