import { useInfiniteQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { Button } from "../parts/button";
import { Entries } from "../ledger/entries";
import { Empty, Fault, Waiting } from "../parts/states";

/** What the ledger says of a person, newest first. */
export function PersonHistory({ worker }: { worker: string }) {
  const history = useInfiniteQuery({
    queryKey: ["ledger", "person", worker],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      data(
        api.GET("/api/v1/ledger", {
          params: { query: { subject: `person:${worker}`, after: pageParam, limit: 50 } },
        }),
      ),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  if (history.error) return <Fault problem={history.error} retry={() => void history.refetch()} />;
  if (!history.data) return <Waiting what="the history" />;
  const entries = history.data.pages.flatMap((page) => page.items);
  if (entries.length === 0) return <Empty title="The ledger says nothing of this person yet." />;
  return (
    <>
      <Entries entries={entries} />
      {history.hasNextPage && (
        <Button className="mt-3" onClick={() => void history.fetchNextPage()}>
          Show earlier
        </Button>
      )}
    </>
  );
}
