import { useSyncExternalStore } from "react";

/** One thing on the list of what somebody is about to ask for. */
export type Listed = { offer: string; name: string; answers: Record<string, string>; reason: string };

const KEY = "glenmoor-asks";
let known: Listed[] | undefined;
const listeners = new Set<() => void>();

function read(): Listed[] {
  if (!known) {
    try {
      known = JSON.parse(sessionStorage.getItem(KEY) ?? "[]") as Listed[];
    } catch {
      known = [];
    }
  }
  return known;
}

/** Puts things on the list in the place of all that stood there. It lasts as long as the tab. */
export function listAsks(asks: Listed[]) {
  known = asks;
  sessionStorage.setItem(KEY, JSON.stringify(asks));
  listeners.forEach((each) => each());
}

/** Adds one thing; what is asked for under the same offer is replaced. */
export function addAsk(ask: Listed) {
  listAsks([...read().filter((each) => each.offer !== ask.offer), ask]);
}

/** What is on the list. */
export function useListedAsks(): Listed[] {
  return useSyncExternalStore((changed) => {
    listeners.add(changed);
    return () => listeners.delete(changed);
  }, read);
}
