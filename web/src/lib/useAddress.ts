import { useCallback } from "react";
import { useSearchParams } from "react-router";
import type { Change } from "./filter";

/** The address's parameters, and how to change them from whatever they are at that moment, drawn already or not. */
export function useAddress(): [URLSearchParams, (change: Change, how?: { replace?: boolean }) => void] {
  const [params, setParams] = useSearchParams();
  const change = useCallback(
    (to: Change, how?: { replace?: boolean }) =>
      setParams(to(new URLSearchParams(window.location.search)), how),
    [setParams],
  );
  return [params, change];
}
