import { useQuery } from "@tanstack/react-query";
import { answerOf, client } from "../api/client";
import { key } from "./keys";

const path = (shortlist_id: number) => ({ params: { path: { shortlist_id } } });

/** How many rows an audience file of each kind would have. */
export const useAudience = (shortlist: number) =>
  useQuery({
    queryKey: key("audience", shortlist),
    queryFn: () => answerOf(client.GET("/api/shortlists/{shortlist_id}/audience", path(shortlist))),
  });

/** Sheets of labels, and for how many of a list labels and a round of visits can be made. */
export const useWorkLists = (shortlist: number) =>
  useQuery({
    queryKey: key("workLists", shortlist),
    queryFn: () => answerOf(client.GET("/api/shortlists/{shortlist_id}/work-lists", path(shortlist))),
  });
