import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession, useZone } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day, time } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { CutOffTracks, onTheirWay } from "./cut-off-tracks";

type Shown = Schemas["CutOffPerson"];

const LOOK = 400;

/** Somebody who must go this minute: what would go, and then how far each application is. */
export function CutOffPage() {
  const { worker = "" } = useParams();
  const key = ["cut-off", worker];
  const asked = useQuery({
    queryKey: key,
    queryFn: () => data(api.GET("/api/v1/cut-offs/{worker}", { params: { path: { worker } } })),
    refetchInterval: ({ state }) => (state.data && onTheirWay(state.data.applications) ? LOOK : 10_000),
  });
  if (asked.error) return <PageFault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="what they have" />;
  const shown = asked.data;
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title strong={shown.name}>{sentence(shown)}</Title>
      <div className="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1 text-dense text-muted">
        <Badge state={shown.standing} />
        <Link to={`/people/${shown.worker}`} className="font-mono">
          {shown.worker}
        </Link>
        {shown.subtitle && <span>{shown.subtitle}</span>}
        {shown.cutOff && <span>their source says: {shown.sourceSays.replace("-", " ")}</span>}
      </div>
      <LastTime shown={shown} />
      <Decision shown={shown} queryKey={key} />
      <Heading aside={aside(shown)}>
        {shown.last && !shown.last.endedAt ? "Application by application" : "What they have"}
      </Heading>
      {shown.applications.length === 0 ? (
        <Empty title="They have no account anywhere." />
      ) : (
        <CutOffTracks applications={shown.applications} />
      )}
    </>
  );
}

function sentence(shown: Shown): string {
  if (shown.cutOff) return "cut off, whatever their source says";
  if (shown.standing === "left") return "has left";
  return shown.last?.ending === "brought-back" ? "was brought back" : "would be cut off this minute";
}

function aside(shown: Shown): string {
  const signIns = shown.signIns.join(", ");
  return signIns ? `signs in to Glenmoor as ${signIns}` : "cannot sign in to Glenmoor";
}

/** When, by whom and why, and how it ended. */
function LastTime({ shown }: { shown: Shown }) {
  const zone = useZone();
  const { last } = shown;
  if (!last) return null;
  const when = (at: string) => `${day(at, zone)} ${time(at, zone)}`;
  return (
    <p className="mt-3 max-w-prose">
      Cut off {when(last.at)} by {last.by}: “{last.reason}”.
      {last.ending === "brought-back" && last.endedAt && (
        <>
          {" "}
          Brought back {when(last.endedAt)} by {last.endedBy}: “{last.endReason}”.
        </>
      )}
      {last.ending === "agreed" && last.endedAt && (
        <> Their source has said so itself since {when(last.endedAt)}: what it says next decides.</>
      )}
    </p>
  );
}

/** The form: a reason, and the one thing that can be done now. */
function Decision({ shown, queryKey }: { shown: Shown; queryKey: string[] }) {
  const queries = useQueryClient();
  const { data: session } = useSession();
  const [reason, setReason] = useState("");
  const decide = useMutation({
    mutationFn: () => {
      const params = { path: { worker: shown.worker } };
      const body = { reason };
      return shown.cutOff
        ? data(api.POST("/api/v1/cut-offs/{worker}/bring-back", { params, body }))
        : data(api.POST("/api/v1/cut-offs/{worker}", { params, body }));
    },
    onSuccess: (after) => {
      setReason("");
      queries.setQueryData(queryKey, after);
    },
    onSettled: () => queries.invalidateQueries(),
  });
  if (!may(session, "cut-off")) return null;
  if (session?.worker === shown.worker) return null;
  if (!shown.cutOff && shown.standing === "left") return null;
  return (
    <div className="mt-5 border-y border-rule py-4">
      {decide.error && (
        <div className="mb-3">
          <Fault problem={decide.error} />
        </div>
      )}
      <div className="flex max-w-3xl flex-wrap items-end gap-3">
        <Field
          label="Why; it is kept"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          className="min-w-64 grow"
        />
        <Button
          kind={shown.cutOff ? "primary" : "danger"}
          disabled={decide.isPending || !reason.trim()}
          onClick={() => decide.mutate()}
        >
          {shown.cutOff ? "Bring back" : `Cut off ${shown.name} now`}
        </Button>
      </div>
      <p className="mt-2 max-w-prose text-dense text-muted">
        {shown.cutOff
          ? "They have again what their source and their grants give them; accounts that were held are opened, those deleted since are made anew. A sign-in to Glenmoor has to be made again."
          : "Every account is shut before all else that waits, and they lose Glenmoor itself. It stays so whatever their source says, until it says itself that they have left, or somebody brings them back."}
      </p>
    </div>
  );
}
