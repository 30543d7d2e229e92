import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { useZone } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { ButtonLink } from "../parts/button";
import { Field } from "../parts/field";
import { count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";

/** Other limits of the brake on feeds, tried against the feeds of the last year; nothing is changed. */
export function LimitsPage() {
  const zone = useZone();
  const [said, setSaid] = useState<Record<string, string>>({});
  const limits = useDeferredValue(said);
  const inForce = useQuery({
    queryKey: ["brake-trial", {}],
    queryFn: () => data(api.POST("/api/v1/brakes/feeds/trial", { body: { limits: {} } })),
  });
  const tried = useQuery({
    queryKey: ["brake-trial", limits],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => data(api.POST("/api/v1/brakes/feeds/trial", { body: { limits } })),
  });
  if (inForce.error) return <PageFault problem={inForce.error} retry={() => void inForce.refetch()} />;
  if (!inForce.data) return <Waiting what="the feeds of the last year" />;
  const now = inForce.data;
  const changed = Object.keys(said).length > 0;
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Limits of the brake on feeds" actions={<ButtonLink to="/held">Held changes</ButtonLink>}>
        nothing is changed here
      </Title>
      <p className="mt-1 max-w-prose text-muted">
        A feed beyond one of these is held until somebody looks at it: a number, and a share of everybody of
        its source. Write other limits, such as 10 or 3 %, to see which feeds of the last year they would have
        held.
      </p>
      <form className="mt-5 flex flex-wrap gap-4" onSubmit={(event) => event.preventDefault()}>
        {Object.entries(now.limits).map(([measure, limit]) => (
          <Field
            key={measure}
            className="w-44"
            label={measure}
            help={`in force: ${limit}`}
            value={said[measure] ?? ""}
            onChange={(event) => {
              const { [measure]: _, ...others } = said;
              const text = event.target.value;
              setSaid(text.trim() === "" ? others : { ...others, [measure]: text });
            }}
          />
        ))}
      </form>
      {tried.error && <Fault problem={tried.error} />}
      {tried.data && !tried.error && (
        <section aria-label="What they would have held" aria-live="polite">
          <Heading aside={tried.data.more ? "the last 5,000 were looked at" : undefined}>
            {tried.data.held.length === 0
              ? `None of ${count(tried.data.tried, "feed", "feeds")} would have been held`
              : `${tried.data.held.length} of ${count(tried.data.tried, "feed", "feeds")} would have been held`}
            {changed && `; as it is in force, ${now.held.length}`}
          </Heading>
          <ul className="border-t border-rule">
            {tried.data.held.map((each) => (
              <li
                key={each.feed}
                className="grid gap-x-6 border-b border-rule py-2 md:grid-cols-[8rem_14rem_1fr]"
              >
                <span className="text-muted">{day(each.startedAt, zone)}</span>
                <span>
                  <Link to={`/feeds/${each.feed}`}>{each.fileName}</Link>{" "}
                  {each.wasHeld && <Badge state="held">held then</Badge>}
                </span>
                <span>{each.sentences.join("; ")}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
