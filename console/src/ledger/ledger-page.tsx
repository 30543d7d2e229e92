import { useSearchParams } from "react-router";
import { api, data } from "../api/client";
import { usePages } from "../api/pages";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { Entries } from "./entries";

/** The record of everything that happened, newest first. */
export function LedgerPage() {
  const [query, setQuery] = useSearchParams();
  const subject = query.get("subject") ?? "";
  const what = query.get("what") ?? "";
  const ledger = usePages(["ledger", subject, what], (after) =>
    data(
      api.GET("/api/v1/ledger", {
        params: { query: { subject: subject || undefined, what: what || undefined, after, limit: 100 } },
      }),
    ),
  );
  const { query: asked, rows: entries } = ledger;
  return (
    <>
      <Title strong="Ledger">everything that happened, newest first</Title>
      <form
        className="mt-4 mb-3 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          const form = new FormData(event.currentTarget);
          const next: Record<string, string> = {};
          for (const key of ["subject", "what"]) if (form.get(key)) next[key] = String(form.get(key)).trim();
          setQuery(next);
        }}
      >
        <Field
          label="About"
          name="subject"
          placeholder="a name, W-01007, feed:84"
          defaultValue={subject}
          key={`s${subject}`}
          className="w-64"
        />
        <Field
          label="What happened"
          name="what"
          placeholder="grant-began, mover"
          defaultValue={what}
          key={`w${what}`}
          className="w-52"
        />
        <Button type="submit">Show</Button>
      </form>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="the ledger" />}
      {asked.data && entries.length === 0 && <Empty title="No entry matches." />}
      <Entries entries={entries} subject />
      {asked.hasNextPage && (
        <Button className="mt-3 self-start" onClick={ledger.more}>
          Show earlier
        </Button>
      )}
    </>
  );
}
