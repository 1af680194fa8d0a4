import createClient from "openapi-fetch";
import { csrf, signedOut } from "../lib/session";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Business = Schemas["BusinessResponse"];
export type Finding = Schemas["FindingResponse"];
export type Opportunity = Schemas["OpportunityResponse"];
export type CheckInfo = Schemas["CheckInfo"];
export type Service = Schemas["ServiceResponse"];
export type ServiceAsked = Schemas["ServiceRequest"];
export type Angle = Schemas["AngleResponse"];
export type Trade = Schemas["TradeInfo"];
export type Run = Schemas["RunResponse"];
/** A plan as the form holds it: what it leaves out is as the API's defaults say. */
export type Plan = Pick<Schemas["PlanRequest"], "trades" | "areas"> &
  Partial<Omit<Schemas["PlanRequest"], "rules">> & { rules?: Partial<Schemas["RulesRequest"]> };
export type Area = Schemas["AreaRequest"];
export type Rules = Partial<Schemas["RulesRequest"]>;
export type Place = Schemas["Place"];

export const client = createClient<paths>({ baseUrl: "" });

/** Texts that two people may edit at once: a change is sent with the version that it was made from. */
const GUARDED = /^\/api\/(messages\/\d+|settings|sending|letterhead)$/;
const versions = new Map<string, string>();

client.use({
  onRequest({ request }) {
    if (csrf() && request.method !== "GET") request.headers.set("X-CSRF-Token", csrf());
    const loaded = versions.get(request.url);
    if (request.method === "PUT" && loaded) request.headers.set("If-Match", loaded);
    return request;
  },
  onResponse({ request, response }) {
    if (GUARDED.test(new URL(request.url).pathname)) {
      const version = request.method === "GET" ? response.headers.get("ETag") : null;
      // after a change, or a refusal that was read, what was loaded before counts no more: saving again keeps one's own
      if (version) versions.set(request.url, version);
      else if (request.method === "PUT") versions.delete(request.url);
    }
    if (response.status === 401 && !new URL(request.url).pathname.startsWith("/api/session")) signedOut();
  },
});

/** What went wrong, in which field, and what to do: the one shape of every error. */
export class Problem extends Error {
  constructor(
    readonly what: string,
    readonly where: string,
    readonly remedy: string,
  ) {
    super(what);
  }
}

export function problemOf(error: unknown): Problem {
  const problem = (error as { error?: { what?: string; where?: string; remedy?: string } } | undefined)
    ?.error;
  if (problem?.what) return new Problem(problem.what, problem.where ?? "", problem.remedy ?? "");
  return new Problem("the application did not answer", "connection", "check that it is still running");
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Unwraps an answer: its data (undefined where there is nothing to say), or a Problem thrown. */
export async function answerOf<T>(answer: Promise<Answer<T>>): Promise<T> {
  let result: Answer<T>;
  try {
    result = await answer;
  } catch {
    throw problemOf(undefined);
  }
  if (!result.response.ok) throw problemOf(result.error);
  return result.data as T;
}
