import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useNow, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { away, count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { Judged } from "./judged";
import { RoundActions } from "./round-actions";
import { Following } from "./following";
import { Weather } from "./weather";

/** One round, for those who lead it: who is how far, what is not confirmed, and what to do about it. */
export function RoundPage() {
  const { round: id = "" } = useParams();
  const zone = useZone();
  const now = useNow();
  const asked = useQuery({
    queryKey: ["rounds", id],
    queryFn: () => data(api.GET("/api/v1/rounds/{id}", { params: { path: { id } } })),
    refetchInterval: 10_000,
    retry: false,
  });
  if (asked.error) return <PageFault problem={asked.error} />;
  if (!asked.data) return <Waiting what="the round" />;
  const shown = asked.data;
  const { round, mix } = shown;
  const open = round.state === "open";
  return (
    <>
      <Title
        strong={round.about ? `${round.name}: ${round.about}` : round.name}
        actions={shown.leads && <RoundActions shown={shown} />}
      >
        {open
          ? `${(mix.items - mix.undecided).toLocaleString("en-GB")} of ${mix.items.toLocaleString("en-GB")} judged; over ${away(round.dueAt, now)}`
          : round.state === "closing"
            ? `${count(mix.following, "revocation is", "revocations are")} not confirmed yet`
            : round.endedAt
              ? `${round.state} on ${day(round.endedAt, zone)}`
              : round.state}
      </Title>
      <p className="mt-1 flex flex-wrap items-center gap-x-5 text-dense text-muted">
        <Badge state={round.state} />
        <span>as of {day(round.asOf, zone)}</span>
        <span>over on {day(round.dueAt, zone)}</span>
        <span>
          {count(round.items, "item", "items")} of {count(round.people, "person", "people")}
        </span>
        <span>
          undecided by then: {shown.closing === "owner" ? "goes to owners" : shown.closing}
          {shown.extended > 0 && ` · extended ${count(shown.extended, "time", "times")}`}
        </span>
        <span>launched by {shown.launchedBy}</span>
      </p>
      {round.endReason && <p className="mt-2 border-l-3 border-warning pl-3">{round.endReason}</p>}
      <div className="mt-3">
        <Judged mix={mix} />
      </div>
      <Compared shown={shown} />
      <Following shown={shown} />
      <Heading aside={shown.more > 0 ? `and ${shown.more} more` : undefined}>Who is how far</Heading>
      <Weather shown={shown} />
    </>
  );
}

function Compared({ shown }: { shown: Schemas["RoundShown"] }) {
  const { compared, before } = shown;
  if (!compared || !before) return null;
  return (
    <p className="mt-3 text-dense">
      Beside <Link to={`/campaigns/rounds/${before}`}>the round before</Link>: {compared.added} new,{" "}
      {compared.gone} gone, {compared.stayed} there in both; of {compared.revokedThen} revoked then,{" "}
      <span className={compared.back > 0 ? "text-danger" : ""}>{compared.back} are back</span>.
    </p>
  );
}
