import { TriangleAlert } from "lucide-react";
import type { ReactNode } from "react";
import { Problem } from "../api/client";
import { Button } from "./button";

/** Nothing is here yet: what would be, and how to get it. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="border-y border-rule py-8">
      <p className="text-lead">{title}</p>
      {children && <div className="mt-1 max-w-prose text-muted">{children}</div>}
    </div>
  );
}

/** Something went wrong: what, and a way on. */
export function Fault({ problem, retry }: { problem: unknown; retry?: () => void }) {
  const sentence = problem instanceof Error ? problem.message : "Something went wrong.";
  const errors = problem instanceof Problem ? problem.errors : [];
  return (
    <div role="alert" className="flex gap-3 border-l-3 border-danger bg-danger-wash px-4 py-3">
      <TriangleAlert size={18} className="mt-0.5 shrink-0 text-danger" aria-hidden />
      <div className="min-w-0 grow">
        <p>{sentence}</p>
        {errors.length > 0 && (
          <ul className="mt-1 text-dense">
            {errors.map((each) => (
              <li key={each.pointer + each.detail}>
                <span className="font-mono">{each.pointer}</span> {each.detail}
              </li>
            ))}
          </ul>
        )}
      </div>
      {retry && <Button onClick={retry}>Try again</Button>}
    </div>
  );
}

/** Something is on its way. */
export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="py-6 text-muted">
      Loading {what} …
    </p>
  );
}

/** How far long work has come, with a count; it can be left. */
export function ProgressLine({ sentence, done, total }: { sentence: string; done: number; total: number }) {
  const share = total > 0 ? Math.min(1, done / total) : undefined;
  return (
    <div role="status" className="py-3">
      <div className="mb-1 flex justify-between text-dense text-muted">
        <span>{sentence}</span>
        {share !== undefined && <span>{Math.round(share * 100)} %</span>}
      </div>
      <div
        className="h-1 overflow-hidden bg-rule"
        role="progressbar"
        aria-label={sentence}
        aria-valuenow={share === undefined ? undefined : Math.round(share * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
      >
        <div
          className={`h-1 bg-accent ${share === undefined ? "w-1/4 animate-pulse" : ""}`}
          style={share === undefined ? undefined : { width: `${share * 100}%` }}
        />
      </div>
    </div>
  );
}
