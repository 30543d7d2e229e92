// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, it, vi } from "vitest";
import { usePages } from "./pages";

const all = Array.from({ length: 25 }, (_, number) => number);

const page = vi.fn((after: string | undefined) => {
  const from = after ? Number(after) : 0;
  const next = from + 10;
  return Promise.resolve({ items: all.slice(from, next), next: next < all.length ? String(next) : null });
});

function wrapper({ children }: { children: ReactNode }) {
  return <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>;
}

const pages = () => renderHook(() => usePages(["numbers"], page), { wrapper });

it("gives one page after the other as one list", async () => {
  const { result } = pages();
  await waitFor(() => expect(result.current.rows).toHaveLength(10));
  act(() => result.current.more());
  await waitFor(() => expect(result.current.rows).toEqual(all.slice(0, 20)));
});

it("completes the list, and asks for each page once", async () => {
  page.mockClear();
  const { result } = pages();
  await waitFor(() => expect(result.current.rows).toHaveLength(10));
  await act(async () => expect(await result.current.complete()).toEqual(all));
  await waitFor(() => expect(result.current.rows).toEqual(all));
  expect(page.mock.calls.map(([after]) => after)).toEqual([undefined, "10", "20"]);
  act(() => result.current.more());
  expect(page).toHaveBeenCalledTimes(3);
});
