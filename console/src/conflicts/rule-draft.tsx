import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { GroupBars } from "../parts/group-bars";
import { count } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

/** A conflict rule that is being written: who would break it as people are now. */
export function RuleDraft({ rule, text, good }: { rule: string; text: string; good: boolean }) {
  const { data: tried, error } = useQuery({
    queryKey: ["rule-draft", rule, text],
    enabled: good,
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(
        api.POST("/api/v1/conflict-rules/{key}/draft", {
          params: { path: { key: rule } },
          body: { text },
        }),
      ),
  });
  return (
    <>
      <Heading aside="as people are now; nothing is kept">Who would break it</Heading>
      {error && <Fault problem={error} />}
      {tried && (
        <div className={good ? "mt-2" : "mt-2 opacity-60"} role="status">
          <p>
            {tried.people === 0
              ? "Nobody holds both sides of it."
              : `${count(tried.people, "person would be", "people would be")} in conflict once it is in force.`}
          </p>
          <GroupBars
            groupedBy={tried.groupedBy}
            tone="bg-danger"
            groups={[...tried.cells]
              .sort((one, other) => other.open - one.open)
              .map((each) => ({ value: each.group, people: each.open }))}
          />
        </div>
      )}
    </>
  );
}
