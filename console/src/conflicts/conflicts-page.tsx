import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { may, useSession, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { Choice } from "../parts/choice";
import { count, day, lastDay } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Heading, Title } from "../parts/title";
import { ExemptForm } from "./exempt-form";

type Listed = Schemas["ConflictListed"];

/** Who breaks which rule: counted by rule and group, and one by one. */
export function ConflictsPage() {
  const { data: session } = useSession();
  const queries = useQueryClient();
  const matrix = useQuery({
    queryKey: ["conflicts", "matrix"],
    queryFn: () => data(api.GET("/api/v1/conflicts/matrix")),
    refetchInterval: 15_000,
  });
  const scan = useMutation({
    mutationFn: () => data(api.POST("/api/v1/conflicts/scan")),
    onSettled: () => queries.invalidateQueries({ queryKey: ["conflicts"] }),
  });
  if (matrix.error) return <PageFault problem={matrix.error} />;
  if (!matrix.data) return <Waiting what="conflicts" />;
  const open = matrix.data.cells.reduce((sum, each) => sum + each.open, 0);
  const exempt = matrix.data.cells.reduce((sum, each) => sum + each.exempt, 0);
  return (
    <div className="flex min-h-0 grow flex-col">
      <Title
        strong="Conflicts"
        actions={
          <>
            {may(session, "load-definitions") && (
              <ButtonLink to="/definitions/conflict-rule/new">Write a rule</ButtonLink>
            )}
            {may(session, "exempt") && (
              <Button disabled={scan.isPending} onClick={() => scan.mutate()}>
                Look now
              </Button>
            )}
          </>
        }
      >
        {open === 0 && exempt === 0
          ? "nobody holds what they must not hold together"
          : `${count(open, "is open", "are open")}, ${count(exempt, "is allowed", "are allowed")} for a while`}
      </Title>
      {scan.error && <Fault problem={scan.error} />}
      <MatrixOf matrix={matrix.data} written={may(session, "see-definitions")} />
      <Heading aside="the last found first">One by one</Heading>
      <List rules={matrix.data.rules} />
    </div>
  );
}

/** Rules down, groups across; the more there are, the darker the ink, and the number is printed. */
function MatrixOf({ matrix, written }: { matrix: Schemas["Matrix"]; written: boolean }) {
  const groups = [...new Set(matrix.cells.map((each) => each.group))].sort();
  if (groups.length === 0) return null;
  const most = Math.max(1, ...matrix.cells.map((each) => each.open + each.exempt));
  const rules = matrix.rules.filter((rule) => matrix.cells.some((each) => each.rule === rule.key));
  return (
    <div className="mt-4 overflow-x-auto">
      <table className="border-collapse">
        <caption className="sr-only">Conflicts by rule and {matrix.groupedBy}</caption>
        <thead>
          <tr>
            <th className="py-1 pr-6 text-left text-dense font-normal text-muted">Rule</th>
            {groups.map((group) => (
              <th key={group} className="px-2 py-1 text-left text-dense font-normal text-muted">
                {group || `no ${matrix.groupedBy}`}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rules.map((rule) => (
            <tr key={rule.key} className="border-t border-rule">
              <th className="py-1 pr-6 text-left font-normal">
                {written ? <Link to={`/definitions/conflict-rule/${rule.key}`}>{rule.name}</Link> : rule.name}
              </th>
              {groups.map((group) => (
                <Cell
                  key={group}
                  cell={matrix.cells.find((each) => each.rule === rule.key && each.group === group)}
                  most={most}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Cell({ cell, most }: { cell: Schemas["MatrixCell"] | undefined; most: number }) {
  if (!cell) return <td className="px-2 py-1 text-muted">·</td>;
  const all = cell.open + cell.exempt;
  return (
    <td className="px-2 py-1">
      <Link
        to={`/conflicts?rule=${cell.rule}&group=${encodeURIComponent(cell.group)}`}
        className="flex items-center gap-2 no-underline"
      >
        <span
          className="h-5 bg-danger"
          style={{ width: `${8 + (all / most) * 40}px`, opacity: 0.35 + 0.65 * (all / most) }}
          aria-hidden
        />
        <span>{cell.open}</span>
        {cell.exempt > 0 && <span className="text-dense text-muted">+ {cell.exempt} allowed</span>}
      </Link>
    </td>
  );
}

const columns = (zone: string): Column<Listed>[] => [
  {
    id: "person",
    header: "Person",
    accessorKey: "person",
    cell: ({ row }) => <RowLink to={`/conflicts/${row.original.id}`}>{row.original.person}</RowLink>,
  },
  { id: "detail", header: "What they do", accessorKey: "detail" },
  { id: "rule", header: "Rule", accessorKey: "ruleName", wide: true },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) =>
      row.original.state === "exempt" ? (
        <Badge state="held">{`allowed to ${row.original.exemptUntil ? lastDay(row.original.exemptUntil, zone) : ""}`}</Badge>
      ) : (
        <Badge state="failed">open</Badge>
      ),
  },
  { id: "since", header: "Found", accessorFn: (row) => day(row.since, zone) },
];

function List({ rules }: { rules: Schemas["RuleListed"][] }) {
  const zone = useZone();
  const navigate = useNavigate();
  const { data: session } = useSession();
  const [query, setQuery] = useSearchParams();
  const rule = query.get("rule") ?? "";
  const state = query.get("state") ?? "";
  const group = query.get("group") ?? "";
  const [allowing, setAllowing] = useState(false);
  const set = (key: string, value: string) =>
    setQuery(
      (before) => {
        const after = new URLSearchParams(before);
        if (value) after.set(key, value);
        else after.delete(key);
        return after;
      },
      { replace: true },
    );
  const pages = usePages(
    ["conflicts", rule, state, group],
    (after) =>
      data(
        api.GET("/api/v1/conflicts", {
          params: {
            query: {
              rule: rule || undefined,
              state: state || undefined,
              group: group || undefined,
              after,
              limit: 200,
            },
          },
        }),
      ),
    { refetchInterval: 15_000 },
  );
  if (pages.query.error) return <Fault problem={pages.query.error} />;
  if (!pages.query.data) return <Waiting what="conflicts" />;
  const open = pages.rows.filter((each) => each.state === "open");
  const one = rules.find((each) => each.key === rule);
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <Choice
          label="Rule"
          all="All rules"
          value={rule}
          options={rules.map((each) => ({ value: each.key, text: each.name }))}
          onChange={(value) => set("rule", value)}
        />
        <Choice
          label="State"
          all="Open and allowed"
          value={state}
          options={[
            { value: "open", text: "Open" },
            { value: "exempt", text: "Allowed" },
          ]}
          onChange={(value) => set("state", value)}
        />
        {group && (
          <span className="text-dense text-muted">
            in {group} · <Link to={`/conflicts${rule ? `?rule=${rule}` : ""}`}>in all</Link>
          </span>
        )}
        {one && open.length > 1 && may(session, "exempt") && (
          <Button onClick={() => setAllowing(!allowing)}>Allow these {open.length} alike</Button>
        )}
      </div>
      {allowing && one && (
        <ExemptForm
          ids={open.map((each) => each.id)}
          longestDays={one.longestDays}
          controls={[]}
          close={() => setAllowing(false)}
        />
      )}
      {pages.rows.length === 0 ? (
        <Empty title="There is no conflict.">
          Whoever holds something of every side of a rule would stand here, with how each side came about.
        </Empty>
      ) : (
        <Table
          name="Conflicts"
          rows={pages.rows}
          columns={columns(zone)}
          open={(row) => void navigate(`/conflicts/${row.id}`)}
          more={pages.more}
          complete={pages.complete}
          whole={pages.whole}
        />
      )}
    </>
  );
}
