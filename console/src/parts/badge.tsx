import {
  CircleCheck,
  CircleDashed,
  CirclePause,
  CircleX,
  Clock,
  Eye,
  Info,
  Minus,
  TriangleAlert,
  UserMinus,
  UserPlus,
  type LucideIcon,
} from "lucide-react";

type Tone = "moss" | "bracken" | "rowan" | "loch" | "stone" | "heather";

const tones: Record<Tone, string> = {
  moss: "bg-moss-wash text-moss",
  bracken: "bg-bracken-wash text-bracken",
  rowan: "bg-rowan-wash text-rowan",
  loch: "bg-loch-wash text-loch",
  stone: "bg-stone-wash text-stone",
  heather: "bg-heather-wash text-heather",
};

/** Every state there is: its word is its key, its glyph and its tone stand here and nowhere else. */
const states: Record<string, [Tone, LucideIcon]> = {
  active: ["moss", CircleCheck],
  expected: ["loch", Clock],
  "on-leave": ["bracken", CirclePause],
  left: ["stone", UserMinus],
  erased: ["stone", Minus],
  enabled: ["moss", CircleCheck],
  disabled: ["bracken", CirclePause],
  none: ["stone", Minus],
  well: ["moss", CircleCheck],
  unwell: ["rowan", TriangleAlert],
  unknown: ["stone", CircleDashed],
  waiting: ["bracken", Clock],
  sent: ["loch", CircleDashed],
  confirmed: ["moss", CircleCheck],
  fault: ["rowan", CircleX],
  "by-hand": ["stone", Eye],
  "given-up": ["stone", Minus],
  superseded: ["stone", CircleDashed],
  released: ["moss", CircleCheck],
  dropped: ["stone", Minus],
  loaded: ["moss", CircleCheck],
  reading: ["loch", CircleDashed],
  refused: ["rowan", CircleX],
  joiner: ["moss", UserPlus],
  rehire: ["moss", UserPlus],
  mover: ["loch", CircleDashed],
  leaver: ["rowan", UserMinus],
  correction: ["stone", Info],
  "leave-begins": ["bracken", CirclePause],
  "leave-ends": ["moss", CircleCheck],
  "start-moved": ["loch", Clock],
  held: ["moss", CircleCheck],
  "being added": ["loch", Clock],
  "being removed": ["bracken", Clock],
};

export const stateTone = (state: string): Tone => states[state]?.[0] ?? "stone";

/** A state: its word and its glyph, never colour alone. */
export function Badge({ state, children }: { state: string; children?: string }) {
  const [tone, Glyph] = states[state] ?? (["stone", Info] as const);
  return (
    <span
      className={`inline-flex h-6 items-center gap-1 rounded-sm px-2 text-dense whitespace-nowrap ${tones[tone]}`}
    >
      <Glyph size={13} aria-hidden />
      {children ?? state.replace("-", " ")}
    </span>
  );
}
