import { useEffect } from "react";

/** Letters that do something on this page, while nobody is typing. */
export function useKeys(keys: Record<string, () => unknown>) {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target.closest("input, textarea, select, [role=dialog], [role=menu], [role=listbox]");
      if (!typing && !event.ctrlKey && !event.metaKey && !event.altKey) keys[event.key]?.();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  });
}
