import { problemOf } from "../api/client";

/** Fetches a file that only a POST of this session gives out, and hands it to the browser to keep. */
export async function answerFile(from: string, csrf: string) {
  const answer = await fetch(from, { method: "POST", headers: { "X-CSRF-Token": csrf } });
  if (!answer.ok) throw problemOf(await answer.json().catch(() => undefined));
  const named = /filename="?([^";]+)"?/.exec(answer.headers.get("Content-Disposition") ?? "");
  keepFile(await answer.blob(), named?.[1] ?? "file");
}

/** Hands a file to the browser to keep. */
export function keepFile(body: Blob, name: string) {
  const address = URL.createObjectURL(body);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
