import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Problem } from "../api/client";
import { cancelWork, isOpen, mistakes, type Work } from "../api/work";
import { Button } from "../parts/button";
import { Fault, ProgressLine } from "../parts/states";

/** Long work on its way, with a way to stop it; or why it ended without having been done. */
export function WorkLine({ work }: { work: Work }) {
  const queries = useQueryClient();
  const cancel = useMutation({
    mutationFn: () => cancelWork(work.id),
    onSettled: () => queries.invalidateQueries({ queryKey: ["work"] }),
  });
  if (!isOpen(work)) {
    return work.state === "done" ? null : <Fault problem={new Problem(422, work.sentence, mistakes(work))} />;
  }
  return (
    <div className="flex items-end gap-4">
      <div className="min-w-0 grow">
        {cancel.error && <Fault problem={cancel.error} />}
        <ProgressLine sentence={`${work.what}: ${work.sentence}`} done={work.done} total={work.total} />
      </div>
      <div className="pb-2">
        <Button disabled={work.cancelling || cancel.isPending} onClick={() => cancel.mutate()}>
          {work.cancelling ? "Stopping" : "Cancel"}
        </Button>
      </div>
    </div>
  );
}
