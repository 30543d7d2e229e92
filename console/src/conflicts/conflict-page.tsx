import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day, lastDay } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { ExemptForm } from "./exempt-form";

/** One conflict: what is held on each side, how it came about, and settling it. */
export function ConflictPage() {
  const { conflict: id = "" } = useParams();
  const zone = useZone();
  const [allowing, setAllowing] = useState(false);
  const asked = useQuery({
    queryKey: ["conflicts", id],
    queryFn: () => data(api.GET("/api/v1/conflicts/{id}", { params: { path: { id } } })),
    retry: false,
  });
  if (asked.error) return <PageFault problem={asked.error} />;
  if (!asked.data) return <Waiting what="the conflict" />;
  const shown = asked.data;
  const { conflict } = shown;
  const sides = [...new Set(shown.parts.map((each) => each.side))];
  return (
    <>
      <Title strong={conflict.person}>{conflict.ruleName.toLowerCase()}</Title>
      <p className="mt-1 flex flex-wrap items-center gap-x-5 text-dense text-muted">
        <Link to={`/people/${conflict.worker}`}>{conflict.worker}</Link>
        <span>{conflict.detail}</span>
        <span>found {day(conflict.since, zone)}</span>
        {conflict.state === "exempt" ? (
          <Badge state="held">{`allowed to ${conflict.exemptUntil ? lastDay(conflict.exemptUntil, zone) : ""}`}</Badge>
        ) : (
          <Badge state="failed">open</Badge>
        )}
      </p>
      <p className="mt-3 border-l-3 border-danger bg-danger-wash px-4 py-2">{shown.risk}</p>
      {shown.exemptControl && (
        <p className="mt-2 text-dense">
          Allowed by {shown.exemptBy}; in its place: {shown.exemptControl}
        </p>
      )}
      <div className="mt-2 grid gap-x-10 md:grid-cols-2">
        {sides.map((side) => (
          <section key={side} aria-label={`Side ${side}`}>
            <Heading>{sides.length > 1 ? `Side ${side}` : "What they hold of it"}</Heading>
            <ul className="border-t border-rule">
              {shown.parts
                .filter((part) => part.side === side)
                .map((part) => (
                  <PartOf key={part.entitlement} id={id} part={part} ends={shown.ends} zone={zone} />
                ))}
            </ul>
          </section>
        ))}
      </div>
      {shown.exempts && conflict.state === "open" && (
        <div className="mt-6">
          {allowing ? (
            <ExemptForm
              ids={[conflict.id]}
              longestDays={shown.longestDays}
              controls={shown.controls}
              close={() => setAllowing(false)}
            />
          ) : (
            <Button onClick={() => setAllowing(true)}>Allow it for a while</Button>
          )}
        </div>
      )}
    </>
  );
}

function PartOf({
  id,
  part,
  ends,
  zone,
}: {
  id: string;
  part: Schemas["Part"];
  ends: boolean;
  zone: string;
}) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [ending, setEnding] = useState(false);
  const [reason, setReason] = useState("");
  const endable = ends && part.giving.length > 0;
  const would = useQuery({
    queryKey: ["conflicts", id, "forecast", part.entitlement],
    enabled: ending,
    queryFn: () =>
      data(
        api.GET("/api/v1/conflicts/{id}/forecast", {
          params: { path: { id }, query: { entitlement: part.entitlement } },
        }),
      ),
  });
  const end = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/conflicts/{id}/end", {
          params: { path: { id } },
          body: { entitlement: part.entitlement, reason },
        }),
      ),
    onSuccess: () => navigate("/conflicts"),
    onSettled: () => queries.invalidateQueries(),
  });
  return (
    <li className="border-b border-rule py-2">
      <div className="flex flex-wrap items-center gap-x-4">
        <span className="grow">
          {part.name} <span className="text-muted">{part.application}</span>
        </span>
        {endable && !ending && <Button onClick={() => setEnding(true)}>End this side</Button>}
      </div>
      <p className="text-dense text-muted">
        {part.since ? `there since ${day(part.since, zone)}` : "not there yet"} ·{" "}
        {part.lastUsed ? `last used ${day(part.lastUsed, zone)}` : "no use was told of"} ·{" "}
        <span className="font-mono">{part.entitlement}</span>
      </p>
      <ul>
        {part.giving.map((each) => (
          <li key={each.grant} className="text-dense">
            by {each.name}{" "}
            <span className="text-muted">
              {each.basis === "discovered" ? "found there and adopted" : `${each.basis}: ${each.by}`}, from{" "}
              {day(each.from, zone)}
              {each.to ? ` to ${lastDay(each.to, zone)}` : ""}
              {each.byRule ? "; a rule gives it: the right is carved out, and the rest stays" : ""}
            </span>
          </li>
        ))}
      </ul>
      {ending && (
        <div className="mt-2 border-l-3 border-danger pl-4">
          {(would.error ?? end.error) && <Fault problem={would.error ?? end.error} />}
          {would.data && (
            <p className="text-dense">
              {would.data.grants.length > 0
                ? `${would.data.grants.join(", ")} would end, with ${would.data.rights.join(", ")}.`
                : `${would.data.rights.join(", ")} would go.`}
              {would.data.carved.length > 0 &&
                ` ${would.data.carved.join(", ")} is given by a rule and stays without it, until somebody releases that.`}
            </p>
          )}
          <div className="mt-2 flex flex-wrap items-end gap-2">
            <Field
              label="Why; it is kept"
              value={reason}
              maxLength={1000}
              onChange={(event) => setReason(event.target.value)}
              className="min-w-56 grow"
            />
            <Button
              kind="danger"
              disabled={!reason.trim() || !would.data || end.isPending}
              onClick={() => end.mutate()}
            >
              End {part.name}
            </Button>
            <Button onClick={() => setEnding(false)}>Leave it</Button>
          </div>
        </div>
      )}
    </li>
  );
}
