import { keepPreviousData, queryOptions, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { answerOf, client } from "../api/client";
import { PICKED } from "../lib/filter";
import { key } from "./keys";

export const PAGE = 100;
export const MAIN_FACETS = PICKED.join(",");

export interface Row {
  id: number;
  name: string;
  trade: string;
  town: string;
  distance_m: number | null;
  website: string;
  phone: string;
  rating: number | null;
  reviews: number | null;
  offer: string;
  score: number | null;
  value: number | null;
  reach: number | null;
  audited_at: string | null;
  rejected: string;
  strip: string;
  /** When a browser last took pictures of its site, "" if none did. */
  pictured: string;
  shortlists: number;
  [more: string]: string | number | null;
}

export interface Clause {
  key: string;
  text: string;
}

export interface Page {
  rows: Row[];
  total: number;
  all: number;
  sentence: string;
  clauses: Clause[];
  behind: boolean;
}

/** How soon to ask again: while a run goes on, now and then; while a large change is on its way into the table, soon. */
const again = (live: boolean) => (query: { state: { data?: { behind: boolean } } }) =>
  query.state.data?.behind ? 500 : live ? 1500 : (false as const);

async function fetchPage(
  filter: Record<string, string>,
  sort: string,
  offset: number,
  more: string,
): Promise<Page> {
  const query = { ...filter, sort, offset, limit: PAGE, more };
  const page = await answerOf(client.GET("/api/businesses", { params: { query } }));
  const rows = page.rows.map(
    (cells) =>
      Object.fromEntries(page.columns.map((column, index) => [column, cells[index]])) as unknown as Row,
  );
  return {
    rows,
    total: page.total,
    all: page.all,
    sentence: page.sentence,
    clauses: page.clauses,
    behind: page.behind,
  };
}

const pageQuery = (filter: Record<string, string>, sort: string, page: number, columns: string) =>
  queryOptions({
    queryKey: key("businesses", filter, sort, page, columns),
    queryFn: () => fetchPage(filter, sort, page * PAGE, columns),
  });

const facetsQuery = (filter: Record<string, string>, of: string) =>
  queryOptions({
    queryKey: key("facets", filter, of),
    queryFn: () => answerOf(client.GET("/api/businesses/facets", { params: { query: { ...filter, of } } })),
  });

/** Asks for what a filter will show while the click is still being drawn. */
export function useAhead(sort: string, columns: string) {
  const cache = useQueryClient();
  return useCallback(
    (filter: Record<string, string>) => {
      cache.prefetchQuery(pageQuery(filter, sort, 0, columns));
      cache.prefetchQuery(facetsQuery(filter, MAIN_FACETS));
    },
    [cache, sort, columns],
  );
}

/**
 * The pages of the table that are in view, by page number. When the filter changes, a page stays until its successor is
 * there; another page's rows never stand in for it.
 */
export function useGrid(
  filter: Record<string, string>,
  sort: string,
  pages: number[],
  live: boolean,
  columns = "",
) {
  const results = useQueries({
    queries: pages.map((page) => ({
      ...pageQuery(filter, sort, page, columns),
      placeholderData: (before: Page | undefined, query?: { queryKey: readonly unknown[] }) =>
        query?.queryKey[4] === page ? before : undefined,
      refetchInterval: again(live),
    })),
  });
  const byPage = new Map<number, Page>();
  pages.forEach((page, index) => {
    const data = results[index]?.data;
    if (data) byPage.set(page, data);
  });
  const error = results.find((result) => result.error)?.error ?? null;
  // after a jump no page in view may be there yet: the counts of the last answer hold until one is
  const last = useRef<Page>(undefined);
  const counts = results.find((result) => result.data && !result.isPlaceholderData)?.data ?? last.current;
  last.current = counts;
  return {
    byPage,
    total: counts?.total,
    all: counts?.all,
    sentence: counts?.sentence,
    clauses: counts?.clauses ?? [],
    error,
  };
}

/** Counts of some facets (their names with commas between). */
export const useFacets = (filter: Record<string, string>, of: string, live: boolean) =>
  useQuery({
    ...facetsQuery(filter, of),
    placeholderData: keepPreviousData,
    refetchInterval: again(live),
  });

/** [id, lat, lon, best offer, the number `of` it] of the selection. */
export type Point = [number, number, number, string, number | null];

export const usePoints = (filter: Record<string, string>, live: boolean, of = "score") =>
  useQuery({
    queryKey: key("points", filter, of),
    queryFn: () => answerOf(client.GET("/api/businesses/points", { params: { query: { ...filter, of } } })),
    placeholderData: keepPreviousData,
    refetchInterval: again(live),
  });

/** The columns that a page can hold, as the application describes them. */
export const useBusinessColumns = () =>
  useQuery({
    queryKey: key("columns"),
    queryFn: () => answerOf(client.GET("/api/columns")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const useBusiness = (id: number | null) =>
  useQuery({
    queryKey: key("business", id),
    queryFn: () =>
      answerOf(client.GET("/api/businesses/{business_id}", { params: { path: { business_id: id ?? 0 } } })),
    enabled: id !== null,
    placeholderData: keepPreviousData,
  });
