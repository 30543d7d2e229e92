import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

/** What an application's mappings come to for somebody, beside what was last seen there. */
export function MappingPreview({ application }: { application: string }) {
  const [worker, setWorker] = useState("");
  const { data: preview, error } = useQuery({
    queryKey: ["preview", application, worker],
    enabled: worker !== "",
    queryFn: () =>
      data(
        api.GET("/api/v1/applications/{key}/preview", {
          params: { path: { key: application }, query: { worker } },
        }),
      ),
  });
  return (
    <>
      <Heading aside={preview ? `for ${preview.name}` : "for one person"}>What accounts are made of</Heading>
      <PersonChoice label="For whom" choose={setWorker} />
      {error && (
        <div className="mt-2">
          <Fault problem={error} />
        </div>
      )}
      {preview && (
        <table className="mt-3 w-full table-fixed text-dense">
          <thead>
            <tr className="border-b border-rule text-left text-muted">
              <th className="py-1 font-normal">Mapped</th>
              <th className="font-normal">Comes to</th>
              <th className="font-normal">Last seen</th>
            </tr>
          </thead>
          <tbody>
            {preview.lines.map((line) => (
              <tr key={line.what} className="border-b border-rule align-top">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  {line.what}
                  <div className="font-mono break-words text-muted">{line.expression}</div>
                </th>
                <td className="pr-3">
                  {line.problem ? (
                    <span className="text-danger">{line.problem}</span>
                  ) : (
                    line.value || "nothing"
                  )}
                </td>
                <td className={line.seen && line.seen !== line.value ? "text-warning" : "text-muted"}>
                  {line.seen || "not seen"}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
