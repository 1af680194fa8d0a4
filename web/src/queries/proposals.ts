import { useQuery } from "@tanstack/react-query";
import { answerOf, client, type Schemas } from "../api/client";
import { A_BUSINESS, key, useChange } from "./keys";

export type Proposal = Schemas["ProposalResponse"];
export type ProposalAsked = Schemas["ProposalRequest"];

/** A business's proposals, and what a new one begins with. */
export const useProposals = (business_id: number) =>
  useQuery({
    queryKey: key("proposals", business_id),
    queryFn: () =>
      answerOf(client.GET("/api/businesses/{business_id}/proposals", { params: { path: { business_id } } })),
    refetchInterval: 20_000,
  });

/** Saves a proposal that nobody outside has seen: a new one (0), or one that is there. */
export const useSaveProposal = (business_id: number) =>
  useChange(
    ({ number, ...body }: ProposalAsked & { number: number }) =>
      number
        ? answerOf(client.PUT("/api/proposals/{number}", { params: { path: { number } }, body }))
        : answerOf(
            client.POST("/api/businesses/{business_id}/proposals", {
              params: { path: { business_id } },
              body,
            }),
          ),
    "proposals",
  );

/** Shows a proposal at its address, or closes that. */
export const useShareProposal = () =>
  useChange(
    ({ number, open, by }: { number: number; open: boolean; by: string }) =>
      answerOf(
        client.POST(open ? "/api/proposals/{number}/share" : "/api/proposals/{number}/withdraw", {
          params: { path: { number } },
          body: { by },
        }),
      ),
    "proposals",
    ...A_BUSINESS,
  );
