import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import LanguageSelect from "../../components/LanguageSelect";
import { sentence } from "../../lib/format";
import type { Reworded, useReword } from "../../queries/messages";

type Tone = Schemas["RewordRequest"]["tone"];
const TONES: Tone[] = ["friendlier", "more formal", "shorter", "plainer"];

interface Props {
  reword: ReturnType<typeof useReword>;
  helper: string;
  language: string;
  /** In one language only: that of what it stands in. */
  fixed?: boolean;
  draft: { subject: string; text: string };
  onUse: (draft: { subject: string; text: string; language: string }) => void;
}

/** Lets the writing helper reword a draft; its text can be used only if it says nothing else. */
export default function Reword({ reword, helper, language, fixed, draft, onUse }: Props) {
  const [tone, setTone] = useState<Tone>("friendlier");
  const [wanted, setWanted] = useState(language);
  const found = reword.data;
  return (
    <section aria-label="Reword" className="border-t border-line pt-2">
      <p className="flex flex-wrap items-center gap-1.5">
        <select
          aria-label="Tone"
          value={tone}
          onChange={(event) => setTone(event.target.value as Tone)}
          className="box"
        >
          {TONES.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        {!fixed && <LanguageSelect label="In" value={wanted} onChange={setWanted} />}
        <Button
          disabled={reword.isPending || !draft.text}
          onClick={() => reword.mutate({ tone, language: wanted, ...draft })}
        >
          {reword.isPending ? "Rewording …" : "Reword"}
        </Button>
      </p>
      <p className="mt-1 text-soft">This text and the facts on the business go to {helper}.</p>
      <ErrorNote error={reword.error} />
      {found && !reword.isPending && (
        <Result
          found={found}
          onDiscard={() => reword.reset()}
          onUse={() => {
            onUse({ subject: found.subject, text: found.text, language: wanted });
            reword.reset();
          }}
        />
      )}
    </section>
  );
}

function Result({ found, onUse, onDiscard }: { found: Reworded; onUse: () => void; onDiscard: () => void }) {
  const wrong = [...found.subject_check, ...found.sentences].flatMap((item) => item.problems);
  return (
    <div className="mt-2 border border-line bg-page px-3 py-2" aria-live="polite">
      <p className={found.holds ? "text-leaf-dark" : "text-alarm"}>
        {found.holds
          ? "It says nothing that is not in your text or the facts."
          : "It cannot be used: it says more than is known."}
      </p>
      {found.subject && (
        <p className="mt-2 font-semibold">
          <Judged text={found.subject} sentences={found.subject_check} />
        </p>
      )}
      <div className="mt-1 whitespace-pre-wrap">
        <Judged text={found.text} sentences={found.sentences} />
      </div>
      {(wrong.length > 0 || found.lost.length > 0) && (
        <ul className="mt-2 text-alarm">
          {[...new Set(wrong), ...found.lost.map((link) => `the link ${link} is missing`)].map((why) => (
            <li key={why}>{sentence(why)}</li>
          ))}
        </ul>
      )}
      <p className="mt-2 flex gap-1.5">
        {found.holds && (
          <Button look="main" onClick={onUse}>
            Use this text
          </Button>
        )}
        <Button onClick={onDiscard}>Discard</Button>
      </p>
      <details className="mt-2 text-soft">
        <summary className="cursor-pointer">What was sent</summary>
        <pre className="mt-1 font-sans text-xs whitespace-pre-wrap">{found.asked}</pre>
      </details>
    </div>
  );
}

/** A text whose sentences that must not be said are struck through. */
function Judged({ text, sentences }: { text: string; sentences: Reworded["sentences"] }) {
  const pieces: { text: string; problems: string[] }[] = [];
  let at = 0;
  for (const item of sentences) {
    const found = text.indexOf(item.text, at);
    if (found < 0) continue;
    pieces.push({ text: text.slice(at, found), problems: [] }, { text: item.text, problems: item.problems });
    at = found + item.text.length;
  }
  pieces.push({ text: text.slice(at), problems: [] });
  return pieces.map((piece, index) =>
    piece.problems.length > 0 ? (
      // biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text, in order
      <del key={index} title={piece.problems.map(sentence).join("\n")} className="text-alarm">
        {piece.text}
      </del>
    ) : (
      // biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text, in order
      <span key={index}>{piece.text}</span>
    ),
  );
}
