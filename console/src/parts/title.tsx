import { useEffect, type ReactNode } from "react";

/** The title of a page: a sentence of fact. The strong part is what it is about. */
export function Title({
  strong,
  children,
  actions,
}: {
  strong: string;
  children?: ReactNode;
  actions?: ReactNode;
}) {
  useEffect(() => {
    document.title = `${strong} · Glenmoor`;
  }, [strong]);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
      <h1 className="min-w-0 grow text-title">
        <strong className="font-bold">{strong}</strong>
        {children && <span className="text-muted"> — {children}</span>}
      </h1>
      {actions && <div className="flex flex-wrap items-center gap-2">{actions}</div>}
    </div>
  );
}

/** A heading inside a page, with a few words of fact after it. */
export function Heading({ children, aside }: { children: ReactNode; aside?: ReactNode }) {
  return (
    <h2 className="mt-8 mb-2 flex items-baseline gap-3 text-body">
      <span className="font-bold">{children}</span>
      {aside && <span className="text-dense text-muted">{aside}</span>}
    </h2>
  );
}
