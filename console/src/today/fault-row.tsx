import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data } from "../api/client";
import { useNow } from "../api/session";
import { Ask } from "../parts/ask";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { useKeys } from "../parts/keys";
import { away } from "../parts/moments";
import type { Alike } from "../provisioning/alike";
import { Row } from "./row";

/** Faults alike, as one thing to decide. */
export function FaultRow({
  alike,
  name,
  mends,
  first,
}: {
  alike: Alike;
  name: string;
  mends: boolean;
  first: boolean;
}) {
  const navigate = useNavigate();
  const now = useNow();
  const queries = useQueryClient();
  const fault = alike.faults[0]!;
  const more = alike.faults.length - 1;
  const retry = useMutation({
    mutationFn: () =>
      // One retry may plan anew what another was about: that one is superseded by then.
      Promise.allSettled(
        alike.faults.map((each) =>
          data(api.POST("/api/v1/operations/{id}/retry", { params: { path: { id: each.id } } })),
        ),
      ),
    onSettled: () => queries.invalidateQueries(),
  });
  const look = () =>
    navigate(
      more > 0 ? `/operations?application=${alike.application}&state=fault` : `/operations/${fault.id}`,
    );
  // The letter asks before it does what cannot be taken back; the button is pressed by whoever sees it.
  const [asked, setAsked] = useState(false);
  useKeys(first ? { t: () => mends && setAsked(true), g: look } : {});
  return (
    <Row
      kind={<Badge state="fault" />}
      title={
        <>
          {name} refuses to {fault.kind.replace("-", " ")}{" "}
          <span className="font-mono text-dense">{fault.account}</span>
          {more > 0 && <span className="font-normal text-muted"> and {more} alike</span>}
        </>
      }
      text={alike.reason}
      aside={fault.settledAt ? away(fault.settledAt, now) : ""}
      actions={
        <>
          {asked && (
            <Ask
              question={more > 0 ? `Try all ${more + 1} again?` : "Try it again?"}
              yes={() => {
                setAsked(false);
                retry.mutate();
              }}
              no={() => setAsked(false)}
            />
          )}
          {mends && !asked && (
            <Button
              kind="primary"
              letter={first ? "t" : undefined}
              disabled={retry.isPending}
              onClick={() => retry.mutate()}
            >
              {more > 0 ? `Try ${more + 1} again` : "Try again"}
            </Button>
          )}
          {!asked && (
            <Button letter={first ? "g" : undefined} onClick={look}>
              Look
            </Button>
          )}
        </>
      }
    />
  );
}
