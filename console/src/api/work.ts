import { api, data, forgeryProof, Problem, problemOf, type Schemas } from "./client";

/** Sends a file to be loaded or forecast; the answer is the work to follow. */
export async function sendFeed(file: File, source: string, forecast: boolean): Promise<Schemas["Work"]> {
  const query = new URLSearchParams({ source, fileName: file.name, forecast: String(forecast) });
  const response = await fetch(`/api/v1/feeds?${query}`, {
    method: "POST",
    body: file,
    headers: { "Content-Type": "text/csv", ...forgeryProof() },
  });
  if (!response.ok) throw await problemOf(response);
  return response.json();
}

/** Follows long work until it ends, telling how far it is. */
export async function follow<T>(work: Schemas["Work"], told: (work: Schemas["Work"]) => void): Promise<T> {
  let now = work;
  while (now.state === "running") {
    told(now);
    await new Promise((resolve) => setTimeout(resolve, 250));
    now = await data(api.GET("/api/v1/progress/{id}", { params: { path: { id: work.id } } }));
  }
  if (now.state !== "done") throw new Problem(422, now.sentence);
  return now.result as T;
}
