import type { Schemas } from "../api/client";

/** The kinds of drift, in the order in which they matter. */
export const kinds: Record<string, string> = {
  "ghost-account": "ghost account",
  "extra-entitlement": "extra right",
  "stray-account": "stray account",
  "missing-account": "missing account",
  "missing-entitlement": "missing right",
  "altered-attribute": "altered by hand",
};

/** What differs, side by side: what should be there, and what is. */
export function differences(drift: Pick<Schemas["DriftShown"], "expected" | "found">) {
  const names = [...new Set([...Object.keys(drift.expected), ...Object.keys(drift.found)])].sort();
  return names.map((name) => ({
    name,
    expected: drift.expected[name] ?? "",
    found: drift.found[name] ?? "",
  }));
}

/** The same in one line; of an account that is nobody's, only what is known of it. */
export function inOneLine(drift: Pick<Schemas["DriftShown"], "expected" | "found" | "kind">) {
  if (drift.kind === "stray-account") {
    return Object.entries(drift.found)
      .map(([name, value]) => `${name}: ${value}`)
      .join("; ");
  }
  return differences(drift)
    .map((each) => `${each.name}: ${each.expected || "nothing"} → ${each.found || "nothing"}`)
    .join("; ");
}
