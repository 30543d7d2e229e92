import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useState } from "react";
import { useDropzone } from "react-dropzone";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { follow, sendFeed } from "../api/work";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { Fault, ProgressLine } from "../parts/states";
import { FeedForecast, type Forecasted } from "./feed-forecast";

type Loaded = { feed: string; sentence: string; rejected: number; held: string | null };
type Step =
  | { at: "file" }
  | { at: "working"; work?: Schemas["Work"]; what: string }
  | { at: "forecast"; file: File; forecast: Forecasted }
  | { at: "loaded"; loaded: Loaded };

/** Loading a feed: the file, what it would do, then doing it. Leaving the page does not stop it. */
export function FeedLoad({ close }: { close: () => void }) {
  const [step, setStep] = useState<Step>({ at: "file" });
  const [problem, setProblem] = useState<unknown>();
  const [source, setSource] = useState("");
  const queries = useQueryClient();
  const zone = useZone();

  const run = async (file: File, forecast: boolean) => {
    setProblem(undefined);
    const what = forecast ? `Forecasting ${file.name}` : `Loading ${file.name}`;
    setStep({ at: "working", what });
    try {
      const work = await sendFeed(file, source, forecast);
      const told = (now: Schemas["Work"]) => setStep({ at: "working", work: now, what });
      if (forecast) {
        setStep({ at: "forecast", file, forecast: await follow<Forecasted>(work, told) });
      } else {
        setStep({ at: "loaded", loaded: await follow<Loaded>(work, told) });
        await queries.invalidateQueries();
      }
    } catch (failed) {
      setProblem(failed);
      setStep({ at: "file" });
      await queries.invalidateQueries({ queryKey: ["feeds"] });
    }
  };

  return (
    <section aria-label="Load a feed" className="mt-4 rounded-sm border border-rule bg-raised p-5">
      {problem !== undefined && <Fault problem={problem} />}
      {step.at === "file" && (
        <Drop source={source} setSource={setSource} take={(file) => void run(file, true)} close={close} />
      )}
      {step.at === "working" && (
        <ProgressLine
          sentence={step.work?.sentence ?? step.what}
          done={step.work?.done ?? 0}
          total={step.work?.total ?? 0}
        />
      )}
      {step.at === "forecast" && (
        <FeedForecast
          name={step.file.name}
          forecast={step.forecast}
          zone={zone}
          load={() => void run(step.file, false)}
          drop={() => setStep({ at: "file" })}
        />
      )}
      {step.at === "loaded" && (
        <div className="flex flex-wrap items-center gap-3">
          <p className="grow" role="status">
            {step.loaded.sentence.replace(/\.$/, "")}.{" "}
            {step.loaded.held ? (
              <Link to={`/held/${step.loaded.held}`}>See what it would do</Link>
            ) : (
              <Link to="/flow">Watch what follows from it</Link>
            )}
            {step.loaded.rejected > 0 && (
              <>
                , or <Link to={`/feeds/${step.loaded.feed}`}>read why rows were set aside</Link>
              </>
            )}
            .
          </p>
          <Button onClick={close}>Close</Button>
        </div>
      )}
    </section>
  );
}

function Drop({
  source,
  setSource,
  take,
  close,
}: {
  source: string;
  setSource: (source: string) => void;
  take: (file: File) => void;
  close: () => void;
}) {
  const { data: sources = [] } = useQuery({
    queryKey: ["sources"],
    queryFn: () => data(api.GET("/api/v1/sources")),
  });
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    multiple: false,
    accept: { "text/csv": [".csv"] },
    onDrop: (files) => files[0] && take(files[0]),
  });
  return (
    <div>
      <div
        {...getRootProps({
          className: `flex cursor-pointer flex-col items-center gap-2 rounded-sm border-2 border-dashed px-6 py-8 focus-within:border-accent ${isDragActive ? "border-accent bg-accent-wash" : "border-rule"}`,
          role: "button",
          "aria-label": "Drop a file here, or choose one",
        })}
      >
        <FileUp size={22} className="text-muted" aria-hidden />
        <span>
          Drop a file here, or <span className="underline">choose one</span>
        </span>
        <span className="text-dense text-muted">
          CSV in UTF-8, as HR delivered it. You see what it would do before anything is done.
        </span>
        <input {...getInputProps()} />
      </div>
      <div className="mt-3 flex items-center justify-end gap-2">
        {sources.length > 1 && (
          <Choice
            label="Source"
            all="Which source?"
            value={source}
            options={sources.map((each) => ({ value: each.key, text: each.name }))}
            onChange={setSource}
          />
        )}
        <Button onClick={close}>Close</Button>
      </div>
    </div>
  );
}
