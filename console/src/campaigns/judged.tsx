import type { Schemas } from "../api/client";
import { count } from "../parts/moments";

/** How much is kept, revoked, ended and undecided: as filled length, and in words. */
export function Judged({ mix }: { mix: Schemas["Mix"] }) {
  const share = (number: number) => `${(number / Math.max(1, mix.items)) * 100}%`;
  return (
    <div>
      <div className="flex h-1.5 overflow-hidden bg-rule" aria-hidden>
        <span className="bg-success" style={{ width: share(mix.kept) }} />
        <span className="bg-danger" style={{ width: share(mix.revoked) }} />
        <span className="bg-muted" style={{ width: share(mix.ended) }} />
      </div>
      <p className="mt-1 text-dense text-muted">
        {[
          mix.kept > 0 && `${mix.kept} kept`,
          mix.revoked > 0 && `${mix.revoked} to revoke`,
          mix.ended > 0 && `${mix.ended} ended by themselves`,
          count(mix.undecided, "undecided", "undecided"),
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
    </div>
  );
}
