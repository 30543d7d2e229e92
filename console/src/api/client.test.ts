// @vitest-environment jsdom
import { afterEach, expect, it, vi } from "vitest";
import { forgeryProof, Problem, problemOf } from "./client";
import { sendFeed } from "./work";

const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

afterEach(() => {
  vi.unstubAllGlobals();
  document.cookie = "XSRF-TOKEN=; max-age=0";
});

it("takes the sentence and the places from a problem document", async () => {
  const problem = await problemOf(
    answer(422, { detail: "One thing is wrong.", errors: [{ pointer: "/name", detail: "is empty" }] }),
  );
  expect(problem).toBeInstanceOf(Problem);
  expect([problem.status, problem.message, problem.errors]).toEqual([
    422,
    "One thing is wrong.",
    [{ pointer: "/name", detail: "is empty" }],
  ]);
});

it("says the status when there is no sentence", async () => {
  expect((await problemOf(new Response("<html>", { status: 502 }))).message).toContain("502");
});

it("proves with the cookie that a change comes from here", () => {
  expect(forgeryProof()).toEqual({});
  document.cookie = "XSRF-TOKEN=a%2Fb";
  expect(forgeryProof()).toEqual({ "X-XSRF-TOKEN": "a/b" });
});

it("sends a file with its name, its source and the proof", async () => {
  document.cookie = "XSRF-TOKEN=proof";
  const fetched = vi.fn((_address: string, _request: RequestInit) =>
    Promise.resolve(answer(202, { id: 7, state: "running" })),
  );
  vi.stubGlobal("fetch", fetched);
  const file = new File(["a,b"], "april & may.csv");
  expect((await sendFeed(file, "people-office", true)).id).toBe(7);
  const [address, request] = fetched.mock.calls[0]!;
  expect(address).toBe("/api/v1/feeds?source=people-office&fileName=april+%26+may.csv&forecast=true");
  expect(request.headers).toMatchObject({ "X-XSRF-TOKEN": "proof", "Content-Type": "text/csv" });
});
