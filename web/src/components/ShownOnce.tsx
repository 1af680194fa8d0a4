import { Button } from "./Button";

interface Props {
  words: string;
  text: string;
  onDone: () => void;
}

/** A secret that is shown this once: to be copied, then put away. */
export default function ShownOnce({ words, text, onDone }: Props) {
  return (
    <div className="mt-3 max-w-2xl border border-acorn px-3 py-2">
      <p>{words}</p>
      <p className="mt-1 font-mono text-xs break-all whitespace-pre-wrap">{text}</p>
      <Button className="mt-1.5" onClick={() => navigator.clipboard.writeText(text)}>
        Copy it
      </Button>{" "}
      <Button look="quiet" onClick={onDone}>
        I have it
      </Button>
    </div>
  );
}
