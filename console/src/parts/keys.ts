import { useHotkeys } from "react-hotkeys-hook";

const elsewhere = "[role=dialog], [role=menu], [role=listbox]";

/**
 * Letters that do something on this page, while nobody is typing. None may carry out what cannot be undone:
 * such a letter asks first.
 */
export function useKeys(keys: Record<string, () => unknown>) {
  useHotkeys(
    Object.keys(keys),
    (_, pressed) => keys[pressed.keys?.join("") ?? ""]?.(),
    {
      enabled: Object.keys(keys).length > 0,
      ignoreEventWhen: (event) => event.target instanceof Element && event.target.closest(elsewhere) !== null,
    },
    [keys],
  );
}
