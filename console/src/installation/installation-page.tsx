import { useZone, useSession, may } from "../api/session";
import { count, day, time } from "../parts/moments";
import { Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { ReleaseForm } from "./release-form";
import { useInstallation } from "../api/installation";

/** Whether this installation acts, why not, and what would be sent if it were released. */
export function InstallationPage() {
  const zone = useZone();
  const { data: session } = useSession();
  const { data: shown, error, refetch } = useInstallation();
  if (error) return <Fault problem={error} retry={() => void refetch()} />;
  if (!shown) return <Waiting what="the installation" />;
  const releases = may(session, "release-installation");
  return (
    <>
      <Title strong="Installation">{shown.quiet ? "quiet, nothing is sent" : "active"}</Title>
      <p className="mt-3 max-w-prose">
        {shown.quiet ? shown.reason : "Operations, mail and messages are sent."}
      </p>
      <p className="mt-1 max-w-prose text-dense text-muted">
        The database belongs to the installation “{shown.identity}”; this service was started as “{shown.here}
        ”.
      </p>
      {releases && (
        <>
          <Heading aside={shown.quiet ? "sent once it is released" : "sent as applications answer"}>
            What waits
          </Heading>
          {shown.operations.length + shown.messages.length === 0 && (
            <p className="text-muted">No operation and no message waits.</p>
          )}
          <ul className="max-w-prose border-t border-rule">
            {shown.operations.map((each) => (
              <li
                key={each.application + each.kind}
                className="flex justify-between gap-4 border-b border-rule py-1"
              >
                <span>
                  {count(each.operations, "operation", "operations")} · {each.kind} · {each.application}
                </span>
                <span className="text-dense text-muted">
                  since {day(each.since, zone)}, {time(each.since, zone)}
                </span>
              </li>
            ))}
            {shown.messages.map((each) => (
              <li key={each.kind} className="flex justify-between gap-4 border-b border-rule py-1">
                <span>
                  {count(each.messages, "message", "messages")} · {each.kind}
                </span>
                <span className="text-dense text-muted">
                  since {day(each.since, zone)}, {time(each.since, zone)}
                </span>
              </li>
            ))}
          </ul>
          <ReleaseForm quiet={shown.quiet} />
        </>
      )}
    </>
  );
}
