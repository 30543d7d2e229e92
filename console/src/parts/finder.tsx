import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useLayoutEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";

type Addresses = Record<string, (key: string) => string>;

/**
 * Finds anything by name: Ctrl-K from anywhere, arrows to move, Enter to go.
 *
 * @param addresses where each kind of thing has its page
 */
export function Finder({ addresses }: { addresses: Addresses }) {
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
        aria-label="Find anyone, anything"
        className="flex h-8 items-center justify-between rounded-sm border border-rule bg-raised px-2 text-dense text-muted md:w-56"
      >
        <span className="md:hidden">Find</span>
        <span className="max-md:hidden">Find anyone, anything</span>
        <kbd className="rounded-sm border border-rule px-1.5 text-dense max-md:hidden">Ctrl K</kbd>
      </button>
      {open && <FinderDialog addresses={addresses} close={() => setOpen(false)} />}
    </>
  );
}

function FinderDialog({ addresses, close }: { addresses: Addresses; close: () => void }) {
  const [text, setText] = useState("");
  const navigate = useNavigate();
  const asked = text.trim().length > 1;
  const { data: found = [] } = useQuery({
    queryKey: ["find", text],
    enabled: asked,
    queryFn: () => data(api.GET("/api/v1/find", { params: { query: { text } } })),
  });
  const go = (item: Schemas["Found"]) => {
    close();
    void navigate(addresses[item.kind]?.(item.key) ?? "/");
  };
  return (
    <Command.Dialog
      open
      onOpenChange={(open) => !open && close()}
      label="Find anyone, anything"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-ink/20"
      contentClassName="fixed top-16 left-1/2 z-50 w-[min(560px,94vw)] -translate-x-1/2 rounded-sm border border-rule bg-raised shadow-float"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="A name, a worker number, an application"
        className="h-12 w-full bg-transparent px-4 text-lead placeholder:text-muted"
      />
      <Command.List label="Found" className="max-h-96 overflow-y-auto border-t border-rule">
        {asked && (
          <Command.Empty className="px-4 py-3 text-muted">
            Nothing by that name. Names match anywhere, worker numbers from their beginning.
          </Command.Empty>
        )}
        {found.map((item) => (
          <Command.Item
            key={item.kind + item.key}
            value={item.kind + item.key}
            onSelect={() => go(item)}
            className="flex cursor-pointer items-baseline gap-3 px-4 py-2 data-[selected=true]:bg-muted-wash"
          >
            <span className="w-20 shrink-0 text-dense text-muted">{item.kind}</span>
            <span>{item.name}</span>
            <span className="truncate text-dense text-muted">{item.detail}</span>
            <span className="ml-auto font-mono text-dense text-muted">{item.key}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
