import { Circle, CircleCheck, CircleX } from "lucide-react";
import { useState } from "react";
import { useNow, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { day } from "../parts/moments";
import { ItemDetail } from "./item-detail";
import { YearOf } from "./year-of";
import type { By } from "./filters";
import type { Judging } from "./use-judging";
import type { Item } from "./use-reviews";

const suggested: Record<string, [string, string]> = {
  keep: ["Keep.", "text-success"],
  look: ["Look closely.", "text-warning"],
  revoke: ["Revoke.", "text-danger"],
};

/** One item: what it is and how it came, its last year, who else has it, what the record suggests, the decision. */
export function ItemRow({
  item,
  by,
  selected,
  select,
  judging,
  level,
}: {
  item: Item;
  by: By;
  selected: boolean;
  select: () => void;
  judging?: Judging;
  level: number;
}) {
  const zone = useZone();
  const now = useNow();
  const [opened, setOpened] = useState(false);
  const [word, tone] = suggested[item.suggestion] ?? ["", ""];
  const wantsReason = judging?.needsReason === item.id;
  return (
    <li
      className={`border-b border-rule ${selected ? "border-l-3 border-l-accent bg-accent-wash" : "border-l-3 border-l-transparent"}`}
      aria-current={selected ? "true" : undefined}
    >
      <div className="grid items-center gap-x-5 gap-y-2 px-3 py-2 md:grid-cols-[minmax(13rem,1.3fr)_11rem_7rem_minmax(12rem,1.4fr)_auto]">
        <div className="flex min-w-0 items-start gap-2">
          <Mark judgement={item.judgement} />
          <div className="min-w-0">
            <button
              type="button"
              className="text-left font-bold hover:underline"
              aria-expanded={opened}
              onClick={() => {
                select();
                setOpened(!opened);
              }}
            >
              {by === "target" ? item.person || item.account : item.name}
            </button>
            <p className="text-dense text-muted">
              {by === "person"
                ? item.applicationName
                : by === "target"
                  ? item.detail
                  : `${item.person || item.account}${item.detail ? `, ${item.detail}` : ""}`}
              {item.why && ` · ${item.why}`}
            </p>
          </div>
        </div>
        <YearOf since={item.since} lastUsed={item.lastUsed} now={now} zone={zone} />
        <Peers item={item} />
        <p className="text-dense">
          <strong className={tone}>{word}</strong> {item.reasons.slice(0, 2).join(" ")}
          {level > 1 && item.first && (
            <span className="block">
              First: {item.first === "keep" ? "kept" : "revoked"} by {item.firstBy}
            </span>
          )}
        </p>
        <div className="flex items-center gap-2 md:justify-end">
          <Decision item={item} judging={judging} select={select} />
        </div>
      </div>
      {(opened || wantsReason) && (
        <ItemDetail item={item} judging={judging} wantsReason={wantsReason} zone={zone} />
      )}
      {item.state === "announced" && item.answer && (
        <p className="px-3 pb-2 text-dense text-warning">Its holder says: {item.answer}</p>
      )}
      {item.actsAt && item.state === "announced" && !item.answer && (
        <p className="px-3 pb-2 text-dense text-muted">goes on {day(item.actsAt, zone)}</p>
      )}
    </li>
  );
}

function Mark({ judgement }: { judgement: string }) {
  if (judgement === "keep")
    return <CircleCheck size={18} className="mt-0.5 shrink-0 text-success" aria-label="kept" />;
  if (judgement === "revoke")
    return <CircleX size={18} className="mt-0.5 shrink-0 text-danger" aria-label="to revoke" />;
  return <Circle size={18} className="mt-0.5 shrink-0 text-muted" aria-label="undecided" />;
}

/** How many with the same job have it, as blocks of ten and in words. */
function Peers({ item }: { item: Item }) {
  if (item.peers == null || item.peersHolding == null) return <span className="hidden md:block" />;
  const blocks = 4;
  const filled = Math.round((item.peersHolding / Math.max(1, item.peers)) * blocks);
  return (
    <div>
      <span className="hidden gap-0.5 md:flex" aria-hidden>
        {Array.from({ length: blocks }, (_, index) => (
          <span key={index} className={`h-3 w-1.5 ${index < filled ? "bg-ink" : "bg-rule"}`} />
        ))}
      </span>
      <span className="text-dense text-muted">
        {item.peersHolding} of {item.peers} alike have it
      </span>
    </div>
  );
}

function Decision({ item, judging, select }: { item: Item; judging?: Judging; select: () => void }) {
  if (item.state !== "undecided" && item.state !== "decided") return <Badge state={item.state} />;
  if (item.state === "decided") {
    return (
      <>
        <span className={`font-bold ${item.judgement === "keep" ? "text-success" : "text-danger"}`}>
          {item.judgement === "keep" ? "Kept" : "Revoked"}
        </span>
        {judging && (
          <Button kind="quiet" disabled={judging.busy} onClick={() => judging.undo(item)}>
            undo
          </Button>
        )}
      </>
    );
  }
  if (!judging) return <Badge state="undecided" />;
  if (item.own) return <span className="text-dense text-muted">nobody judges their own: pass it on</span>;
  const decide = (judgement: "keep" | "revoke") => {
    select();
    judging.decide(item, judgement, () => undefined);
  };
  return (
    <>
      <Button letter="k" disabled={judging.busy} onClick={() => decide("keep")}>
        Keep
      </Button>
      <Button kind="danger" letter="r" disabled={judging.busy} onClick={() => decide("revoke")}>
        Revoke
      </Button>
    </>
  );
}
