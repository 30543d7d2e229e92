import { Tabs as Radix } from "radix-ui";
import type { ReactNode } from "react";

/** Parts of one page, of which one is seen: the first where the page's address names none that is there. */
export function Tabs({
  value,
  onChange,
  tabs,
}: {
  value: string;
  onChange: (value: string) => void;
  tabs: { key: string; name: string; count?: number; content: ReactNode }[];
}) {
  const seen = tabs.some((tab) => tab.key === value) ? value : tabs[0]?.key;
  return (
    <Radix.Root value={seen} onValueChange={onChange} className="mt-4">
      <Radix.List className="flex gap-5 border-b border-rule">
        {tabs.map((tab) => (
          <Radix.Trigger
            key={tab.key}
            value={tab.key}
            className="-mb-px border-b-3 border-transparent pb-2 text-muted hover:text-ink data-[state=active]:border-accent data-[state=active]:font-bold data-[state=active]:text-ink"
          >
            {tab.name}
            {tab.count !== undefined && ` ${tab.count}`}
          </Radix.Trigger>
        ))}
      </Radix.List>
      {tabs.map((tab) => (
        <Radix.Content key={tab.key} value={tab.key} className="pt-4">
          {tab.content}
        </Radix.Content>
      ))}
    </Radix.Root>
  );
}
