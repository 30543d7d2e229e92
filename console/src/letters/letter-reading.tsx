import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import { Written } from "./written";

/** A letter as it would read about somebody whom one chooses; pale while it is not what was written last. */
export function LetterReading({
  written,
  error,
  choose,
  pale = false,
}: {
  written: Schemas["LetterPreview"] | undefined;
  error: Error | null;
  choose: (worker: string) => void;
  pale?: boolean;
}): ReactNode {
  return (
    <>
      <Heading aside="nothing is sent">As it would read about somebody</Heading>
      <PersonChoice label="About whom" choose={choose} />
      {error && (
        <div className="mt-3">
          <Fault problem={error} />
        </div>
      )}
      {written && (
        <div className={`mt-3 ${pale ? "opacity-60" : ""}`}>
          <p className="mb-2 font-bold">{written.subject}</p>
          <Written text={written.text} html={written.html} />
        </div>
      )}
    </>
  );
}
