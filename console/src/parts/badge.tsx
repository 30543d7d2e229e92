import { Clock, Info, type LucideIcon } from "lucide-react";

type Tone = "success" | "warning" | "danger" | "info" | "muted" | "accent";

const tones: Record<Tone, string> = {
  success: "bg-success-wash text-success",
  warning: "bg-warning-wash text-warning",
  danger: "bg-danger-wash text-danger",
  info: "bg-info-wash text-info",
  muted: "bg-muted-wash text-muted",
  accent: "bg-accent-wash text-accent",
};

/** How a state looks: its tone and its glyph; its word is its key. */
export type State = [Tone, LucideIcon];

const states: Record<string, State> = { waiting: ["warning", Clock] };

/** Takes the states of a room's things; what no room knows has no tone. */
export function registerStates(more: Record<string, State>) {
  Object.assign(states, more);
}

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
