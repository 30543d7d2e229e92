import { useEffect, useRef } from "react";
import { Button } from "./button";

/** Asks, where a letter was pressed, before anything is done; Enter answers yes and Escape no. */
export function Ask({ question, yes, no }: { question: string; yes: () => void; no: () => void }) {
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    first.current?.focus();
    const escape = (event: KeyboardEvent) => event.key === "Escape" && no();
    window.addEventListener("keydown", escape);
    return () => window.removeEventListener("keydown", escape);
  });
  return (
    <span role="group" aria-label={question} className="flex items-center gap-2">
      <span className="whitespace-nowrap">{question}</span>
      <Button kind="primary" ref={first} onClick={yes}>
        Yes
      </Button>
      <Button onClick={no}>No</Button>
    </span>
  );
}
