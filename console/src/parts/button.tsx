import type { ComponentPropsWithRef, ReactNode } from "react";
import { Link } from "react-router";

type Kind = "primary" | "plain" | "danger" | "quiet";

const looks: Record<Kind, string> = {
  primary: "bg-accent text-ground border-accent hover:brightness-110",
  plain: "bg-raised text-ink border-rule hover:border-muted",
  danger: "bg-raised text-danger border-danger hover:bg-danger-wash",
  quiet: "bg-transparent text-accent border-transparent underline-offset-2 hover:underline px-1",
};

const shape =
  "inline-flex h-8 items-center gap-2 rounded-sm border px-3 text-body whitespace-nowrap disabled:opacity-50";

/** Goes to where something happens, and looks like what does it. */
export function ButtonLink({
  kind = "plain",
  to,
  children,
}: {
  kind?: Kind;
  to: string;
  children: ReactNode;
}) {
  return (
    <Link to={to} className={`${shape} no-underline ${looks[kind]}`}>
      {children}
    </Link>
  );
}

/** Says what happens: a verb. `letter` is the key that does the same, shown after the words. */
export function Button({
  kind = "plain",
  letter,
  children,
  className = "",
  ...rest
}: ComponentPropsWithRef<"button"> & { kind?: Kind; letter?: string; children: ReactNode }) {
  return (
    <button type="button" {...rest} className={`${shape} ${looks[kind]} ${className}`}>
      {children}
      {letter && (
        <kbd className="hidden font-mono text-dense opacity-80 md:inline" aria-hidden>
          {letter}
        </kbd>
      )}
    </button>
  );
}
