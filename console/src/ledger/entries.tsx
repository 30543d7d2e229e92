import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useZone } from "../api/session";
import { day, time } from "../parts/moments";

/** Entries of the ledger, each as a sentence with what it says in full behind it. */
export function Entries({ entries, subject }: { entries: Schemas["Entry"][]; subject?: boolean }) {
  const zone = useZone();
  return (
    <ol>
      {entries.map((entry) => (
        <li key={entry.id} className="border-b border-rule">
          <details>
            <summary className="grid cursor-pointer grid-cols-[11rem_12rem_1fr] gap-3 py-1.5 marker:content-none">
              <span className="text-dense leading-6 text-muted">
                {day(entry.at, zone)} {time(entry.at, zone)}
              </span>
              <span className="truncate">{entry.what.replaceAll("-", " ")}</span>
              <span className="truncate text-dense leading-6">
                {subject && <Subject entry={entry} />}
                <span className="text-muted">by {entry.actor}</span>
                {entry.cause && <span className="ml-3 font-mono text-muted">{entry.cause}</span>}
                <span className="ml-3">{gist(entry)}</span>
              </span>
            </summary>
            {subject && entry.name && (
              <p className="mb-2">
                <Link to={`/people/${workerOf(entry)}`}>To {entry.name}’s page</Link>
              </p>
            )}
            <pre className="mb-2 overflow-x-auto bg-muted-wash p-3 font-mono text-dense">
              {JSON.stringify(entry.entry, null, 2)}
            </pre>
          </details>
        </li>
      ))}
    </ol>
  );
}

/** The worker number of somebody an entry is about. */
const workerOf = (entry: Schemas["Entry"]) => entry.subject.replace(/^person:/, "");

/** What it is about: somebody by their name, anything else by its code. */
function Subject({ entry }: { entry: Schemas["Entry"] }) {
  return entry.name ? (
    <span className="mr-3">
      <span className="font-bold">{entry.name}</span>{" "}
      <span className="font-mono text-muted">{workerOf(entry)}</span>
    </span>
  ) : (
    <span className="mr-3 font-mono">{entry.subject}</span>
  );
}

/** The few words that tell one entry from the next. */
function gist(entry: Schemas["Entry"]): string {
  const { after = {} } = entry.entry as { after?: Record<string, unknown> };
  const command = (after.command ?? {}) as { entitlement?: string };
  return [after.kind, command.entitlement, after.target, after.account, after.reason]
    .filter((each) => typeof each === "string" && each !== "")
    .join(" ");
}
