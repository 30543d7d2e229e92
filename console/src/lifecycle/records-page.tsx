import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { may, useSession } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { Field } from "../parts/field";
import { count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { whoColumns } from "../parts/person-columns";
import { SearchField } from "../parts/search-field";
import { Empty, Fault, Waiting } from "../parts/states";
import { Table, type Column } from "../parts/table";
import { Tabs } from "../parts/tabs";
import { Title } from "../parts/title";
import { RecordForm } from "./record-form";

type Form = Schemas["RecordForm"];
type Person = Schemas["Listed"];

/** The people desk's own forms: who was written in each, and somebody's record, written by hand. */
export function RecordsPage() {
  const [query, setQuery] = useSearchParams();
  const worker = query.get("worker") ?? "";
  const { data: session } = useSession();
  const forms = useQuery({ queryKey: ["records"], queryFn: () => data(api.GET("/api/v1/records")) });
  if (forms.error) return <PageFault problem={forms.error} retry={() => void forms.refetch()} />;
  if (!forms.data) return <Waiting what="the forms" />;
  const all = forms.data.items;
  const form = all.find((each) => each.source === query.get("source")) ?? all[0];
  const isNew = !!form?.numbers && !!query.get("new");
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title
        strong="Records"
        actions={
          form?.numbers &&
          !worker &&
          !isNew && <ButtonLink to={addressOf(form, { new: "yes" })}>Somebody new</ButtonLink>
        }
      >
        people whom no file names, written by hand
      </Title>
      {!form ? (
        <Empty title="There is no form.">
          A source with form: yes in its definition has one: the people desk writes its records itself.
        </Empty>
      ) : worker || isNew ? (
        <>
          <p className="mt-4 text-dense">
            <Link to={addressOf(form, {})}>All of {form.name}</Link>
          </p>
          {worker ? (
            <Opened form={form} worker={worker} />
          ) : (
            <RecordForm
              key={form.source}
              form={form}
              record={{
                worker: "",
                known: false,
                facts: !may(session, "load-feeds") && session?.worker ? { manager: session.worker } : {},
              }}
            />
          )}
        </>
      ) : (
        <Tabs
          value={form.source}
          onChange={(source) => setQuery({ source })}
          tabs={all.map((each) => ({
            key: each.source,
            name: each.name,
            content: <Written key={each.source} form={each} />,
          }))}
        />
      )}
    </div>
  );
}

function addressOf(form: Form, more: Record<string, string>): string {
  return `/records?${new URLSearchParams({ source: form.source, ...more }).toString()}`;
}

const columns = (form: Form): Column<Person>[] => [
  ...whoColumns(({ worker }) => addressOf(form, { worker })),
  {
    id: "standing",
    header: "Standing",
    accessorKey: "standing",
    cell: ({ row }) => (
      <Badge state={row.original.standing}>{row.original.waits ? "waits until agreed to" : undefined}</Badge>
    ),
  },
  { id: "startsOn", header: "First day", accessorFn: ({ startsOn }) => (startsOn ? day(startsOn) : "") },
  { id: "endsOn", header: "Last day", accessorFn: ({ endsOn }) => (endsOn ? day(endsOn) : "") },
];

/** Who was written in one form, to be found again. */
function Written({ form }: { form: Form }) {
  const [query, setQuery] = useSearchParams();
  const [number, setNumber] = useState("");
  const text = query.get("text") ?? "";
  const setText = useCallback(
    (value: string) =>
      setQuery(value ? { source: form.source, text: value } : { source: form.source }, { replace: true }),
    [form.source, setQuery],
  );
  const open = (worker: string) => setQuery({ source: form.source, worker });
  const shown = useMemo(() => columns(form), [form]);
  const pages = usePages(["people", "written", form.source, text], (after) =>
    data(
      api.GET("/api/v1/people", {
        params: { query: { source: form.source, text: text || undefined, after, limit: 200, count: !after } },
      }),
    ),
  );
  const asked = pages.query;
  const total = pages.first?.total ?? 0;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2 pr-20">
        <SearchField
          label="Search by name or worker number"
          placeholder="Name or worker number"
          text={text}
          set={setText}
        />
        {total > 0 && (
          <span className="text-muted">
            {text
              ? count(total, "person matches", "people match")
              : count(total, "person is written here", "people are written here")}
          </span>
        )}
        {!form.numbers && (
          <form
            className="ml-auto flex items-center gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              open(number.trim());
            }}
          >
            <Field
              label="The worker number of somebody new"
              hideLabel
              placeholder="Number of somebody new"
              value={number}
              onChange={(event) => setNumber(event.target.value)}
              className="w-56"
            />
            <Button type="submit" disabled={!number.trim()}>
              Write their record
            </Button>
          </form>
        )}
      </div>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="who was written" />}
      {asked.data && pages.rows.length === 0 && (
        <Empty title={text ? "Nobody matches." : "Nobody was written here yet."}>
          {text
            ? "Names match anywhere, worker numbers from their beginning."
            : form.agreed
              ? "Whoever is written here counts once somebody has agreed to it."
              : "Whoever is written here is a person like any other, from their first day on."}
        </Empty>
      )}
      {pages.rows.length > 0 && (
        <Table
          name={form.name}
          rows={pages.rows}
          columns={shown}
          open={(person) => open(person.worker)}
          more={pages.more}
          complete={pages.complete}
          whole={pages.whole}
        />
      )}
    </>
  );
}

function Opened({ form, worker }: { form: Form; worker: string }) {
  const record = useQuery({
    queryKey: ["record", form.source, worker],
    queryFn: () =>
      data(api.GET("/api/v1/records/{key}", { params: { path: { key: form.source }, query: { worker } } })),
  });
  if (record.error) return <Fault problem={record.error} />;
  if (!record.data) return <Waiting what="the record" />;
  return <RecordForm key={worker} form={form} record={record.data} />;
}
