import type { Schemas } from "../api/client";
import { decidersOf } from "./words";

const names = (who: Schemas["Who"][], joint = " or ") => who.map((each) => each.name).join(joint);

/** Who would be asked at each stage, and what its clock would bring if nobody decided. */
export function PreviewStages({ stages }: { stages: Schemas["PreviewStage"][] }) {
  return (
    <ol className="border-t border-rule">
      {stages.map((stage, index) => (
        <li key={index} className="grid grid-cols-[1.5rem_1fr] border-b border-rule py-1.5">
          <span className="text-dense leading-6 text-muted">{stage.beside ? "+" : index + 1}</span>
          <span>
            {names(stage.who, stage.agree === "all" ? " and " : " or ") || "nobody"}
            <span className="block text-dense text-muted">
              {decidersOf(stage.ask, stage.agree)}
              {stage.note ? ` · ${stage.note}` : clock(stage)}
            </span>
          </span>
        </li>
      ))}
    </ol>
  );
}

function clock(stage: Schemas["PreviewStage"]): string {
  return [
    ...(stage.nudgeDays.length > 0 ? [`reminded on day ${stage.nudgeDays.join(" and ")}`] : []),
    ...(stage.standbyDays
      ? [`${names(stage.standby) || "nobody"} joins in on day ${stage.standbyDays}`]
      : []),
    stage.onTo.length > 0
      ? `on day ${stage.lapseDays} it goes on to ${names(stage.onTo)}`
      : `over on day ${stage.lapseDays}`,
  ]
    .map((each) => ` · ${each}`)
    .join("");
}
