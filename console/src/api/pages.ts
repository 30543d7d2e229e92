import { keepPreviousData, useInfiniteQuery, type InfiniteData } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";

type Page = { items: unknown[]; next?: string | null };
type RowOf<P extends Page> = P["items"][number];

/**
 * A list that comes in pages, as one: `more` asks for the next page, `complete` for all that are left,
 * and gives every row there is.
 */
export function usePages<P extends Page>(
  key: unknown[],
  page: (after: string | undefined) => Promise<P>,
  options: { refetchInterval?: number; enabled?: boolean } = {},
) {
  const query = useInfiniteQuery({
    queryKey: key,
    initialPageParam: undefined as string | undefined,
    placeholderData: keepPreviousData,
    queryFn: ({ pageParam }) => page(pageParam),
    getNextPageParam: (last) => last.next ?? undefined,
    ...options,
  });
  const { data, hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  const more = useCallback(() => {
    if (hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage]);
  const complete = useCallback(async () => {
    let all: InfiniteData<P> | undefined = data;
    let left = hasNextPage;
    while (left) {
      const next = await fetchNextPage();
      all = next.data ?? all;
      left = next.hasNextPage && !next.error;
    }
    return rowsOf(all);
  }, [data, hasNextPage, fetchNextPage]);
  const rows = useMemo(() => rowsOf(data), [data]);
  return { query, rows, more, complete, whole: !hasNextPage, first: data?.pages[0] };
}

function rowsOf<P extends Page>(data: InfiniteData<P> | undefined): RowOf<P>[] {
  return data?.pages.flatMap((page) => page.items) ?? [];
}
