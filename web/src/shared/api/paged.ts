import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";

/** A page of a long list as the server gives it. */
interface Page<T> {
  items: T[];
  count: number;
  after: string;
}

/** A long list page by page: what was fetched of it so far, how much there is, and the way on. */
export function usePaged<T>(
  key: readonly unknown[],
  fetch: (after: string) => Promise<Page<T>>,
  { enabled = true, every }: { enabled?: boolean; every?: (rows: T[]) => number | false } = {},
) {
  const list = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => fetch(pageParam),
    initialPageParam: "",
    getNextPageParam: (page: Page<T>) => page.after || undefined,
    placeholderData: keepPreviousData,
    enabled,
    refetchInterval: (query) =>
      every?.(query.state.data?.pages.flatMap((p) => p.items) ?? []) ?? false,
  });
  const rows = list.data?.pages.flatMap((p) => p.items);
  const more = list.hasNextPage ? () => void list.fetchNextPage() : undefined;
  return { rows, count: list.data?.pages[0]?.count ?? 0, more, error: list.error, list };
}
