import type { ReactNode } from "react";

/** One thing that waits: what it is, since when, and what can be done about it in place. */
export function Row(props: {
  kind: ReactNode;
  title: ReactNode;
  text: string;
  aside: string;
  actions: ReactNode;
}) {
  return (
    <li className="grid grid-cols-[1fr] items-center gap-x-6 gap-y-2 border-b border-rule py-3 md:grid-cols-[6rem_1fr_8rem_16rem]">
      <div>{props.kind}</div>
      <div className="min-w-0">
        <div className="font-bold">{props.title}</div>
        <div className="text-dense text-muted">{props.text}</div>
      </div>
      <div className="text-dense text-muted">{props.aside}</div>
      <div className="flex gap-2 md:justify-end">{props.actions}</div>
    </li>
  );
}
