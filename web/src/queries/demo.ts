import { useMutation, useQuery } from "@tanstack/react-query";
import { answerOf, client } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

const REST_MS = 400;
const MOST_TRIES = 150;

/** Wait until the application answers with the user's own data. */
async function ownDataThere() {
  for (let tried = 0; tried < MOST_TRIES; tried++) {
    await new Promise((resolve) => setTimeout(resolve, REST_MS));
    const status = await client.GET("/api/status").catch(() => null);
    if (status?.data && !status.data.demo) return;
  }
  throw new Error(
    "Your own data did not open. Look at the terminal for the reason, then start ./acorn serve.",
  );
}

/** Leave the demo for one's own data: the application starts anew at the same address. */
export const useLeaveDemo = () =>
  useMutation({
    mutationFn: async () => {
      await answerOf(client.POST("/api/demo/leave"));
      await ownDataThere();
    },
    onSuccess: () => window.location.assign("/"),
  });

/** Let hours pass at the coast; the answer is how many messages arrived. */
export const usePassHours = () =>
  useChange(
    (hours: number) => answerOf(client.POST("/api/demo/hours", { params: { query: { hours } } })),
    "messages",
    ...A_BUSINESS,
  );

/** The business with the most valuable offer, 0 if there is none. */
export const useBest = () =>
  useQuery({
    queryKey: key("businesses", "best"),
    queryFn: async () => {
      const query = { columns: "id", limit: 1, sort: "-value" };
      const table = await answerOf(client.GET("/api/businesses", { params: { query } }));
      return Number(table.rows[0]?.[0] ?? 0);
    },
  });
