import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { Fault, Waiting } from "../parts/states";
import { Heading } from "../parts/title";
import { DriftDecision } from "./drift-decision";
import { differences, kinds } from "./kinds";

/** One difference: whose account it is, what should be there and what is, and the decision on it. */
export function DriftSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const drift = useQuery({
    queryKey: ["drift", "one", id],
    queryFn: () => data(api.GET("/api/v1/drift/{id}", { params: { path: { id } } })),
  });
  const shown = drift.data;
  const at = (moment: string) => `${day(moment, zone)} ${time(moment, zone)}`;
  return (
    <Sheet title={shown ? `${kinds[shown.kind]}: ${shown.account || shown.nativeId}` : "Drift"} close={close}>
      {drift.error && <Fault problem={drift.error} />}
      {!shown && !drift.error && <Waiting what="the difference" />}
      {shown && (
        <>
          <Pairs
            pairs={[
              [
                "what",
                <Badge key="k" state={shown.kind}>
                  {shown.sentence}
                </Badge>,
              ],
              [
                "application",
                <Link key="a" to={`/applications/${shown.application}`}>
                  {shown.application}
                </Link>,
              ],
              [
                "person",
                shown.worker ? (
                  <Link key="p" to={`/people/${shown.worker}?tab=accounts`}>
                    {shown.name}
                  </Link>
                ) : (
                  "nobody's"
                ),
              ],
              ["first seen", at(shown.firstSeenAt)],
              ["last seen", at(shown.lastSeenAt)],
              ["by itself", words[shown.response] ?? shown.response],
              ...settled(shown, at),
            ]}
          />
          <Side drift={shown} />
          {shown.state === "open" && <DriftDecision drift={shown} />}
        </>
      )}
    </Sheet>
  );
}

const words: Record<string, string> = {
  report: "nothing: it is shown here",
  repair: "it is repaired at the next reconcile",
  adopt: "it is adopted, where that can be told",
  ask: "it waits for who answers for the application",
};

function settled(drift: Schemas["DriftShown"], at: (moment: string) => string): [string, ReactNode][] {
  return [
    ...(drift.settledAt
      ? ([
          ["settled", `${drift.outcome.replace("-", " ")}, ${at(drift.settledAt)}`],
          ...(drift.settledBy ? [["by", drift.settledBy]] : []),
        ] as [string, string][])
      : []),
    ...(drift.reason ? ([["reason", drift.reason]] as [string, string][]) : []),
  ];
}

function Side({ drift }: { drift: Schemas["DriftShown"] }) {
  if (drift.kind === "stray-account") {
    return (
      <>
        <Heading>What is known of it</Heading>
        <Pairs pairs={Object.entries(drift.found)} />
      </>
    );
  }
  return (
    <>
      <Heading>Should be, and is</Heading>
      <table className="w-full text-left">
        <thead className="text-dense text-muted">
          <tr>
            <th scope="col" className="pr-4 font-normal">
              what
            </th>
            <th scope="col" className="pr-4 font-normal">
              should be
            </th>
            <th scope="col" className="font-normal">
              is
            </th>
          </tr>
        </thead>
        <tbody>
          {differences(drift).map((each) => (
            <tr key={each.name} className="border-t border-rule align-top">
              <th scope="row" className="py-1 pr-4 font-mono text-dense font-normal">
                {each.name}
              </th>
              <td className="py-1 pr-4 break-words">{each.expected || <Nothing />}</td>
              <td className="py-1 break-words text-warning">{each.found || <Nothing />}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Nothing() {
  return <span className="text-muted">nothing</span>;
}
