import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

/** Detail that slides in from the right; the list stays where it was. Its address is the page's to keep. */
export function Sheet({ title, close, children }: { title: string; close: () => void; children: ReactNode }) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          className="sheet-in fixed inset-y-0 right-0 z-50 flex w-[min(560px,100vw)] flex-col border-l border-rule bg-raised shadow-float"
        >
          <header className="flex items-start gap-3 border-b border-rule px-6 py-4">
            <Dialog.Title className="grow text-lead font-bold">{title}</Dialog.Title>
            <Dialog.Close aria-label="Close" className="rounded-sm p-1 hover:bg-muted-wash">
              <X size={18} aria-hidden />
            </Dialog.Close>
          </header>
          <div className="grow overflow-y-auto px-6 py-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Facts in pairs, as sheets and heads of pages show them. */
export function Pairs({ pairs }: { pairs: [string, ReactNode][] }) {
  return (
    <dl className="grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1">
      {pairs.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-dense leading-6 text-muted">{name}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
