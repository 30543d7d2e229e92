import { api, data } from "../api/client";
import { usePages } from "../api/pages";
import { Button } from "../parts/button";
import { Entries } from "../ledger/entries";
import { Empty, Fault, Waiting } from "../parts/states";

/** What the ledger says of a person, newest first. */
export function PersonHistory({ worker }: { worker: string }) {
  const history = usePages(["ledger", "person", worker], (after) =>
    data(api.GET("/api/v1/ledger", { params: { query: { subject: `person:${worker}`, after, limit: 50 } } })),
  );
  const { query: asked, rows: entries } = history;
  if (asked.error) return <Fault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="the history" />;
  if (entries.length === 0) return <Empty title="The ledger says nothing of this person yet." />;
  return (
    <>
      <Entries entries={entries} />
      {asked.hasNextPage && (
        <Button className="mt-3" onClick={history.more}>
          Show earlier
        </Button>
      )}
    </>
  );
}
