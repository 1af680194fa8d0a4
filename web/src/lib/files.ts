import { problemOf } from "../api/client";

/** Fetches a file that only a POST of this session gives out, and hands it to the browser to keep. */
export async function answerFile(from: string, csrf: string) {
  const answer = await fetch(from, { method: "POST", headers: { "X-CSRF-Token": csrf } });
  if (!answer.ok) throw problemOf(await answer.json().catch(() => undefined));
  const named = /filename="?([^";]+)"?/.exec(answer.headers.get("Content-Disposition") ?? "");
  const address = URL.createObjectURL(await answer.blob());
  const link = document.createElement("a");
  link.href = address;
  link.download = named?.[1] ?? "file";
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
