import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { useZone } from "../api/session";
import { Button } from "../parts/button";
import { day, time } from "../parts/moments";
import { Heading } from "../parts/title";

/** All that a definition has been, the last first, and why it became so; an old one can be taken up again. */
export function Versions({
  kind,
  definition,
  take,
}: {
  kind: string;
  definition: string;
  take: (text: string) => void;
}) {
  const zone = useZone();
  const { data: versions } = useQuery({
    queryKey: ["definition-versions", kind, definition],
    retry: false,
    queryFn: () =>
      data(
        api.GET("/api/v1/definitions/{kind}/{key}/versions", {
          params: { path: { kind, key: definition } },
        }),
      ),
  });
  if (!versions || versions.length === 0) return null;
  return (
    <>
      <Heading aside="the last first">What it has been</Heading>
      <ol className="border-t border-rule">
        {versions.map((each, index) => (
          <li
            key={index}
            className="grid grid-cols-[8.5rem_1fr_max-content] items-baseline gap-x-4 border-b border-rule py-1.5"
          >
            <span className="text-dense text-muted">
              {day(each.since, zone)} {time(each.since, zone).slice(0, 5)}
            </span>
            <span className="min-w-0 break-words">
              {each.by}
              <span className="text-muted">{each.why ? `: ${each.why}` : ""}</span>
            </span>
            {index === 0 ? (
              <span className="px-1 text-dense text-muted">in force</span>
            ) : (
              <Button kind="quiet" onClick={() => take(each.text)}>
                Take this up
              </Button>
            )}
          </li>
        ))}
      </ol>
    </>
  );
}
