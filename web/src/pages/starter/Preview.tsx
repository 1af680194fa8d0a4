import { useState } from "react";
import { Button } from "../../components/Button";
import type { Site } from "../../queries/website";

/** A desktop of 1280 points within a column of about 720. */
const SCALE = 0.5625;
const WIDE = {
  width: `${100 / SCALE}%`,
  height: `${100 / SCALE}%`,
  transform: `scale(${SCALE})`,
  transformOrigin: "0 0",
};

/** The website as it was saved, on a desktop, on a phone, or beside the old one. */
export default function Preview({ id, site, changed }: { id: number; site: Site; changed: boolean }) {
  const [on, setOn] = useState<"desktop" | "phone" | "before">("desktop");
  const [split, setSplit] = useState(50);
  const frame = (
    <iframe
      key={site.made_at}
      title="The new website"
      src={`/api/businesses/${id}/website/preview/index.html`}
      className="border border-line bg-white"
      style={on === "phone" ? { width: 390, height: "100%" } : WIDE}
    />
  );
  return (
    <>
      <p className="mt-2 flex items-center gap-1">
        {(
          [
            ["desktop", "Desktop"],
            ["phone", "Phone"],
            ["before", "Before and after"],
          ] as const
        ).map(([name, label]) => (
          <Button
            key={name}
            aria-pressed={on === name}
            disabled={name === "before" && !site.pictured}
            onClick={() => setOn(name)}
          >
            {label}
          </Button>
        ))}
        {!site.pictured && (
          <span className="ml-2 text-soft">There is no picture of the old website to compare with.</span>
        )}
        {changed && <span className="ml-2 text-acorn">Save to see your changes.</span>}
      </p>
      {on === "before" ? (
        <>
          <label className="mt-2 flex items-center gap-2">
            Before
            <input
              type="range"
              aria-label="How much of the old website is shown"
              value={split}
              onChange={(event) => setSplit(Number(event.target.value))}
              className="flex-1"
            />
            After
          </label>
          <div className="relative mt-2 min-h-0 flex-1 overflow-hidden">
            {frame}
            <div
              className="absolute inset-0 overflow-hidden border-r-2 border-acorn"
              style={{ width: `${100 - split}%` }}
            >
              <img
                src={`/api/businesses/${id}/pictures/desk`}
                alt="The old website"
                className="h-full max-w-none bg-white object-cover object-left-top"
              />
            </div>
          </div>
        </>
      ) : (
        <div className={`mt-2 min-h-0 flex-1 overflow-hidden ${on === "phone" ? "flex justify-center" : ""}`}>
          {frame}
        </div>
      )}
    </>
  );
}
