import { useId } from "react";
import type { Schemas } from "../api/client";
import { Field } from "../parts/field";
import { PersonChoice } from "../parts/person-choice";

const types: Record<string, string> = { number: "number", date: "date" };

/** One question of an offer: a choice is seen whole, since there are few. */
export function QuestionField({
  question,
  value,
  wrong,
  onChange,
}: {
  question: Schemas["Asks"];
  value: string;
  wrong?: string;
  onChange: (value: string) => void;
}) {
  const id = useId();
  const label = question.required ? question.text : `${question.text} (if you like)`;
  if (question.kind === "choice") {
    return (
      <fieldset aria-describedby={wrong ? id : undefined}>
        <legend className="mb-1 text-dense text-muted">{label}</legend>
        <div className="flex flex-wrap gap-x-5 gap-y-1">
          {question.choices.map((choice) => (
            <label key={choice} className="flex items-center gap-2 py-1">
              <input
                type="radio"
                name={question.key}
                className="size-4 accent-accent"
                checked={value === choice}
                onChange={() => onChange(choice)}
              />
              {choice}
            </label>
          ))}
        </div>
        {wrong && (
          <p id={id} className="mt-1 text-dense text-danger">
            {wrong}
          </p>
        )}
      </fieldset>
    );
  }
  if (question.kind === "person") {
    return (
      <div>
        <p className="mb-1 text-dense text-muted">
          {label} {value && <span className="font-mono text-ink">{value}</span>}
        </p>
        <PersonChoice label={question.text} choose={onChange} />
        {wrong && <p className="mt-1 text-dense text-danger">{wrong}</p>}
      </div>
    );
  }
  return (
    <Field
      label={label}
      type={types[question.kind] ?? "text"}
      value={value}
      wrong={wrong}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}
