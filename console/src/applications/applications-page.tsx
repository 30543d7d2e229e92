import { useNavigate } from "react-router";
import { type Schemas } from "../api/client";
import { useNow } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { away, count } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { useApplications } from "./use-applications";

/** The applications, their health and their load. */
export function ApplicationsPage() {
  const navigate = useNavigate();
  const applications = useApplications({ refetchInterval: 5_000 });
  const rows = applications.data ?? [];
  const unwell = rows.filter((row) => row.health === "unwell").length;
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Applications">
        {applications.data
          ? `${count(rows.length, "application", "applications")}, ${unwell === 0 ? "all well" : `${unwell} unwell`}`
          : "…"}
      </Title>
      {applications.error && <Fault problem={applications.error} retry={() => void applications.refetch()} />}
      {applications.isPending && !applications.error && <Waiting what="applications" />}
      {applications.data && rows.length === 0 && (
        <Empty title="No application is defined yet.">
          Define one in a file and load it: <code className="font-mono">glenmoor define load FILE</code>
        </Empty>
      )}
      <ul className="mt-5">
        {rows.map((row) => (
          <Row key={row.key} row={row} open={() => navigate(`/applications/${row.key}`)} />
        ))}
      </ul>
    </>
  );
}

function Row({ row, open }: { row: Schemas["Summary"]; open: () => void }) {
  const now = useNow();
  const share = row.accounts > 0 ? (row.enabled / row.accounts) * 100 : 0;
  return (
    <li
      className={`border-t-3 ${row.health === "unwell" ? "border-danger" : row.health === "well" ? "border-success" : "border-muted"} mb-6`}
    >
      <button
        type="button"
        onClick={open}
        className="grid w-full grid-cols-1 items-center gap-x-6 gap-y-1 py-3 text-left hover:bg-muted-wash md:grid-cols-[15rem_1fr_24rem_6rem]"
      >
        <span>
          <span className="block font-bold">{row.name}</span>
          <span className="font-mono text-dense text-muted">
            {row.key} · {row.connector}
          </span>
        </span>
        <span className="min-w-0">
          <span className={`block truncate ${row.health === "unwell" ? "text-danger" : ""}`}>
            {row.sentence}
          </span>
          <span className="text-dense text-muted">{row.since ? `since ${away(row.since, now)}` : ""}</span>
        </span>
        <span>
          <span className="block h-1.5 bg-rule" aria-hidden>
            <span className="block h-1.5 bg-success" style={{ width: `${share}%` }} />
          </span>
          <span className="text-dense text-muted">
            {count(row.accounts, "account", "accounts")}, {row.enabled} enabled · {row.confirmedToday}{" "}
            confirmed today
            {row.waiting > 0 && <span className="text-warning"> · {row.waiting} waiting</span>}
            {row.faults > 0 && <span className="text-danger"> · {count(row.faults, "fault", "faults")}</span>}
          </span>
        </span>
        <Badge state={row.health} />
      </button>
    </li>
  );
}
