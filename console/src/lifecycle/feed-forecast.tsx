import { useState } from "react";
import type { Schemas } from "../api/client";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { count, day } from "../parts/moments";
import { MirroredBars } from "../parts/mirroredbars";
import { Heading } from "../parts/title";
import { kindWord } from "./kinds";

/** What a feed would come to, as the service's forecast gives it. */
export type Forecasted = Schemas["Forecasted"];

/** The forecast: gains and losses around one line, the sums, then everybody it touches. */
export function FeedForecast({
  name,
  forecast,
  zone,
  load,
  drop,
}: {
  name: string;
  forecast: Forecasted;
  zone: string;
  load: () => void;
  drop: () => void;
}) {
  const [by, setBy] = useState<"group" | "application">(forecast.sum.groupedBy ? "group" : "application");
  const { sum } = forecast;
  const bars = Object.entries(by === "group" ? sum.byGroup : sum.byApplication)
    .map(([key, balance]) => ({ name: key, ...balance }))
    .filter((row) => row.losses + row.gains > 0);
  const ways = [
    ...(sum.groupedBy ? [["group", sum.groupedBy.toLowerCase()] as const] : []),
    ["application", "application"] as const,
  ];
  const numbers: [string, string][] = [
    [String(sum.people), "people change"],
    [
      String(sum.operations),
      sum.operations > 0 ? `operations: ${counts(sum.operationsByKind)}` : "operations",
    ],
    ...Object.entries(forecast.events).map(([kind, number]): [string, string] => [
      String(number),
      kindWord(kind, number),
    ]),
    [String(forecast.rejected), "rows would be rejected"],
  ];
  return (
    <div>
      {forecast.warnings.map((warning) => (
        <p key={warning} role="status" className="mb-3 border-l-3 border-warning bg-warning-wash px-4 py-2">
          {warning}.
        </p>
      ))}
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="grow text-lead">
          <b>{name}</b> <span className="text-muted">— what it would do; nothing was done yet</span>
        </h2>
        <Button kind="primary" onClick={load}>
          {sum.people > 0
            ? `Load it: ${count(sum.operations, "operation", "operations")} now`
            : "Load it all the same"}
        </Button>
        <Button onClick={drop}>Drop it</Button>
      </div>
      <div className="mt-4 grid gap-8 lg:grid-cols-[3fr_2fr]">
        <div>
          <div className="mb-2 text-dense text-muted">
            who loses (left) and gains (right), by{" "}
            {ways.map(([each, name]) => (
              <button
                key={each}
                type="button"
                onClick={() => setBy(each)}
                className={`mr-2 ${by === each ? "font-bold text-ink" : "underline"}`}
              >
                {name}
              </button>
            ))}
          </div>
          {bars.length === 0 ? (
            <p className="text-muted">Nobody gains or loses anything.</p>
          ) : (
            <MirroredBars title={`By ${by === "group" ? sum.groupedBy.toLowerCase() : by}`} rows={bars} />
          )}
        </div>
        <dl>
          {numbers.map(([number, what]) => (
            <div key={what} className="flex items-baseline gap-3 border-t border-rule py-1.5">
              <dt className="w-14 text-right text-lead font-bold">{number}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </div>
      <Heading
        aside={
          sum.lines.length === 0
            ? "nobody: everything is as before"
            : count(sum.lines.length, "person", "people")
        }
      >
        Everybody it touches
      </Heading>
      <ul
        className="max-h-72 overflow-y-auto border-y border-rule"
        tabIndex={0}
        aria-label="Everybody it touches"
      >
        {sum.lines.map((line) => (
          <li
            key={line.worker}
            className="grid grid-cols-[14rem_7rem_1fr] items-start gap-3 border-b border-rule py-1.5 last:border-0"
          >
            <span className="truncate">
              <b>{line.name}</b> <span className="font-mono text-dense text-muted">{line.worker}</span>
            </span>
            <span>
              <Badge state={line.event} />
            </span>
            <span className="text-dense leading-6">
              {line.losses.map((each) => (
                <span key={each} className="mr-3 text-danger">
                  − {each}
                </span>
              ))}
              {line.gains.map((each) => (
                <span key={each} className="mr-3 text-success">
                  + {each}
                </span>
              ))}
              {line.losses.length + line.gains.length === 0 && (
                <span className="text-muted">
                  nothing now{line.next && `, something on ${day(line.next, zone)}`}
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
      {forecast.rejects.length > 0 && (
        <>
          <Heading aside={count(forecast.rejected, "row", "rows")}>Would be rejected</Heading>
          <ul className="text-dense">
            {forecast.rejects.map((each) => (
              <li key={`${each.line}${each.column}`} className="py-0.5">
                line {each.line} <span className="font-mono">{each.worker}</span> {each.column}: {each.found}{" "}
                — expected {each.expected}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function counts(kinds: Record<string, number>): string {
  return Object.entries(kinds)
    .map(([kind, number]) => `${number} ${kind}`)
    .join(", ");
}
