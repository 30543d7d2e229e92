import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useNow, useSession, useZone } from "../api/session";
import { isOpen, useWork } from "../api/work";
import { WorkLine } from "../jobs/work-line";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { away, count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { RehearsalOf } from "./rehearsal";
import { Rounds } from "./rounds";

type Campaign = Schemas["CampaignListed"];

/** With what the key of a campaign begins that an offer asks for. */
const BY_OFFER = "offer.";

/** Campaigns as they are defined, what goes on, and what was. */
export function CampaignsPage() {
  const { data: session } = useSession();
  const campaigns = useQuery({
    queryKey: ["campaigns"],
    queryFn: async () =>
      (await data(api.GET("/api/v1/campaigns", { params: { query: { limit: 500 } } }))).items,
    refetchInterval: 10_000,
  });
  if (campaigns.error) return <PageFault problem={campaigns.error} />;
  if (!campaigns.data) return <Waiting what="campaigns" />;
  const open = campaigns.data.filter((each) => each.open);
  return (
    <>
      <Title
        strong="Campaigns"
        actions={
          may(session, "load-definitions") && (
            <ButtonLink to="/definitions/campaign/new">Write a campaign</ButtonLink>
          )
        }
      >
        {open.length === 0 ? "none goes on" : count(open.length, "goes on", "go on")}
      </Title>
      {campaigns.data.length === 0 ? (
        <Empty title="No campaign is defined.">
          A campaign says what is looked through, by whom and how often; it is a definition like any other.
        </Empty>
      ) : (
        <ul className="mt-5 border-t border-rule">
          {campaigns.data.map((campaign) => (
            <OneCampaign key={campaign.key} campaign={campaign} written={may(session, "see-definitions")} />
          ))}
        </ul>
      )}
      <Heading aside="the newest first">Rounds</Heading>
      <Rounds />
    </>
  );
}

/** Where it is written: a definition of its own, or the offer that asks for it. */
function definitionOf(campaign: Campaign): string {
  return campaign.key.startsWith(BY_OFFER)
    ? `/definitions/offer/${campaign.key.slice(BY_OFFER.length)}`
    : `/definitions/campaign/${campaign.key}`;
}

function OneCampaign({ campaign, written }: { campaign: Campaign; written: boolean }) {
  const zone = useZone();
  const now = useNow();
  const queries = useQueryClient();
  const [work, setWork] = useState<string>();
  const [what, setWhat] = useState<"rehearsals" | "rounds">("rehearsals");
  const followed = useWork(work);
  const begin = useMutation({
    mutationFn: (kind: "rehearsals" | "rounds") =>
      data(
        kind === "rounds"
          ? api.POST("/api/v1/campaigns/{key}/rounds", { params: { path: { key: campaign.key } } })
          : api.POST("/api/v1/campaigns/{key}/rehearsals", { params: { path: { key: campaign.key } } }),
      ),
    onMutate: (kind) => setWhat(kind),
    onSuccess: (accepted) => setWork(accepted.id),
    onSettled: () => queries.invalidateQueries({ queryKey: ["campaigns"] }),
  });
  const { open } = campaign;
  const goes = !!followed.data && isOpen(followed.data);
  const rehearsal =
    what === "rehearsals" && followed.data?.state === "done"
      ? (followed.data.result as Schemas["CampaignRehearsal"])
      : undefined;
  return (
    <li className="border-b border-rule py-3">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <div className="min-w-72 grow">
          <span className="font-bold">
            {written ? <Link to={definitionOf(campaign)}>{campaign.name}</Link> : campaign.name}
          </span>
          <p className="text-dense text-muted">
            {campaign.key.startsWith(BY_OFFER)
              ? "what the offer gave"
              : campaign.judged.map((each) => each.replace("-", " ")).join(", ")}
            , judged by {campaign.reviewers} within {campaign.days} days; undecided:{" "}
            {campaign.closing === "owner" ? "goes to owners" : campaign.closing}
          </p>
          <p className="text-dense text-muted">
            {[
              campaign.next && `next on ${day(campaign.next, zone)}, ${away(campaign.next, now)}`,
              campaign.onMove && "a round for everybody who moves",
              campaign.last && `last as of ${day(campaign.last.asOf, zone)}`,
            ]
              .filter(Boolean)
              .join(" · ") || "by hand"}
          </p>
        </div>
        {open && (
          <Link to={`/campaigns/rounds/${open.id}`} className="no-underline">
            <Badge state={open.state}>{`${open.state} · ${open.items.toLocaleString("en-GB")} items`}</Badge>
          </Link>
        )}
        {campaign.leads && (
          <>
            <Button disabled={begin.isPending || goes} onClick={() => begin.mutate("rehearsals")}>
              Rehearse
            </Button>
            {rehearsal && rehearsal.items > 0 && !open && (
              <Button kind="primary" disabled={begin.isPending} onClick={() => begin.mutate("rounds")}>
                Launch {rehearsal.items.toLocaleString("en-GB")} items
              </Button>
            )}
          </>
        )}
      </div>
      {begin.error && <Fault problem={begin.error} />}
      {followed.data && <WorkLine work={followed.data} />}
      {rehearsal && <RehearsalOf rehearsal={rehearsal} />}
    </li>
  );
}
