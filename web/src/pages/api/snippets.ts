import { exampleOf, type Operation } from "../../queries/apiDocument";

export const LANGUAGES = ["curl", "Python", "JavaScript"] as const;
export type Language = (typeof LANGUAGES)[number];

const quoted = (text: string) => `'${text.replaceAll("'", "'\\''")}'`;

/** A request as it can be run: ACORN_TOKEN in the environment, numbers in the address to be replaced. */
export function snippet(
  language: Language,
  operation: Operation,
  origin: string,
  schemas: Parameters<typeof exampleOf>[1],
) {
  const asked = (operation.parameters ?? []).filter((one) => one.in === "query" && one.required);
  const query = asked.map((one) => `${one.name}=${exampleOf(one.schema, schemas)}`).join("&");
  const address = `${origin}${operation.path.replaceAll(/\{[^}]*\}/g, "1")}${query ? `?${query}` : ""}`;
  const schema = operation.requestBody?.content["application/json"]?.schema;
  const body = schema ? JSON.stringify(exampleOf(schema, schemas)) : "";
  if (language === "curl") {
    const sent = body ? ` \\\n  -H 'Content-Type: application/json' -d ${quoted(body)}` : "";
    return `curl -sS -X ${operation.method} -H "Authorization: Bearer $ACORN_TOKEN" ${quoted(address)}${sent}`;
  }
  if (language === "Python") {
    const sent = body ? `, json.dumps(json.loads(${JSON.stringify(body)})).encode()` : "";
    return `import json, os, urllib.request
request = urllib.request.Request(${JSON.stringify(address)}${sent}, method=${JSON.stringify(operation.method)})
request.add_header("Authorization", "Bearer " + os.environ["ACORN_TOKEN"])
request.add_header("Content-Type", "application/json")
with urllib.request.urlopen(request) as answer:
    print(answer.read().decode())`;
  }
  const sent = body ? `\n  body: JSON.stringify(${body}),` : "";
  return `const answer = await fetch(${JSON.stringify(address)}, {
  method: ${JSON.stringify(operation.method)},
  headers: { Authorization: \`Bearer \${process.env.ACORN_TOKEN}\`, "Content-Type": "application/json" },${sent}
});
console.log(await answer.text());`;
}
