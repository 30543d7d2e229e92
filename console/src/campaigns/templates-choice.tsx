import { Choice } from "../parts/choice";
import { Heading } from "../parts/title";
import { templates } from "./templates";

/** What a new campaign may begin as; what was written before is replaced. */
export function Templates({ take }: { take: (text: string) => void }) {
  return (
    <>
      <Heading aside="replaces what stands at the left">Begin from a template</Heading>
      <Choice
        label="Template"
        all="Choose one"
        value=""
        options={templates.map((each) => ({ value: each.key, text: each.name }))}
        onChange={(key) => {
          const chosen = templates.find((each) => each.key === key);
          if (chosen) take(chosen.text);
        }}
      />
      <p className="mt-3 max-w-prose text-muted">
        Load it, and rehearse it under Campaigns: a rehearsal says how many items there would be, for whom,
        and how many for each reviewer. Nobody is asked anything before it is launched, by hand or by its
        rhythm.
      </p>
    </>
  );
}
