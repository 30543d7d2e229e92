const deciders: Record<string, string> = {
  "line-manager": "line manager",
  "managers-manager": "manager's manager",
  "application-owners": "application's owner",
  "entitlement-owners": "who answers for the right",
  "conflict-owners": "who answers for the conflict",
};

/** Who is asked at a stage, in words: “line manager or steward”. */
export function decidersOf(ask: string[], agree = "any"): string {
  return ask.map((each) => deciders[each] ?? each).join(agree === "all" ? " and " : " or ");
}

const notes: Record<string, string> = {
  approve: "agreed",
  decline: "declined",
  hold: "waits",
  "go-on": "goes on",
  "pass-on": "passed on",
  "ask-back": "asks back",
  said: "said",
  asked: "asked as well",
  reminded: "reminded",
  nobody: "found nobody",
  approved: "all agreed",
  declined: "declined",
  lapsed: "lapsed",
  withdrawn: "withdrawn",
  dropped: "dropped",
};

/** What somebody did about a request, after their name. */
export const noteWords = (what: string) => notes[what] ?? what;

const kinds: Record<string, string> = {
  extend: "for longer",
  change: "with other answers",
  remove: "to have it no longer",
  resume: "once more",
};

/** What kind of ask it is, where it is nothing new. */
export const kindWords = (kind: string) => kinds[kind] ?? "";

/** What comes with something, by application: “Quaybook: Sell tickets, Check passengers in”. */
export function givesOf(gives: { name: string; application: string }[]): string {
  const by = new Map<string, string[]>();
  for (const each of gives) by.set(each.application, [...(by.get(each.application) ?? []), each.name]);
  return [...by].map(([application, names]) => `${application}: ${names.join(", ")}`).join(" · ");
}

const HOUR = 3_600;

/** How long something took, from seconds: 40 min, 5 h, 3 days. */
export function lasted(seconds: number): string {
  if (seconds < HOUR) return `${Math.max(1, Math.round(seconds / 60))} min`;
  if (seconds < 48 * HOUR) return `${Math.round(seconds / HOUR)} h`;
  return `${Math.round(seconds / (24 * HOUR))} days`;
}
