import { useEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { host, when } from "../../lib/format";
import { pictureOf } from "../../lib/pictures";
import type { Row } from "../../queries/businesses";

const WAIT_MS = 250;
const [WIDTH, HEIGHT] = [452, 252];

/** A site's address in the table; the pointer resting on it shows how the site looks. */
export default function SitePeek({ row }: { row: Row }) {
  const [at, setAt] = useState<DOMRect | null>(null);
  const timer = useRef(0);
  const hide = () => {
    window.clearTimeout(timer.current);
    setAt(null);
  };
  useEffect(() => () => window.clearTimeout(timer.current), []);
  if (!row.pictured) return host(row.website);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the panel shows the same pictures by keyboard
    <span
      onMouseEnter={(event) => {
        const cell = event.currentTarget.getBoundingClientRect();
        timer.current = window.setTimeout(() => setAt(cell), WAIT_MS);
      }}
      onMouseLeave={hide}
      onWheel={hide}
      className="block truncate decoration-mark-none underline decoration-dotted underline-offset-2"
    >
      {host(row.website)}
      {at && createPortal(<Pictures row={row} beside={at} />, document.body)}
    </span>
  );
}

/** Desktop and phone beside each other, under the cell or above it where there is no room. */
function Pictures({ row, beside }: { row: Row; beside: DOMRect }) {
  const left = Math.max(8, Math.min(beside.left, window.innerWidth - WIDTH - 8));
  const below = beside.bottom + HEIGHT + 8 < window.innerHeight;
  return (
    <div
      aria-hidden="true"
      style={{ left, top: below ? beside.bottom + 4 : beside.top - HEIGHT - 4, width: WIDTH, height: HEIGHT }}
      className="pointer-events-none fixed z-[800] border border-line bg-sheet p-2 shadow-lg"
    >
      <div className="flex h-[208px] gap-2">
        <img
          src={pictureOf(row.id, "desk", row.pictured)}
          alt=""
          className="aspect-[8/5] h-full border border-line object-cover object-top"
        />
        <img
          src={pictureOf(row.id, "phone", row.pictured)}
          alt=""
          className="min-w-0 flex-1 border border-line object-cover object-top"
        />
      </div>
      <p className="mt-1 flex justify-between gap-3 text-xs whitespace-nowrap text-soft">
        <span className="truncate">{host(row.website)}</span>
        <span>seen {when(row.pictured)}</span>
      </p>
    </div>
  );
}
