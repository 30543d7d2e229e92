import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Waiting } from "../parts/states";
import { Title } from "../parts/title";

/** Partner organisations, each with the link to send to its people. */
export function PartnersPage() {
  const { data: session } = useSession();
  const asked = useQuery({
    queryKey: ["partner-organisations"],
    queryFn: () => data(api.GET("/api/v1/partner-organisations", { params: { query: { limit: 200 } } })),
  });
  if (asked.error) return <PageFault problem={asked.error} />;
  if (!asked.data) return <Waiting what="partner organisations" />;
  const all = asked.data.items;
  return (
    <>
      <Title
        strong="Partner organisations"
        actions={
          may(session, "load-definitions") && (
            <ButtonLink to="/definitions/partner-organisation/new">A new one</ButtonLink>
          )
        }
      >
        {count(all.length, "organisation", "organisations")} whose people may ask by a link
      </Title>
      {all.length === 0 ? (
        <Empty title="There is none.">
          A definition partner-organisation says whose people may ask, for what, and who answers for them.
        </Empty>
      ) : (
        <ul className="mt-4 border-t border-rule">
          {all.map((each) => (
            <Organisation key={each.key} each={each} changes={may(session, "load-definitions")} />
          ))}
        </ul>
      )}
    </>
  );
}

function Organisation({ each, changes }: { each: Schemas["PartnerListed"]; changes: boolean }) {
  return (
    <li className="grid gap-x-8 gap-y-1 border-b border-rule py-3 lg:grid-cols-[1fr_minmax(20rem,34rem)]">
      <div>
        <p className="flex flex-wrap items-center gap-x-4">
          <Link className="font-bold" to={`/partners/${each.key}/people`}>
            {each.name}
          </Link>
          {!each.open && <Badge state="does-not">its time is over</Badge>}
          {changes && (
            <Link className="text-dense" to={`/definitions/partner-organisation/${each.key}`}>
              Change it
            </Link>
          )}
        </p>
        <p className="text-dense text-muted">
          until {day(each.until)} ·{" "}
          {each.sponsor ? `${each.sponsor.name} answers for them` : "nobody answers for them"} · addresses at{" "}
          {each.mailDomains.join(", ")}
        </p>
        {each.unconfirmed > 0 && (
          <p className="text-dense text-muted">
            {count(each.unconfirmed, "person has", "people have")} not confirmed their address yet
          </p>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <span className="min-w-0 grow font-mono text-dense break-all">
          {each.link || "no address is known here"}
        </span>
        {each.link && each.open && (
          <Button onClick={() => void navigator.clipboard.writeText(each.link)}>Copy the link</Button>
        )}
      </div>
    </li>
  );
}
