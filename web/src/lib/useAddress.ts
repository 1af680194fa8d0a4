import { useCallback } from "react";
import { useSearchParams } from "react-router";
import type { Change } from "./filter";

/** The address's parameters, and how to change them from whatever they are at that moment, drawn already or not; gives the new ones. */
export function useAddress(): [
  URLSearchParams,
  (change: Change, how?: { replace?: boolean }) => URLSearchParams,
] {
  const [params, setParams] = useSearchParams();
  const change = useCallback(
    (to: Change, how?: { replace?: boolean }) => {
      const next = to(new URLSearchParams(window.location.search));
      setParams(next, how);
      return next;
    },
    [setParams],
  );
  return [params, change];
}
