import type { Schemas } from "../api/client";

type Said = Schemas["StepSaid"];

/** What a step does, in a few words of the playbook's own. */
export function stepTitle(said: Said): string {
  const { does, what, more } = said;
  switch (does) {
    case "letter":
      return `Letter “${what}” to ${more.to ?? "person"}`;
    case "passcode":
      return `Passcode for ${what}, told to ${more.to ?? "manager"}`;
    case "account":
      return `Account in ${what} is ${more.is ?? "enabled"}`;
    case "give":
      return more.for ? `Give ${what} for ${more.for}` : `Give ${what}`;
    case "end":
      return `End ${what}`;
    case "ticket":
      return `Ticket: ${what}`;
    case "chat":
      return `Say it in ${what}`;
    case "webhook":
      return `Tell ${what}`;
    case "ask":
      return `Ask ${more.of ?? "manager"}`;
    case "wait":
      return `Wait ${what}`;
    case "hand-over":
      return `Hand over to the ${what}`;
    case "erase":
      return `Erase the ${what}`;
    case "reset":
      return `Replace the secret in ${what}`;
    default:
      return `${does[0]!.toUpperCase()}${does.slice(1)} the account in ${what}`;
  }
}

/** What a step says beside that, such as the text of a ticket. */
export function stepText(said: Said): string {
  return said.does === "ask" ? said.what : (said.more.text ?? "");
}

/** How many runs are not over. */
export const unfinished = (runs: Record<string, number>) =>
  (runs.open ?? 0) + (runs.held ?? 0) + (runs.stopped ?? 0);
