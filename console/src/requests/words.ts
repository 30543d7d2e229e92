const deciders: Record<string, string> = {
  "line-manager": "line manager",
  "managers-manager": "manager's manager",
  "application-owners": "application's owner",
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

/** A condition of a question that the console can tell by itself: `answers["key"] == "value"`. */
const simple = /^answers\["(\w+)"\] == "([^"]*)"$/;

/** Whether a question is asked, with the answers so far; the service decides in the end. */
export function isAsked(where: string, answers: Record<string, string>): boolean {
  const found = simple.exec(where);
  return !found || (answers[found[1]!] ?? "") === found[2];
}

/** What comes with something, by application: “Quaybook: Sell tickets, Check passengers in”. */
export function givesOf(gives: { name: string; application: string }[]): string {
  const by = new Map<string, string[]>();
  for (const each of gives) by.set(each.application, [...(by.get(each.application) ?? []), each.name]);
  return [...by].map(([application, names]) => `${application}: ${names.join(", ")}`).join(" · ");
}
