import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";

const NUMBER = "data-element";
const SHORTEST = 200;
const TALLEST = 30_000;

export interface Mark {
  elements: number[];
  look: "item" | "field" | "next";
  label?: string;
}

interface Props {
  /** The page's name among those fetched. */
  page: string;
  title: string;
  marks: Mark[];
  onPick: (element: number) => void;
}

interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

const LOOKS = {
  item: "outline-2 outline-leaf bg-leaf/8",
  field: "outline-1 outline-acorn bg-acorn/15",
  next: "outline-2 outline-dashed outline-acorn bg-acorn/15",
};

const numberOf = (element: Element | null) =>
  Number(element?.closest(`[${NUMBER}]`)?.getAttribute(NUMBER) ?? -1);
const boxOf = (element: Element): Box => {
  const { left, top, width, height } = element.getBoundingClientRect();
  return { left, top, width, height };
};

/** Where an arrow key leads from an element: out, in, and along. */
const neighbour = (at: Element, key: string): Element | null =>
  ({
    ArrowUp: at.parentElement,
    ArrowDown: at.firstElementChild,
    ArrowLeft: at.previousElementSibling,
    ArrowRight: at.nextElementSibling,
  })[key] ?? null;

/** Somebody else's page, lying still: its elements can be pointed at with the mouse or the arrow keys. */
export default function PageFrame({ page, title, marks, onPick }: Props) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [height, setHeight] = useState(SHORTEST);
  const [ready, setReady] = useState(false);
  const [at, setAt] = useState<Element | null>(null);
  const inside = () => (ready ? frame.current?.contentDocument : null);
  const under = (event: MouseEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return inside()?.elementFromPoint(event.clientX - left, event.clientY - top) ?? null;
  };
  const loaded = () => {
    const tall = frame.current?.contentDocument?.documentElement.scrollHeight ?? 0;
    setHeight(Math.min(TALLEST, Math.max(SHORTEST, tall)));
    setReady(true);
  };
  const byKey = (event: KeyboardEvent) => {
    if (event.key === "Enter" && at) return onPick(numberOf(at));
    const next = neighbour(at ?? (inside()?.body as Element), event.key);
    if (!next || next.tagName === "HTML") return;
    event.preventDefault();
    setAt(next);
    const scrolled = event.currentTarget.parentElement?.parentElement;
    scrolled?.scrollTo({ top: boxOf(next).top - 80 });
  };
  const boxes = marks.flatMap((mark) =>
    mark.elements.flatMap((number) => {
      const element = inside()?.querySelector(`[${NUMBER}="${number}"]`);
      return element ? [{ ...mark, number, box: boxOf(element) }] : [];
    }),
  );
  const pointed = numberOf(at);
  const meant = boxes.find((mark) => mark.number === pointed)?.label;
  return (
    <section
      aria-label={title}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
      tabIndex={0}
      className="relative h-[440px] overflow-auto border border-line bg-white"
    >
      <div className="relative min-w-[900px]" style={{ height }}>
        <iframe
          ref={frame}
          title={title}
          src={`/api/recipes/pages/${page}`}
          sandbox="allow-same-origin"
          tabIndex={-1}
          className="absolute inset-0 h-full w-full"
          onLoad={loaded}
        />
        <button
          type="button"
          aria-label="Point at the page: arrow keys move from element to element, Enter picks one"
          className="absolute inset-0 cursor-crosshair"
          onMouseMove={(event) => setAt(under(event))}
          onMouseLeave={() => setAt(null)}
          onClick={(event) => event.detail > 0 && onPick(numberOf(under(event)))}
          onKeyDown={byKey}
        >
          {boxes.map((mark) => (
            <span
              key={`${mark.look} ${mark.label} ${mark.number}`}
              data-look={mark.look}
              className={`pointer-events-none absolute ${LOOKS[mark.look]}`}
              style={mark.box}
            />
          ))}
          {at && ready && (
            <span
              className="pointer-events-none absolute outline-2 outline-ink"
              style={boxOf(at)}
              data-look="pointer"
            >
              {meant && (
                <span className="absolute bottom-full left-0 bg-ink px-1 text-xs text-white">{meant}</span>
              )}
            </span>
          )}
        </button>
      </div>
      <span aria-live="polite" className="sr-only">
        {at?.textContent?.trim().slice(0, 80)}
      </span>
    </section>
  );
}
