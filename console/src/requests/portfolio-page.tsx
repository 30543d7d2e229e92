import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { Badge } from "../parts/badge";
import { ButtonLink } from "../parts/button";
import { useZone } from "../api/session";
import { count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { givesOf } from "./words";

type Shown = Schemas["PortfolioShown"];

/** One portfolio: who looks after it, what is in it, and the packages and offers made of that. */
export function PortfolioPage() {
  const { portfolio: key = "" } = useParams();
  const { data: shown, error } = useQuery({
    queryKey: ["portfolio", key],
    queryFn: () => data(api.GET("/api/v1/portfolios/{key}", { params: { path: { key } } })),
  });
  if (error) return <PageFault problem={error} />;
  if (!shown) return <Waiting what="the portfolio" />;
  const names = (who: Schemas["Who"][]) => who.map((each) => each.name).join(", ") || "nobody";
  return (
    <>
      <Title
        strong={shown.name}
        actions={
          shown.builds && (
            <>
              <ButtonLink to={`/definitions/package/new?portfolio=${key}`}>A new package</ButtonLink>
              <ButtonLink to={`/definitions/offer/new?portfolio=${key}`}>A new offer</ButtonLink>
            </>
          )
        }
      >
        {count(shown.packages.length, "package", "packages")} of{" "}
        {count(shown.entitlements.length, "entitlement", "entitlements")}
      </Title>
      <p className="mt-1 flex flex-wrap gap-x-6 text-dense text-muted">
        <span className="font-mono">{key}</span>
        <span>looked after by {names(shown.stewards)}</span>
        <span>built by {names([...shown.stewards, ...shown.bundlers])}</span>
        {shown.tends && <Link to={`/definitions/portfolio/${key}`}>Choose what is in it</Link>}
      </p>
      <Heading aside="each with the terms on which it is offered">Packages</Heading>
      <ul className="border-t border-rule">
        {shown.packages.length === 0 && <li className="py-3 text-muted">None was built yet.</li>}
        {shown.packages.map((each) => (
          <Package key={each.key} each={each} portfolio={key} builds={shown.builds} />
        ))}
      </ul>
      <Heading aside="packages are made of this, and of nothing else">In it</Heading>
      <Entitlements entitlements={shown.entitlements} />
    </>
  );
}

function Package({
  each,
  portfolio,
  builds,
}: {
  each: Shown["packages"][number];
  portfolio: string;
  builds: boolean;
}) {
  const zone = useZone();
  return (
    <li className="grid gap-x-8 gap-y-1 border-b border-rule py-3 lg:grid-cols-[1fr_minmax(20rem,30rem)]">
      <div>
        <p>
          <Link className="font-bold" to={`/portfolios/${portfolio}/packages/${each.key}`}>
            {each.name}
          </Link>{" "}
          <span className="text-muted">held by {count(each.holders, "person", "people")}</span>
          {each.retired && (
            <span className="ml-3">
              <Badge state="withdrawn">
                {each.retired === "stay" ? "retired" : `retired, held ${each.retired}`}
              </Badge>
            </span>
          )}
          {builds && (
            <Link className="ml-4 text-dense" to={`/definitions/package/${each.key}`}>
              Change it
            </Link>
          )}
        </p>
        <p>{each.purpose}</p>
        <p className="text-dense text-muted">{givesOf(each.gives)}</p>
      </div>
      <ul>
        {each.offers.length === 0 && (
          <li className="text-dense text-muted">Not offered; given by rule only.</li>
        )}
        {each.offers.map((offer) => (
          <li key={offer.key} className="text-dense">
            <p className="flex flex-wrap items-center gap-x-3">
              {builds ? <Link to={`/definitions/offer/${offer.key}`}>{offer.name}</Link> : offer.name}
              {!offer.open && <Badge state="held">closed</Badge>}
              <span className="text-muted">
                {offer.route} · {offer.term === "open" ? "open-ended" : offer.term}
              </span>
            </p>
            <p className="font-mono break-words text-muted">{offer.audience || "for everybody"}</p>
            {offer.reviewedBy && (
              <p className="text-muted">
                reviewed by {offer.reviewedBy}
                {offer.nextReview ? `, next from ${day(offer.nextReview, zone)}` : ""}
              </p>
            )}
          </li>
        ))}
      </ul>
    </li>
  );
}

function Entitlements({ entitlements }: { entitlements: Schemas["Gives"][] }) {
  return (
    <ul className="grid gap-x-8 border-t border-rule md:grid-cols-2">
      {entitlements.map((each) => (
        <li
          key={each.entitlement}
          className="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1.5"
        >
          {each.name} <span className="text-muted">{each.application}</span>
          {(each.risk === "high" || each.risk === "critical") && (
            <span className="text-dense text-warning">{each.risk} risk</span>
          )}
          <span className="ml-auto font-mono text-dense text-muted">{each.entitlement}</span>
        </li>
      ))}
    </ul>
  );
}
