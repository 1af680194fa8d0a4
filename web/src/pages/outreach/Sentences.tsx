import type { Schemas } from "../../api/client";

/** A message's text; a sentence that states a finding is underlined and names it on hover and focus. */
export default function Sentences({ text, sentences }: { text: string; sentences: Schemas["Sentence"][] }) {
  const pieces: { text: string; because: string[] }[] = [];
  let at = 0;
  for (const sentence of sentences) {
    const found = text.indexOf(sentence.text, at);
    if (found < 0) continue;
    if (found > at) pieces.push({ text: text.slice(at, found), because: [] });
    pieces.push({ text: sentence.text, because: sentence.because ?? [] });
    at = found + sentence.text.length;
  }
  pieces.push({ text: text.slice(at), because: [] });
  return (
    <div className="whitespace-pre-wrap">
      {pieces.map((piece, index) =>
        piece.because.length > 0 ? (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text, in order
            key={index}
            type="button"
            title={piece.because.join("\n")}
            aria-label={`${piece.text} Rests on: ${piece.because.join("; ")}`}
            className="inline cursor-help text-left underline decoration-acorn decoration-dotted underline-offset-[3px]"
          >
            {piece.text}
          </button>
        ) : (
          // biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text, in order
          <span key={index}>{piece.text}</span>
        ),
      )}
    </div>
  );
}
