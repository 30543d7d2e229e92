import { Link } from "react-router";
import { ItemRow } from "./item-row";
import type { By } from "./filters";
import type { Judging } from "./use-judging";
import type { Item } from "./use-reviews";

/** Items beneath whose they are, what they are, or the application that they are in. */
export function ItemGroups({
  items,
  by,
  current,
  select,
  judging,
  level,
}: {
  items: Item[];
  by: By;
  current?: string;
  select: (item: Item) => void;
  judging?: Judging;
  level: number;
}) {
  const groups: Item[][] = [];
  for (const item of items) {
    const last = groups.at(-1)?.[0];
    const same =
      last &&
      (by === "target"
        ? last.target === item.target
        : by === "application"
          ? last.application === item.application
          : last.worker === item.worker && (item.worker !== "" || last.application === item.application));
    if (same) groups.at(-1)!.push(item);
    else groups.push([item]);
  }
  return (
    <div className="mt-4">
      {groups.map((group) => (
        <section key={group[0]!.id} className="mb-4">
          <GroupHead item={group[0]!} by={by} number={group.length} />
          <ul className="border-t border-rule bg-raised">
            {group.map((item) => (
              <ItemRow
                key={item.id}
                item={item}
                by={by}
                selected={item.id === current}
                select={() => select(item)}
                judging={judging}
                level={level}
              />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

function GroupHead({ item, by, number }: { item: Item; by: By; number: number }) {
  if (by === "application") {
    return (
      <h2 className="mb-1 flex flex-wrap items-baseline gap-x-3">
        <span className="text-lead font-bold">
          {item.applicationName || "Packages, of several applications"}
        </span>
        <span className="text-dense text-muted">{number} here</span>
      </h2>
    );
  }
  if (by === "target") {
    return (
      <h2 className="mb-1 flex flex-wrap items-baseline gap-x-3">
        <span className="text-lead font-bold">{item.name}</span>
        <span className="text-dense text-muted">
          {item.applicationName} <span className="font-mono">{item.technical}</span>
          {item.privileged && " · privileged"} · {number} here
        </span>
      </h2>
    );
  }
  return (
    <h2 className="mb-1 flex flex-wrap items-baseline gap-x-3">
      {item.worker ? (
        <>
          <span className="text-lead font-bold">{item.person}</span>
          <span className="text-dense text-muted">
            {item.detail} · <Link to={`/people/${item.worker}`}>{item.worker}</Link>
          </span>
        </>
      ) : (
        <span className="text-lead font-bold">Nobody's, in {item.applicationName}</span>
      )}
      {item.own && <span className="text-dense text-warning">this is you</span>}
    </h2>
  );
}
