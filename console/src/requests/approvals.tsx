import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useNow } from "../api/session";
import { away } from "../parts/moments";
import { Heading } from "../parts/title";
import { LineDecision } from "./line-decision";
import { useWaitingLines } from "./use-requests";

/** What waits for whoever is signed in, each to be decided in place; nothing where there is none. */
export function Approvals({ heading }: { heading?: string }) {
  const { data: waiting } = useWaitingLines();
  if (!waiting || waiting.items.length === 0) return null;
  return (
    <>
      {heading && <Heading aside="who asks gets a letter either way">{heading}</Heading>}
      <ul className="border-t border-rule">
        {waiting.items.map((line) => (
          <Approval key={line.line} line={line} />
        ))}
      </ul>
    </>
  );
}

function Approval({ line }: { line: Schemas["RequestLineListed"] }) {
  const now = useNow();
  return (
    <li className="grid gap-x-8 gap-y-2 border-b border-rule py-3 lg:grid-cols-[1fr_minmax(22rem,32rem)]">
      <div className="min-w-0">
        <p>
          <span className="font-bold">{line.name}</span> for {line.person}
          {line.kind === "extend" && <span className="text-muted"> — for longer</span>}
        </p>
        {line.reason && <p className="break-words">“{line.reason}”</p>}
        <p className="text-dense text-muted">
          {line.gives.join(" · ")}
          {line.answers.map((each) => ` · ${each.question} ${each.answer}`)}
        </p>
        <p className="text-dense text-muted">
          {line.askedBy} asked {away(line.askedAt, now)}
          {(line.risk === "high" || line.risk === "critical") && (
            <span className="text-warning"> · {line.risk} risk</span>
          )}
          {" · "}
          <Link to={`/requests/${line.request}`}>the whole story</Link>
        </p>
      </div>
      <LineDecision line={line.line} what={`${line.name} for ${line.person}`} />
    </li>
  );
}
