import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useLayoutEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";

const addresses: Record<string, (key: string) => string> = {
  person: (key) => `/people/${key}`,
  application: (key) => `/applications/${key}`,
};

/** Finds anything by name: Ctrl-K from anywhere, arrows to move, Enter to go. */
export function Finder() {
  const [open, setOpen] = useState(false);
  // Before the page is painted: whoever sees the finder's button can press its keys.
  useLayoutEffect(() => {
    const key = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === "k") {
        event.preventDefault();
        setOpen(true);
      }
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="hidden h-8 w-56 items-center justify-between rounded-sm border border-rule bg-raised px-2 text-dense text-muted md:flex"
      >
        Find anyone, anything
        <kbd className="rounded-sm border border-rule px-1.5 text-dense">Ctrl K</kbd>
      </button>
      {open && <FinderDialog close={() => setOpen(false)} />}
    </>
  );
}

function FinderDialog({ close }: { close: () => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const { data: found = [] } = useQuery({
    queryKey: ["find", text],
    enabled: text.trim().length > 1,
    queryFn: () => data(api.GET("/api/v1/find", { params: { query: { text } } })),
  });
  const go = (item: Schemas["Found"] | undefined) => {
    if (!item) return;
    close();
    navigate(addresses[item.kind]?.(item.key) ?? "/");
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-16 left-1/2 z-50 w-[min(560px,94vw)] -translate-x-1/2 rounded-sm border border-rule bg-raised shadow-float"
        >
          <Dialog.Title className="sr-only">Find</Dialog.Title>
          <input
            autoFocus
            role="combobox"
            aria-expanded={found.length > 0}
            aria-controls="found"
            aria-activedescendant={found[at] ? `found-${at}` : undefined}
            aria-label="Find anyone, anything"
            placeholder="A name, a worker number, an application"
            value={text}
            onChange={(event) => {
              setText(event.target.value);
              setAt(0);
            }}
            onKeyDown={(event) => {
              if (event.key === "ArrowDown") setAt(Math.min(found.length - 1, at + 1));
              if (event.key === "ArrowUp") setAt(Math.max(0, at - 1));
              if (event.key === "Enter") go(found[at]);
            }}
            className="h-12 w-full bg-transparent px-4 text-lead placeholder:text-muted"
          />
          <ul
            id="found"
            role="listbox"
            aria-label="Found"
            className="max-h-96 overflow-y-auto border-t border-rule"
          >
            {found.map((item, index) => (
              <li
                key={item.kind + item.key}
                id={`found-${index}`}
                role="option"
                aria-selected={index === at}
                onMouseEnter={() => setAt(index)}
                onClick={() => go(item)}
                className={`flex cursor-pointer items-baseline gap-3 px-4 py-2 ${index === at ? "bg-muted-wash" : ""}`}
              >
                <span className="w-20 shrink-0 text-dense text-muted">{item.kind}</span>
                <span>{item.name}</span>
                <span className="truncate text-dense text-muted">{item.detail}</span>
                <span className="ml-auto font-mono text-dense text-muted">{item.key}</span>
              </li>
            ))}
          </ul>
          {text.trim().length > 1 && found.length === 0 && (
            <p className="px-4 py-3 text-muted">
              Nothing by that name. Names match anywhere, worker numbers from their beginning.
            </p>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
