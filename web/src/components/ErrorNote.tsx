import { Problem } from "../api/client";
import { sentence } from "../lib/format";

/** Addresses of the application in a sentence; they become links. */
const OURS = /(\/(?:businesses|settings|sweeps|offers|outreach)[\w/-]*)/;

function Remedy({ text }: { text: string }) {
  return sentence(text)
    .split(OURS)
    .map((part, index) =>
      index % 2 === 0 ? (
        part
      ) : (
        <a key={part} href={part} className="text-leaf-dark underline">
          {part}
        </a>
      ),
    );
}

/** What went wrong, and what to do about it. */
export function ErrorNote({ error }: { error: Error | null | undefined }) {
  if (!error) return null;
  const remedy = error instanceof Problem ? error.remedy : "";
  return (
    <p role="alert" className="border-l-[3px] border-alarm bg-acorn-soft/60 px-2.5 py-1.5 text-ink">
      <strong className="font-semibold">{sentence(error.message)}</strong>{" "}
      {remedy && <Remedy text={remedy} />}
    </p>
  );
}
