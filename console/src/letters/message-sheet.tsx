import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { may, useSession, useZone } from "../api/session";
import { Button } from "../parts/button";
import { day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { Fault, Waiting } from "../parts/states";
import { Heading } from "../parts/title";
import { MessageState } from "./message-state";
import { Written } from "./written";

/** One message: to whom, what it says, and what became of it. */
export function MessageSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const queries = useQueryClient();
  const { data: session } = useSession();
  const params = { path: { id } };
  const asked = useQuery({
    queryKey: ["message", id],
    queryFn: () => data(api.GET("/api/v1/messages/{id}", { params })),
  });
  const again = useMutation({
    mutationFn: () => data(api.POST("/api/v1/messages/{id}/again", { params })),
    onSettled: () => queries.invalidateQueries(),
  });
  const shown = asked.data;
  const message = shown?.message;
  return (
    <Sheet title={message?.subject ?? "Letter"} close={close}>
      {asked.error && <Fault problem={asked.error} />}
      {!shown && !asked.error && <Waiting what="the letter" />}
      {shown && message && (
        <>
          <Pairs
            pairs={[
              ["state", <MessageState key="s" state={message.state} />],
              ["to", message.recipient ? `${message.recipient}, ${message.address}` : message.channel],
              ...(message.worker
                ? ([
                    [
                      "about",
                      <Link key="p" to={`/people/${message.worker}`}>
                        {message.person}
                      </Link>,
                    ],
                  ] as [string, React.ReactNode][])
                : []),
              ["written", `${day(message.createdAt, zone)} ${time(message.createdAt, zone)}`],
              ...(message.settledAt
                ? ([[message.state, `${day(message.settledAt, zone)} ${time(message.settledAt, zone)}`]] as [
                    string,
                    string,
                  ][])
                : []),
              ...(message.reason ? ([["why", message.reason]] as [string, string][]) : []),
              ...(message.answer ? ([["answer", message.answer]] as [string, string][]) : []),
              ...(message.run && may(session, "see-playbooks")
                ? ([
                    [
                      "run",
                      <Link key="r" to={`/playbooks/runs/${message.run}`}>
                        look at the run
                      </Link>,
                    ],
                  ] as [string, React.ReactNode][])
                : []),
            ]}
          />
          {again.error && <Fault problem={again.error} />}
          {message.state === "failed" && may(session, "send-letters") && (
            <Button className="mt-3" disabled={again.isPending} onClick={() => again.mutate()}>
              Send it again
            </Button>
          )}
          <Heading>What it says</Heading>
          <Written text={shown.text} html={shown.html} />
        </>
      )}
    </Sheet>
  );
}
