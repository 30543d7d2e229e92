// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { api } from "../api/client";
import { useWork, type Work } from "../api/work";
import { WorkLine } from "./work-line";

const running = {
  id: "7",
  kind: "feed-load",
  what: "loading april.csv",
  state: "running",
  sentence: "5,000 rows read",
  done: 5_000,
  total: 10_000,
  result: null,
  errors: [],
  startedAt: "2027-03-01T06:00:00Z",
  owner: "isa",
  cancelling: false,
} as unknown as Work;

function Followed() {
  const { data } = useWork("7");
  return data ? <WorkLine work={data} /> : null;
}

const show = () => {
  const client = new QueryClient();
  client.setQueryData(["feeds"], ["before"]);
  render(
    <QueryClientProvider client={client}>
      <Followed />
    </QueryClientProvider>,
  );
  return client;
};

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

it("follows work to its end, and has what is shown asked for anew", async () => {
  const ask = vi.spyOn(api, "GET");
  ask.mockResolvedValueOnce({ data: running } as never);
  ask.mockResolvedValue({ data: { ...running, state: "done" } } as never);
  const client = show();
  expect(await screen.findByText(/loading april.csv: 5,000 rows read/)).toBeTruthy();
  await waitFor(() => expect(screen.queryByRole("progressbar")).toBeNull());
  await waitFor(() => expect(client.getQueryState(["feeds"])?.isInvalidated).toBe(true));
  const asked = ask.mock.calls.length;
  await new Promise((resolve) => setTimeout(resolve, 600));
  expect(ask.mock.calls.length).toBe(asked);
});

it("says why it was refused, and each mistake at its place", async () => {
  vi.spyOn(api, "GET").mockResolvedValue({
    data: {
      ...running,
      state: "refused",
      sentence: "The file is empty.",
      errors: [{ pointer: "x.yaml line 2", sentence: "There is no package “y”." }],
    },
  } as never);
  show();
  expect((await screen.findByRole("alert")).textContent).toContain("The file is empty.");
  expect(screen.getByRole("alert").textContent).toContain("x.yaml line 2 There is no package “y”.");
});

it("cancels it once", async () => {
  const ask = vi.spyOn(api, "GET").mockResolvedValue({ data: running } as never);
  const cancel = vi.spyOn(api, "POST").mockImplementation(async () => {
    ask.mockResolvedValue({ data: { ...running, cancelling: true } } as never);
    return { data: running } as never;
  });
  show();
  fireEvent.click(await screen.findByRole("button", { name: "Cancel" }));
  const stopping = await screen.findByRole("button", { name: "Stopping" });
  expect(stopping.hasAttribute("disabled")).toBe(true);
  expect(cancel).toHaveBeenCalledTimes(1);
});
