import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession } from "../api/session";
import { Button, ButtonLink } from "../parts/button";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

type Source = Schemas["SourceShown"];

/** Where people come from, and looking now whether something is there. */
export function Sources() {
  const { data: sources = [] } = useQuery({
    queryKey: ["sources"],
    queryFn: () => data(api.GET("/api/v1/sources")),
  });
  if (sources.length === 0) return null;
  return (
    <>
      <Heading>Sources</Heading>
      <ul className="border-t border-rule">
        {sources.map((source) => (
          <SourceLine key={source.key} source={source} />
        ))}
      </ul>
    </>
  );
}

function SourceLine({ source }: { source: Source }) {
  const queries = useQueryClient();
  const { data: session } = useSession();
  const collect = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/sources/{key}/collect", { params: { path: { key: source.key } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["feeds"] }),
  });
  const comes = source.view || source.drop;
  const begun = collect.data?.begun ?? [];
  return (
    <li className="border-b border-rule py-2">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <span className="w-64 font-bold">{source.name}</span>
        <span className="min-w-0 grow text-dense text-muted">{sentence(source)}</span>
        {source.form && may(session, "load-feeds") && <ButtonLink to="/records">Write a record</ButtonLink>}
        {comes && may(session, "load-feeds") && (
          <Button disabled={collect.isPending} onClick={() => collect.mutate()}>
            {collect.isPending ? "Looking" : "Look now"}
          </Button>
        )}
      </div>
      {collect.error && <Fault problem={collect.error} />}
      {collect.data && (
        <p role="status" className="text-dense text-muted">
          {begun.length === 0 && "There is nothing new."}
          {begun.map((each) => (
            <span key={each.work} className="mr-4">
              {each.fileName} <Link to={`/feeds?load=yes&work=${each.work}`}>is being loaded</Link>
            </span>
          ))}
        </p>
      )}
    </li>
  );
}

function sentence(source: Source): string {
  const all = source.mode === "full" ? "names everybody" : "names who changed";
  const from = source.view
    ? "read from a database"
    : source.drop
      ? `dropped into ${source.drop}`
      : source.push
        ? `pushed by ${source.push}`
        : source.form
          ? "written by the people desk in a form"
          : "brought by somebody";
  const at = source.at ? `, looked at by ${source.at}` : "";
  const missing =
    source.missingAfter > 1 ? `; missing from ${source.missingAfter} in a row, somebody has left` : "";
  return `${all}, ${from}${at}${missing}`;
}
