import { useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { beginExport } from "../api/work";
import { may, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { Choice } from "../parts/choice";
import { count, day } from "../parts/moments";
import { whoColumns } from "../parts/person-columns";
import { SearchField } from "../parts/search-field";
import { Empty, Fault, Waiting } from "../parts/states";
import { Table, type Column } from "../parts/table";
import { Title } from "../parts/title";
import { useFacts, type Fact } from "./use-facts";

type Person = Schemas["Listed"];

const fact = ({ key, name }: Fact): Column<Person> => ({
  id: key,
  header: name,
  accessorFn: (person) => String(person.facts[key] ?? ""),
});

const columns = (facts: Fact[]): Column<Person>[] => [
  ...whoColumns(({ worker }) => `/people/${worker}`),
  {
    id: "standing",
    header: "Standing",
    accessorKey: "standing",
    cell: ({ row }) => <Badge state={row.original.standing} />,
  },
  ...facts.filter((each) => each.shown.includes("column")).map(fact),
  {
    id: "startsOn",
    header: "First day",
    accessorFn: (person) => person.startsOn ?? "",
    cell: ({ row }) => <span className="text-muted">{firstDay(row.original)}</span>,
  },
];

const firstDay = ({ startsOn, waits }: Person) => (waits ? "once agreed to" : startsOn ? day(startsOn) : "");

/** What the service sorts people by, by column. */
const SORTED = { name: "name", worker: "worker", startsOn: "starts" };

/** Everybody this signed-in person may see; filters live in the address. */
export function PeoplePage() {
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const { data: session } = useSession();
  const all = may(session, "see-everybody");
  const { data: forms } = useQuery({
    queryKey: ["records"],
    enabled: !all,
    staleTime: 300_000,
    queryFn: () => data(api.GET("/api/v1/records")),
  });
  const facts = useFacts();
  const filters = facts.filter((each) => each.shown.includes("filter"));
  const shown = useMemo(() => columns(facts), [facts]);
  const set = useCallback(
    (key: string, value: string) =>
      setQuery(
        (before) => {
          const after = new URLSearchParams(before);
          if (value) after.set(key, value);
          else after.delete(key);
          return after;
        },
        { replace: true },
      ),
    [setQuery],
  );
  const setText = useCallback((value: string) => set("text", value), [set]);
  const text = query.get("text") ?? "";
  const standing = query.get("standing") ?? "";
  const filter = filters.flatMap(({ key }) => (query.get(key) ? [`${key}:${query.get(key)}`] : []));
  const sort = query.get("sort") ?? "";
  const order = { columns: SORTED, value: sort || "name", change: (value: string) => set("sort", value) };
  const people = usePages(
    ["people", text, standing, filter, sort],
    (after) =>
      data(
        api.GET("/api/v1/people", {
          params: {
            query: { text, standing, filter, sort: sort || undefined, after, limit: 300, count: !after },
          },
        }),
      ),
    // Before the facts are known, so are no filters: a list asked for then would be of everybody.
    { enabled: facts.length > 0 },
  );
  const { query: asked, rows } = people;
  const exported = useMutation({
    mutationFn: () => {
      const facts = filters.map(({ key }) => [key, query.get(key) ?? ""] as const);
      const all = [["text", text], ["standing", standing], ["sort", sort], ...facts];
      return beginExport("people", Object.fromEntries(all.filter(([, value]) => value)));
    },
    onSuccess: (work) => navigate(`/work/${work.id}`),
  });
  const total = people.first?.total ?? 0;
  const filtered = text || standing || filter.length > 0;
  return (
    <div className="flex min-h-0 grow flex-col">
      <Title
        strong="People"
        actions={
          <>
            {all && <ButtonLink to="/partners">Partner organisations</ButtonLink>}
            {!all && forms && forms.items.length > 0 && (
              <ButtonLink to="/records?new=yes">Somebody new for my team</ButtonLink>
            )}
          </>
        }
      >
        {asked.data
          ? all
            ? count(total, filtered ? "person matches" : "person", filtered ? "people match" : "people")
            : `you and ${count(Math.max(0, total - 1), "report", "reports")}`
          : "…"}
      </Title>
      <div className="mt-4 mb-3 flex flex-wrap items-center gap-2 pr-20">
        <SearchField
          label="Search by name or worker number"
          placeholder="Name or worker number"
          text={text}
          set={setText}
        />
        <Choice
          label="Standing"
          all="Any standing"
          value={standing}
          options={["expected", "active", "on-leave", "left"].map((value) => ({
            value,
            text: value.replace("-", " "),
          }))}
          onChange={(value) => set("standing", value)}
        />
        {all &&
          filters.map((each) => (
            <FactOptions
              key={each.key}
              fact={each.key}
              name={each.name}
              value={query.get(each.key) ?? ""}
              onChange={(value) => set(each.key, value)}
            />
          ))}
        {filtered && (
          <Button kind="quiet" onClick={() => setQuery({}, { replace: true })}>
            Clear
          </Button>
        )}
      </div>
      {exported.error && <Fault problem={exported.error} />}
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="people" />}
      {asked.data && rows.length === 0 && (
        <Empty title={filtered ? "Nobody matches." : "Nobody is known yet."}>
          {filtered
            ? "Names match anywhere, worker numbers from their beginning."
            : "People come from feeds: load one under Flow, Feeds."}
        </Empty>
      )}
      {rows.length > 0 && (
        <Table
          name="People"
          rows={rows}
          columns={shown}
          open={(person) => navigate(`/people/${person.worker}`)}
          more={people.more}
          complete={people.complete}
          order={order}
          everything={() => exported.mutate()}
        />
      )}
    </div>
  );
}

function FactOptions({
  fact,
  name,
  value,
  onChange,
}: {
  fact: string;
  name: string;
  value: string;
  onChange: (value: string) => void;
}) {
  const { data: values = [] } = useQuery({
    queryKey: ["values", fact],
    staleTime: 60_000,
    queryFn: () => data(api.GET("/api/v1/people/values/{fact}", { params: { path: { fact } } })),
  });
  return (
    <Choice
      label={name}
      all={`${name}: any`}
      value={value}
      options={values.map((each) => ({ value: each.value, text: each.value, count: each.people }))}
      onChange={onChange}
    />
  );
}
