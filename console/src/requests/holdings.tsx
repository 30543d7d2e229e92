import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useNow, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { Field } from "../parts/field";
import { away, day, lastDay } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

type Held = Schemas["Held"];
const SOON = 14 * 86_400_000;

/** What whoever is signed in asked for, and waits for; nothing where there is none. */
export function OpenAsks() {
  const { data: mine } = useQuery({
    queryKey: ["requests", "mine", "open"],
    queryFn: () =>
      data(api.GET("/api/v1/requests", { params: { query: { whose: "mine", state: "open", limit: 50 } } })),
    refetchInterval: 15_000,
  });
  if (!mine || mine.items.length === 0) return null;
  return (
    <>
      <Heading aside={<Link to="/requests?tab=mine">all of them</Link>}>What you have asked for</Heading>
      <ul className="border-t border-rule">
        {mine.items.map((line) => (
          <li key={line.line} className="flex flex-wrap items-center gap-x-5 border-b border-rule py-2">
            <Link to={`/requests/${line.request}`}>{line.name}</Link>
            <span className="text-muted">for {line.person}</span>
            <Badge state="open">waits for somebody</Badge>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What somebody was given beside what their work brings, with its end; nothing where there is none. */
export function Holdings({ worker, own }: { worker: string; own: boolean }) {
  const { data: held } = useQuery({
    queryKey: ["grants", worker],
    queryFn: () => data(api.GET("/api/v1/grants", { params: { query: { worker, limit: 200 } } })),
    refetchInterval: 15_000,
  });
  const { data: past } = useQuery({
    queryKey: ["grants", worker, "past"],
    queryFn: () => data(api.GET("/api/v1/grants/past", { params: { query: { worker, limit: 20 } } })),
    refetchInterval: 30_000,
  });
  const given = held?.items.filter((each) => each.basis !== "birthright") ?? [];
  const over = past?.items.filter((each) => each.resumable) ?? [];
  if (given.length === 0) return <Past over={over} worker={worker} own={own} />;
  return (
    <>
      <Heading aside={own ? "give back what you need no more" : "beside what their work brings"}>
        {own ? "What you were given" : "Given"}
      </Heading>
      <ul className="border-t border-rule">
        {given.map((each) => (
          <Holding key={each.id} held={each} worker={worker} own={own} />
        ))}
      </ul>
      <Past over={over} worker={worker} own={own} />
    </>
  );
}

function Holding({ held, worker, own }: { held: Held; worker: string; own: boolean }) {
  const zone = useZone();
  const now = useNow();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [ending, setEnding] = useState(false);
  const [reason, setReason] = useState("");
  const settled = () => queries.invalidateQueries();
  const end = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/grants/{id}/end", { params: { path: { id: held.id } }, body: { reason } })),
    onSettled: settled,
  });
  const extend = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/requests", {
          body: {
            lines: [
              { offer: held.offer, worker, kind: "extend", grant: held.id, reason: "It is still needed." },
            ],
          },
        }),
      ),
    onSuccess: (made) => navigate(`/requests/${made.id}`),
    onSettled: settled,
  });
  const soon = held.endsAt && Date.parse(held.endsAt) - now.getTime() < SOON;
  return (
    <li className="border-b border-rule py-2">
      {(end.error ?? extend.error) && <Fault problem={end.error ?? extend.error} />}
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <div className="min-w-56 grow">
          {held.name} <span className="text-dense text-muted">{held.gives.join(" · ")}</span>
        </div>
        <span className={`text-dense ${soon ? "text-warning" : "text-muted"}`}>
          {held.endsAt ? `until ${lastDay(held.endsAt, zone)}, ends ${away(held.endsAt, now)}` : "no end"}
        </span>
        {held.extendable && (
          <Button disabled={extend.isPending} onClick={() => extend.mutate()}>
            Ask for longer
          </Button>
        )}
        {held.changeable && (
          <ButtonLink to={`/requests/ask/${held.offer}?change=${held.id}${own ? "" : `&for=${worker}`}`}>
            Change
          </ButtonLink>
        )}
        {held.endable && !ending && (
          <Button onClick={() => setEnding(true)}>{own ? "Give back" : "End"}</Button>
        )}
      </div>
      {ending && (
        <div className="mt-2 flex flex-wrap items-end gap-2">
          <Field
            label="Why; it is kept"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-56 max-w-md grow"
          />
          <Button kind="danger" disabled={!reason.trim() || end.isPending} onClick={() => end.mutate()}>
            {own ? `Give back ${held.name}` : `End ${held.name}`}
          </Button>
          <Button onClick={() => setEnding(false)}>Keep it</Button>
        </div>
      )}
      {held.line && soon && (
        <p className="text-dense text-muted">
          What ends goes at once, with what came with it. <Link to="/requests?tab=mine">Your requests</Link>
        </p>
      )}
    </li>
  );
}

/** What is over and could be had once more, with the same answers; nothing where there is none. */
function Past({ over, worker, own }: { over: Held[]; worker: string; own: boolean }) {
  const zone = useZone();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const resume = useMutation({
    mutationFn: (held: Held) =>
      data(
        api.POST("/api/v1/requests", {
          body: {
            lines: [
              { offer: held.offer, worker, kind: "resume", grant: held.id, reason: "It is needed again." },
            ],
          },
        }),
      ),
    onSuccess: (made) => navigate(`/requests/${made.id}`),
    onSettled: () => queries.invalidateQueries(),
  });
  if (over.length === 0) return null;
  return (
    <>
      <Heading aside="within ninety days">{own ? "What you had" : "What they had"}</Heading>
      {resume.error && <Fault problem={resume.error} />}
      <ul className="border-t border-rule">
        {over.map((each) => (
          <li key={each.id} className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-rule py-2">
            <span className="min-w-56 grow">{each.name}</span>
            <span className="text-dense text-muted">
              {each.endsAt ? `ended on ${day(each.endsAt, zone)}` : ""}
            </span>
            <Button disabled={resume.isPending} onClick={() => resume.mutate(each)}>
              Ask for it again
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
