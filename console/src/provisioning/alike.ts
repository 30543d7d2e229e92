import type { Schemas } from "../api/client";

type Operation = Schemas["Operation"];

export type Alike = { application: string; reason: string; faults: Operation[] };

/** Faults of one application with one reason are one thing to mend. */
export function alike(faults: Operation[]): Alike[] {
  const groups = new Map<string, Alike>();
  for (const fault of faults) {
    const key = `${fault.application}\n${fault.reason}`;
    const group = groups.get(key) ?? { application: fault.application, reason: fault.reason, faults: [] };
    group.faults.push(fault);
    groups.set(key, group);
  }
  return [...groups.values()];
}
