import type { Schemas } from "../api/client";
import { useZone } from "../api/session";
import { time } from "../parts/moments";
import { stateTone } from "../parts/badge";

type Application = Schemas["CutOffApplication"];

const COLUMNS = "grid gap-x-5 grid-cols-[minmax(8rem,19rem)_minmax(8rem,14rem)_minmax(12rem,1fr)]";
const STOPS = ["asked for", "sent", "confirmed"];
const REACHED: Record<string, number> = { waiting: 1, sent: 2, fault: 2, task: 2, confirmed: 3 };

/** Whether something is still to come by itself. */
export const onTheirWay = (applications: Application[]) =>
  applications.some(({ progress }) => progress === "waiting" || progress === "sent");

/** One line an application, from left to right: asked for, sent, confirmed. */
export function CutOffTracks({ applications }: { applications: Application[] }) {
  const zone = useZone();
  return (
    <ul className="border-t border-rule">
      <li aria-hidden className={`${COLUMNS} border-b border-rule py-1 text-dense text-muted max-md:hidden`}>
        <span>Application</span>
        <span>Account</span>
        <span className="flex justify-between">
          {STOPS.map((stop) => (
            <span key={stop}>{stop}</span>
          ))}
        </span>
      </li>
      {applications.map((each) => (
        <li
          key={each.application}
          className={`${COLUMNS} items-center gap-y-1 border-b border-rule py-2 max-md:grid-cols-1`}
        >
          <div>
            <div>{each.name}</div>
            <div className="truncate font-mono text-dense text-muted">{each.account}</div>
          </div>
          <div className="text-dense text-muted">
            account {each.state === "none" ? "not seen" : each.state},{" "}
            {each.rights === 1 ? "1 right" : `${each.rights} rights`}
            {each.what && <div className="text-ink">{each.what}</div>}
          </div>
          <Track application={each} at={each.since ? time(each.since, zone) : ""} />
        </li>
      ))}
    </ul>
  );
}

function Track({ application, at }: { application: Application; at: string }) {
  const { progress, reason } = application;
  if (progress === "nothing") return <span className="text-muted">nothing to do there</span>;
  const reached = REACHED[progress] ?? 0;
  const tone = { success: "bg-success", danger: "bg-danger", warning: "bg-warning" }[
    stateTone(progress) as "success" | "danger" | "warning"
  ];
  return (
    <div>
      <div className="flex items-center" aria-hidden>
        {STOPS.map((stop, index) => (
          <div key={stop} className="flex grow items-center last:grow-0">
            <span
              className={`size-2.5 rounded-full border ${index < reached ? `border-transparent ${tone ?? "bg-info"}` : "border-muted bg-ground"}`}
            />
            {index < STOPS.length - 1 && (
              <span className={`h-0.5 grow ${index + 1 < reached ? (tone ?? "bg-info") : "bg-rule"}`} />
            )}
          </div>
        ))}
      </div>
      <div className="mt-0.5 text-dense">
        {progress === "open" ? "not asked for" : progress} {at && <span className="text-muted">{at}</span>}
        {reason && <span className="text-muted"> — {reason}</span>}
      </div>
    </div>
  );
}
