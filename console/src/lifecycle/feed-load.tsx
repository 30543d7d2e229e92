import { useMutation, useQuery } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useState } from "react";
import { useDropzone } from "react-dropzone";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { isOpen, sendFeed, useWork, type Work } from "../api/work";
import { WorkLine } from "../jobs/work-line";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { Fault, ProgressLine } from "../parts/states";
import { FeedForecast } from "./feed-forecast";

/**
 * Loading a feed: the file, what it would do, then doing it. The work's number is in the address, so leaving
 * the page stops and loses nothing.
 */
export function FeedLoad({
  work: id,
  follow,
  close,
}: {
  work?: string;
  follow: (work: string | undefined) => void;
  close: () => void;
}) {
  const [source, setSource] = useState("");
  const zone = useZone();
  const { data: work, error } = useWork(id);
  const send = useMutation({
    mutationFn: (file: File) => sendFeed(file, source, true),
    onSuccess: (begun) => follow(begun.id),
  });
  const load = useMutation({
    mutationFn: (forecast: string) =>
      data<Work>(api.POST("/api/v1/feeds/forecasts/{id}/load", { params: { path: { id: forecast } } })),
    onSuccess: (begun) => follow(begun.id),
  });
  const problem = send.error ?? load.error ?? error;
  const idle = id === undefined || (work !== undefined && !isOpen(work) && work.state !== "done");
  return (
    <section aria-label="Load a feed" className="mt-4 rounded-sm border border-rule bg-raised p-5">
      {problem && <Fault problem={problem} />}
      {work && <WorkLine work={work} />}
      {send.isPending && <ProgressLine sentence="Sending the file" done={0} total={0} />}
      {idle && !send.isPending && (
        <Drop source={source} setSource={setSource} take={(file) => send.mutate(file)} close={close} />
      )}
      {work?.kind === "feed-forecast" && work.result && (
        <FeedForecast
          name={work.what.replace(/^forecasting /, "")}
          forecast={work.result}
          zone={zone}
          load={() => load.mutate(work.id)}
          drop={() => follow(undefined)}
        />
      )}
      {work?.kind === "feed-load" && work.result && <Loaded loaded={work.result} close={close} />}
    </section>
  );
}

function Loaded({ loaded, close }: { loaded: Schemas["Loaded"]; close: () => void }) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      <p className="grow" role="status">
        {loaded.sentence.replace(/\.$/, "")}.{" "}
        {loaded.held ? (
          <Link to={`/held/${loaded.held}`}>See what it would do</Link>
        ) : (
          <Link to="/flow">Watch what follows from it</Link>
        )}
        {loaded.rejected > 0 && (
          <>
            , or <Link to={`/feeds/${loaded.feed}`}>read why rows were rejected</Link>
          </>
        )}
        .
      </p>
      <Button onClick={close}>Close</Button>
    </div>
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
  const { data: all = [] } = useQuery({
    queryKey: ["sources"],
    queryFn: () => data(api.GET("/api/v1/sources")),
  });
  // What is pushed, written in a form or read from a database comes by itself.
  const sources = all.filter((each) => !each.push && !each.form && !each.view);
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
