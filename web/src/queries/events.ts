import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { listen } from "../lib/stream";
import { type Noun, type Room, refresh } from "./keys";

const SETTLE_MS = 400;
/** What a number that has grown touches. */
const TOUCHED: Record<string, (Noun | Room)[]> = {
  businesses: ["desk", "board", "calls"],
  acts: ["activity"],
  contacts: ["activity", "callSheet", "board", "calls"],
  inbox: ["inbox", "replies"],
};

/** Asks again for what others have changed, as soon as they have. live: are there others? */
export function useOthersChanges(live: boolean) {
  const cache = useQueryClient();
  useEffect(() => {
    if (!live) return;
    let last: Record<string, number> | undefined;
    let timer = 0;
    const waiting = new Set<Noun | Room>();
    const end = listen<Record<string, number>>("/api/events", (now) => {
      for (const [name, number] of Object.entries(now))
        if (last && number !== last[name]) for (const touched of TOUCHED[name] ?? []) waiting.add(touched);
      last = now;
      if (waiting.size === 0) return;
      clearTimeout(timer);
      timer = window.setTimeout(() => {
        refresh(cache, [...waiting]);
        waiting.clear();
      }, SETTLE_MS);
    });
    return () => {
      clearTimeout(timer);
      end();
    };
  }, [live, cache]);
}
