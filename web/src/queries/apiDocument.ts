import { useQuery } from "@tanstack/react-query";
import { key } from "./keys";

interface Schema {
  $ref?: string;
  type?: string;
  anyOf?: Schema[];
  items?: Schema;
  properties?: Record<string, Schema>;
  required?: string[];
  default?: unknown;
  example?: unknown;
  enum?: unknown[];
  format?: string;
}

export interface Operation {
  method: string;
  path: string;
  operationId: string;
  tags: string[];
  description?: string;
  "x-permission"?: string;
  parameters?: { name: string; in: string; required?: boolean; schema: Schema }[];
  requestBody?: { content: Record<string, { schema: Schema }> };
}

interface ApiDocument {
  info: { description: string; version: string };
  paths: Record<string, Record<string, Omit<Operation, "method" | "path">>>;
  components: { schemas: Record<string, Schema> };
}

/** The OpenAPI document of this installation. */
export const useApiDocument = () =>
  useQuery({
    queryKey: key("apiDocument"),
    queryFn: async (): Promise<ApiDocument> => (await fetch("/api/openapi.json")).json(),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** All operations, in the document's order. */
export const operationsOf = (document: ApiDocument): Operation[] =>
  Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, about]) => ({ ...about, method: method.toUpperCase(), path })),
  );

/** An example of what a schema describes: required fields and those without a default, a few levels deep. */
export function exampleOf(schema: Schema | undefined, all: Record<string, Schema>, depth = 0): unknown {
  if (!schema || depth > 4) return null;
  if (schema.$ref) return exampleOf(all[schema.$ref.split("/").at(-1) ?? ""], all, depth + 1);
  if (schema.example !== undefined) return schema.example;
  if (schema.default !== undefined) return schema.default;
  if (schema.enum) return schema.enum[0];
  if (schema.anyOf) return exampleOf(schema.anyOf[0], all, depth + 1);
  if (schema.properties)
    return Object.fromEntries(
      Object.entries(schema.properties)
        .filter(([name]) => schema.required?.includes(name))
        .map(([name, part]) => [name, exampleOf(part, all, depth + 1)]),
    );
  if (schema.type === "array") return [exampleOf(schema.items, all, depth + 1)];
  if (schema.type === "integer" || schema.type === "number") return 1;
  if (schema.type === "boolean") return false;
  if (schema.type === "object") return {};
  return schema.format === "date" ? "2027-01-31" : "text";
}
