import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Button } from "../../components/Button";
import { useBest } from "../../queries/demo";

interface Stop {
  to: (best: number) => string;
  title: string;
  text: string;
  /** What is outlined on the page meanwhile. */
  mark?: string;
  /** Does the card stand at the left, as what is spoken of is at the right? */
  left?: boolean;
}

/** The order of work, a stop each. */
const STOPS: Stop[] = [
  {
    to: () => "/sweeps",
    title: "Gather",
    text: "A sweep gathers the businesses of a trade in an area, from several sources. Each line shows the area, the number found, and the next run.",
  },
  {
    to: () => "/businesses",
    title: "Choose",
    text: "Every business is one row. The coloured strip shows what its website lacks. Narrow the table with the filters on the left.",
    mark: "[aria-label='Filters']",
  },
  {
    to: (best) => `/businesses?b=${best}`,
    title: "Check",
    text: "The panel says what is missing, with the evidence, and why the offer fits. Every score opens into the terms that make it up.",
    mark: "[aria-label='Selected business']",
    left: true,
  },
  {
    to: () => "/outreach",
    title: "Work a list",
    text: "Picked businesses go on a shortlist. Each card shows its stage, its owner and the next call. Open one for its call sheet.",
  },
  {
    to: () => "/outreach/pages",
    title: "Show the findings",
    text: "An owner’s page shows the findings in plain words. You see who opened it, and answers come in under Replies.",
  },
  {
    to: () => "/offers/winning",
    title: "Learn",
    text: "Results of calls teach the chance of winning each service. It moves the ranking as you work.",
  },
  {
    to: () => "/insight",
    title: "See the whole",
    text: "Where are the gaps, by town and trade? Any cell opens the table with exactly these businesses.",
  },
];

/** Outline a part of the page as long as it is spoken of. */
function useOutline(mark: string | undefined) {
  useEffect(() => {
    if (!mark) return;
    let marked: Element | null = null;
    const timer = setInterval(() => {
      const found = document.querySelector(mark);
      if (!found || found === marked) return;
      marked?.classList.remove("toured");
      found.classList.add("toured");
      marked = found;
    }, 200);
    return () => {
      clearInterval(timer);
      marked?.classList.remove("toured");
    };
  }, [mark]);
}

/** A walk through the demo in the order of work; Escape or Skip ends it. */
export default function Tour({ onEnd }: { onEnd: () => void }) {
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const best = useBest().data;
  const next = useRef<HTMLButtonElement>(null);
  const stop = STOPS[at];
  useOutline(stop?.mark);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new stop takes the focus to its own button
  useEffect(() => next.current?.focus(), [at]);
  useEffect(() => {
    if (stop && best !== undefined) navigate(stop.to(best));
  }, [stop, best, navigate]);
  useEffect(() => {
    const key = (event: KeyboardEvent) => event.key === "Escape" && onEnd();
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [onEnd]);
  if (!stop) return null;
  const last = at === STOPS.length - 1;
  return (
    <section
      aria-label="Tour"
      className={`fixed bottom-4 ${stop.left ? "left-56" : "right-4"} z-40 w-84 border border-ink bg-sheet px-4 py-3 text-ink shadow-lg`}
    >
      <p className="text-xs text-soft">
        {at + 1} of {STOPS.length}
      </p>
      <h2 className="text-[15px]">{stop.title}</h2>
      <p className="mt-1" aria-live="polite">
        {stop.text}
      </p>
      <p className="mt-3 flex items-center gap-2">
        <Button ref={next} look="main" onClick={() => (last ? onEnd() : setAt(at + 1))}>
          {last ? "Look around" : "Next"}
        </Button>
        {at > 0 && <Button onClick={() => setAt(at - 1)}>Back</Button>}
        {!last && (
          <Button look="quiet" className="ml-auto" onClick={onEnd}>
            Skip the tour
          </Button>
        )}
      </p>
    </section>
  );
}
