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

type Tone = "success" | "warning" | "danger" | "info" | "muted" | "accent";

const tones: Record<Tone, string> = {
  success: "bg-success-wash text-success",
  warning: "bg-warning-wash text-warning",
  danger: "bg-danger-wash text-danger",
  info: "bg-info-wash text-info",
  muted: "bg-muted-wash text-muted",
  accent: "bg-accent-wash text-accent",
};

/** Every state there is: its word is its key, its glyph and its tone stand here and nowhere else. */
const states: Record<string, [Tone, LucideIcon]> = {
  active: ["success", CircleCheck],
  expected: ["info", Clock],
  "on-leave": ["warning", CirclePause],
  left: ["muted", UserMinus],
  erased: ["muted", Minus],
  enabled: ["success", CircleCheck],
  disabled: ["warning", CirclePause],
  none: ["muted", Minus],
  well: ["success", CircleCheck],
  unwell: ["danger", TriangleAlert],
  unknown: ["muted", CircleDashed],
  waiting: ["warning", Clock],
  sent: ["info", CircleDashed],
  confirmed: ["success", CircleCheck],
  fault: ["danger", CircleX],
  "by-hand": ["muted", Eye],
  "given-up": ["muted", Minus],
  superseded: ["muted", CircleDashed],
  released: ["success", CircleCheck],
  dropped: ["muted", Minus],
  loaded: ["success", CircleCheck],
  reading: ["info", CircleDashed],
  refused: ["danger", CircleX],
  joiner: ["success", UserPlus],
  rehire: ["success", UserPlus],
  mover: ["info", CircleDashed],
  leaver: ["danger", UserMinus],
  correction: ["muted", Info],
  "leave-begins": ["warning", CirclePause],
  "leave-ends": ["success", CircleCheck],
  "start-moved": ["info", Clock],

  "being added": ["info", Clock],
  "being removed": ["warning", Clock],
};

export const stateTone = (state: string): Tone => states[state]?.[0] ?? "muted";

/** A state: its word and its glyph, never colour alone. */
export function Badge({ state, children }: { state: string; children?: string }) {
  const [tone, Glyph] = states[state] ?? (["muted", Info] as const);
  return (
    <span
      className={`inline-flex h-6 items-center gap-1 rounded-sm px-2 text-dense whitespace-nowrap ${tones[tone]}`}
    >
      <Glyph size={13} aria-hidden />
      {children ?? state.replace("-", " ")}
    </span>
  );
}
