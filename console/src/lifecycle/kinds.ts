/** Every kind of event: one of it, and many of it. */
const words: Record<string, [string, string]> = {
  joiner: ["joiner", "joiners"],
  rehire: ["rehire", "rehires"],
  mover: ["mover", "movers"],
  leaver: ["leaver", "leavers"],
  correction: ["correction", "corrections"],
  "start-moved": ["moved start", "moved starts"],
  "leave-begins": ["leave begins", "leaves begin"],
  "leave-ends": ["leave ends", "leaves end"],
};

export const kinds = Object.keys(words);

/** “3 joiners”, “1 leave begins”: the words without the number. */
export function kindWord(kind: string, number: number): string {
  const [one, many] = words[kind] ?? [kind, kind];
  return number === 1 ? one : many;
}

/** Events counted by kind, in words; the most of a kind first. */
export function counted(events: Record<string, number>): string[] {
  return Object.entries(events)
    .sort(([, a], [, b]) => b - a)
    .map(([kind, number]) => `${number.toLocaleString("en-GB")} ${kindWord(kind, number)}`);
}
