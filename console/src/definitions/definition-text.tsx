import type { Ref } from "react";

export type Mistake = { line: number; sentence: string };

/** The line in a place such as “here line 3”; 0 where none is named. */
export function lineOf(pointer: string): number {
  return Number(/line (\d+)$/.exec(pointer)?.[1] ?? 0);
}

/** The text of a definition, with the numbers of its lines; those with a mistake stand out. */
export function DefinitionText({
  text,
  change,
  mistakes,
  field,
}: {
  text: string;
  change: (text: string) => void;
  mistakes: Mistake[];
  field: Ref<HTMLTextAreaElement>;
}) {
  const lines = text.split("\n").length;
  const wrong = new Set(mistakes.map((each) => each.line));
  return (
    <div className="flex rounded-sm border border-rule bg-raised font-mono text-dense leading-6">
      <ol aria-hidden className="shrink-0 border-r border-rule py-2 text-right text-muted select-none">
        {Array.from({ length: lines }, (_, index) => (
          <li
            key={index}
            className={`px-2 ${wrong.has(index + 1) ? "bg-danger-wash font-bold text-danger" : ""}`}
          >
            {index + 1}
          </li>
        ))}
      </ol>
      <textarea
        ref={field}
        aria-label="The definition, as YAML"
        aria-invalid={mistakes.length > 0}
        value={text}
        onChange={(event) => change(event.target.value)}
        rows={lines}
        wrap="off"
        spellCheck={false}
        className="min-h-80 w-full resize-none overflow-x-auto bg-raised px-3 py-2 outline-offset-2"
      />
    </div>
  );
}
