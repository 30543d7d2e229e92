import { useId, type InputHTMLAttributes } from "react";

/** A labelled input; what is wrong with it stands below and is read out with it. */
export function Field({
  label,
  wrong,
  help,
  hideLabel,
  className = "",
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & {
  label: string;
  wrong?: string;
  help?: string;
  hideLabel?: boolean;
}) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "mb-1 block text-dense text-muted"}>
        {label}
      </label>
      <input
        id={id}
        {...rest}
        aria-invalid={!!wrong}
        aria-describedby={wrong || help ? `${id}-more` : undefined}
        className={`h-8 w-full rounded-sm border bg-raised px-2 text-body text-ink placeholder:text-muted ${wrong ? "border-danger" : "border-rule"}`}
      />
      {(wrong || help) && (
        <p id={`${id}-more`} className={`mt-1 text-dense ${wrong ? "text-danger" : "text-muted"}`}>
          {wrong ?? help}
        </p>
      )}
    </div>
  );
}
