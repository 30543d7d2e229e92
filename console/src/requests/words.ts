const deciders: Record<string, string> = {
  "line-manager": "line manager",
  "managers-manager": "manager's manager",
  "application-owners": "application's owner",
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
