import { Problem } from "../api/client";
import { Fault } from "./states";
import { Title } from "./title";

/** A page that has nothing to show but why: it has a title like any other. */
export function PageFault({ problem, retry }: { problem: unknown; retry?: () => void }) {
  const status = problem instanceof Problem ? problem.status : 0;
  // Asking again gives the same answer where it is not there, or not for whoever asks.
  const final = status === 403 || status === 404;
  return (
    <>
      <Title strong={status === 404 ? "Not here" : status === 403 ? "Not for you" : "Not shown"} />
      <div className="mt-4">
        <Fault problem={problem} retry={final ? undefined : retry} />
      </div>
    </>
  );
}
