import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { Empty, Fault, Waiting } from "../parts/states";
import { LetterReading } from "./letter-reading";

/** The letters that are defined, each with how it would read for one person. */
export function LetterTemplates() {
  const [key, setKey] = useState("");
  const asked = useQuery({
    queryKey: ["letters"],
    queryFn: () => data(api.GET("/api/v1/letters", { params: { query: { limit: 500 } } })),
  });
  if (asked.error) return <Fault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="letters" />;
  const letters = asked.data.items;
  const chosen = letters.find((letter) => letter.key === key) ?? letters[0];
  if (!chosen) {
    return (
      <Empty title="No letter is defined.">
        Letters are written in definition files, such as letter: welcome, and loaded with glenmoor define
        load.
      </Empty>
    );
  }
  return (
    <div className="grid gap-x-10 md:grid-cols-[16rem_1fr]">
      <ul className="border-t border-rule">
        {letters.map((letter) => (
          <li key={letter.key} className="border-b border-rule">
            <button
              type="button"
              aria-current={letter.key === chosen.key}
              onClick={() => setKey(letter.key)}
              className="w-full py-2 text-left hover:underline aria-[current=true]:font-bold"
            >
              {letter.name}
              <span className="block font-mono text-dense font-normal text-muted">{letter.key}</span>
            </button>
          </li>
        ))}
      </ul>
      <div className="min-w-0">
        <div className="flex flex-wrap items-baseline justify-between gap-4">
          <p className="font-bold">{chosen.subject}</p>
          <span className="flex gap-4">
            <Link to={`/definitions/letter/${chosen.key}`}>Write it anew</Link>
            <Link to="/definitions/letter/new">A new letter</Link>
          </span>
        </div>
        <pre className="mt-2 overflow-x-auto rounded-sm bg-muted-wash p-3 font-mono text-dense whitespace-pre-wrap">
          {chosen.body}
        </pre>
        <Preview letter={chosen.key} />
      </div>
    </div>
  );
}

function Preview({ letter }: { letter: string }) {
  const [worker, setWorker] = useState("");
  const { data: written, error } = useQuery({
    queryKey: ["letter-preview", letter, worker],
    enabled: worker !== "",
    queryFn: () =>
      data(
        api.GET("/api/v1/letters/{key}/preview", { params: { path: { key: letter }, query: { worker } } }),
      ),
  });
  return <LetterReading written={written} error={error} choose={setWorker} />;
}
