import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";

const ALL = "~all";

/** One of some values, or all of them. */
export function Choice({
  label,
  all,
  value,
  options,
  onChange,
}: {
  label: string;
  all: string;
  value: string;
  options: { value: string; text: string; count?: number }[];
  onChange: (value: string) => void;
}) {
  return (
    <Select.Root value={value || ALL} onValueChange={(chosen) => onChange(chosen === ALL ? "" : chosen)}>
      <Select.Trigger
        aria-label={label}
        className={`inline-flex h-8 max-w-56 items-center gap-2 rounded-sm border px-3 text-body ${value ? "border-accent bg-accent-wash" : "border-rule bg-raised"}`}
      >
        <span className="truncate">
          <Select.Value />
        </span>
        <ChevronDown size={14} aria-hidden />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={4}
          className="z-50 max-h-80 min-w-44 overflow-hidden rounded-sm border border-rule bg-raised shadow-float"
        >
          <Select.Viewport className="p-1">
            <Option value={ALL} text={all} />
            {options.map((option) => (
              <Option key={option.value} {...option} />
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}

function Option({ value, text, count }: { value: string; text: string; count?: number }) {
  return (
    <Select.Item
      value={value}
      className="flex h-8 cursor-pointer items-center gap-2 rounded-sm pr-3 pl-7 text-body outline-none data-[highlighted]:bg-muted-wash"
    >
      <Select.ItemIndicator className="absolute left-3">
        <Check size={14} aria-hidden />
      </Select.ItemIndicator>
      <Select.ItemText>{text}</Select.ItemText>
      {count !== undefined && <span className="ml-auto pl-4 text-dense text-muted">{count}</span>}
    </Select.Item>
  );
}
