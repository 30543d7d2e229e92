import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, data, Problem, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { Field } from "../parts/field";
import { GroupBars } from "../parts/group-bars";
import { count, day, lastDay } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { PageFault } from "../parts/page-fault";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Heading, Title } from "../parts/title";
import { givesOf } from "./words";

type Holder = Schemas["PackageHolder"];

/** One package, for those who look after it: what it gives, who has it and how, and giving it directly. */
export function PackagePage() {
  const { portfolio: key = "", package: rolePackage = "" } = useParams();
  const portfolio = useQuery({
    queryKey: ["portfolio", key],
    queryFn: () => data(api.GET("/api/v1/portfolios/{key}", { params: { path: { key } } })),
  });
  const across = useQuery({
    queryKey: ["package-across", key, rolePackage],
    queryFn: () =>
      data(
        api.GET("/api/v1/portfolios/{key}/packages/{package}/across", {
          params: { path: { key, package: rolePackage } },
        }),
      ),
  });
  const problem = portfolio.error ?? across.error;
  if (problem) return <PageFault problem={problem} />;
  const found = portfolio.data?.packages.find((each) => each.key === rolePackage);
  if (!portfolio.data || !across.data || !found) return <Waiting what="the package" />;
  const direct = found.offers.filter((offer) => offer.direct && offer.open);
  return (
    <>
      <Title strong={found.name}>held by {count(found.holders, "person", "people")}</Title>
      <p className="mt-1 flex flex-wrap gap-x-6 text-dense text-muted">
        <Link to={`/portfolios/${key}`}>{portfolio.data.name}</Link>
        <span>{givesOf(found.gives)}</span>
        {portfolio.data.builds && <Link to={`/definitions/package/${rolePackage}`}>Change it</Link>}
      </p>
      <p className="mt-2">{found.purpose}</p>
      {across.data.groups.length > 0 && (
        <GroupBars groupedBy={across.data.groupedBy} groups={across.data.groups} />
      )}
      {portfolio.data.gives && direct.length > 0 && <Give offers={direct} />}
      <Heading aside="and how it came to them">Who has it</Heading>
      <Holders portfolio={key} rolePackage={rolePackage} />
    </>
  );
}

/** Gives somebody what an offer is for, where it allows that without an ask. */
function Give({ offers }: { offers: Schemas["OfferOf"][] }) {
  const zone = useZone();
  const queries = useQueryClient();
  const [offer, setOffer] = useState(offers[0]?.key ?? "");
  const [worker, setWorker] = useState("");
  const [reason, setReason] = useState("");
  const [answers, setAnswers] = useState("");
  const body = {
    offer,
    worker,
    reason,
    answers: Object.fromEntries(
      answers
        .split(",")
        .map((each) => each.split("=").map((part) => part.trim()))
        .filter((pair): pair is [string, string] => pair.length === 2 && pair[0] !== ""),
    ),
  };
  const settled = () => queries.invalidateQueries();
  const preview = useMutation({ mutationFn: () => data(api.POST("/api/v1/grants/preview", { body })) });
  const give = useMutation({
    mutationFn: () => data(api.POST("/api/v1/grants", { body })),
    onSuccess: () => {
      setWorker("");
      setReason("");
      preview.reset();
    },
    onSettled: settled,
  });
  const problem = give.error ?? preview.error;
  const asksMore =
    problem instanceof Problem && problem.errors.some((each) => each.pointer.includes("answers"));
  return (
    <details className="mt-4 border-y border-rule py-3">
      <summary className="cursor-pointer text-accent">Give it to somebody directly</summary>
      <div className="mt-3 flex flex-col gap-3">
        {offers.length > 1 && (
          <Choice
            label="By which offer"
            all="Choose an offer"
            value={offer}
            options={offers.map((each) => ({ value: each.key, text: each.name }))}
            onChange={setOffer}
          />
        )}
        <div className="flex flex-wrap items-end gap-3">
          <Field
            label="Worker number"
            value={worker}
            onChange={(event) => {
              setWorker(event.target.value);
              preview.reset();
            }}
          />
          <PersonChoice label="Find somebody" choose={setWorker} />
          <Field
            label="Why; it is kept"
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-56 max-w-md grow"
          />
          {(asksMore || answers) && (
            <Field
              label="Answers, such as harbour = Westholm"
              value={answers}
              onChange={(event) => setAnswers(event.target.value)}
              className="min-w-56"
            />
          )}
        </div>
        {problem && <Fault problem={problem} />}
        {preview.data && (
          <p className="border-l-3 border-info pl-4">
            {preview.data.subject.name} would have it from {day(preview.data.startsAt, zone)}
            {preview.data.endsAt ? ` to ${lastDay(preview.data.endsAt, zone)}` : ", with no end"}:{" "}
            {givesOf(preview.data.gives)}
          </p>
        )}
        {give.data && !preview.data && (
          <p role="status" className="text-success">
            {give.data.subject.name} has it{give.data.endsAt ? ` to ${lastDay(give.data.endsAt, zone)}` : ""}.
          </p>
        )}
        <div>
          <Button
            kind="primary"
            disabled={!worker.trim() || !reason.trim() || give.isPending || preview.isPending}
            onClick={() => (preview.data ? give.mutate() : preview.mutate())}
          >
            {preview.data ? `Give it to ${preview.data.subject.name}` : "See what it would give"}
          </Button>
        </div>
      </div>
    </details>
  );
}

function Holders({ portfolio, rolePackage }: { portfolio: string; rolePackage: string }) {
  const zone = useZone();
  const [ending, setEnding] = useState<Holder>();
  const pages = usePages(["package-holders", portfolio, rolePackage], (after) =>
    data(
      api.GET("/api/v1/portfolios/{key}/packages/{package}/holders", {
        params: { path: { key: portfolio, package: rolePackage }, query: { after, limit: 200 } },
      }),
    ),
  );
  if (pages.query.error) return <Fault problem={pages.query.error} />;
  if (!pages.query.data) return <Waiting what="who has it" />;
  const columns: Column<Holder>[] = [
    {
      id: "name",
      header: "Name",
      accessorKey: "name",
      cell: ({ row }) => <RowLink to={`/people/${row.original.worker}`}>{row.original.name}</RowLink>,
    },
    { id: "detail", header: "Where", accessorKey: "detail", wide: true },
    { id: "basis", header: "How", accessorFn: (row) => `${row.basis}: ${row.by}` },
    { id: "from", header: "From", accessorFn: (row) => day(row.from, zone) },
    { id: "to", header: "To", accessorFn: (row) => (row.to ? lastDay(row.to, zone) : "no end") },
    {
      id: "end",
      header: "You may",
      accessorFn: (row) => (row.endable ? "end it" : ""),
      cell: ({ row }) =>
        row.original.endable ? (
          <Button
            kind="quiet"
            aria-label={`End it for ${row.original.name}`}
            onClick={() => setEnding(row.original)}
          >
            End
          </Button>
        ) : null,
    },
  ];
  return (
    <>
      {ending && <EndIt holder={ending} close={() => setEnding(undefined)} />}
      {pages.rows.length === 0 ? (
        <Empty title="Nobody has it.">Whoever is given it would stand here.</Empty>
      ) : (
        <Table
          name="Who has it"
          rows={pages.rows}
          columns={columns}
          more={pages.more}
          complete={pages.complete}
          whole={pages.whole}
        />
      )}
    </>
  );
}

function EndIt({ holder, close }: { holder: Holder; close: () => void }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const end = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/grants/{id}/end", { params: { path: { id: holder.grant } }, body: { reason } })),
    onSuccess: close,
    onSettled: () => queries.invalidateQueries(),
  });
  return (
    <div className="mb-3 border-l-3 border-danger pl-4">
      {end.error && <Fault problem={end.error} />}
      <div className="flex flex-wrap items-end gap-2">
        <Field
          label={`Why ${holder.name} has it no longer; it is kept`}
          value={reason}
          maxLength={1000}
          onChange={(event) => setReason(event.target.value)}
          className="min-w-64 max-w-lg grow"
        />
        <Button kind="danger" disabled={!reason.trim() || end.isPending} onClick={() => end.mutate()}>
          End it at once
        </Button>
        <Button onClick={close}>Leave it</Button>
      </div>
    </div>
  );
}
