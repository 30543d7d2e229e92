import { ArrowRight } from "lucide-react";
import type { Schemas } from "../api/client";

const tones: Record<string, string> = {
  standing: "border-muted",
  fact: "border-info",
  birthright: "border-accent",
  request: "border-accent",
  direct: "border-accent",
  package: "border-accent",
  entitlement: "border-success",
  account: "border-success",
};

/** Why: from facts to a right, read left to right. */
export function WhyPath({ path }: { path: Schemas["Path"] }) {
  return (
    <ol className={`flex flex-wrap items-stretch gap-y-3 ${path.inForce ? "" : "opacity-70"}`}>
      {path.links.map((link, index) => (
        <li key={index} className="flex items-center">
          {index > 0 && <ArrowRight size={18} className="mx-3 shrink-0 text-muted" aria-label="leads to" />}
          <div className={`min-h-full max-w-64 border-l-3 pl-2 ${tones[link.kind] ?? "border-muted"}`}>
            <div className="text-dense text-muted">{link.kind}</div>
            <div className="leading-5">{link.text}</div>
            {link.detail && <div className="font-mono text-dense break-words text-muted">{link.detail}</div>}
          </div>
        </li>
      ))}
    </ol>
  );
}
