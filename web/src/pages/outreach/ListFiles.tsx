import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, sentence } from "../../lib/format";
import { useAudience, useWorkLists } from "../../queries/workLists";

const FILE =
  "inline-flex items-center rounded-[3px] border border-leaf bg-leaf px-2.5 py-1 font-medium text-white hover:bg-leaf-dark";

/** Files for other tools and for paper, made from a list: audiences, labels, a round of visits. */
export default function ListFiles({ shortlist, onClose }: { shortlist: number; onClose: () => void }) {
  return (
    <section
      aria-label="Files"
      className="mt-3 flex items-start gap-6 border border-line bg-sheet px-3 py-2"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <Audience shortlist={shortlist} />
      <Paper shortlist={shortlist} />
      <Button look="quiet" className="ml-auto" onClick={onClose}>
        Close
      </Button>
    </section>
  );
}

function Audience({ shortlist }: { shortlist: number }) {
  const query = useAudience(shortlist);
  const [kind, setKind] = useState("contacts");
  const [hash, setHash] = useState(true);
  const counts = query.data?.counts ?? [];
  const rows = counts.find((item) => item.kind === kind)?.rows ?? 0;
  return (
    <div className="min-w-0 flex-1">
      <h2 className="text-[15px]">Audience for adverts</h2>
      <p className="text-soft">
        For the customer uploads of advertisers. You must know whose consent they need.
      </p>
      {counts.map((item) => (
        <label key={item.kind} className="flex items-center gap-1.5 py-0.5">
          <input
            type="radio"
            name="audience"
            checked={kind === item.kind}
            onChange={() => setKind(item.kind)}
          />
          {sentence(item.title).replace(/\.$/, "")} <span className="text-soft">{count(item.rows)}</span>
        </label>
      ))}
      {kind !== "companies" && (
        <label className="mt-1 flex items-center gap-1.5">
          <input type="checkbox" checked={hash} onChange={(event) => setHash(event.target.checked)} />
          Hash names, numbers and addresses (SHA-256)
        </label>
      )}
      {(query.data?.refused ?? 0) > 0 && (
        <p className="text-soft">{count(query.data?.refused ?? 0)} who refused are left out.</p>
      )}
      <ErrorNote error={query.error} />
      {rows > 0 && (
        <a
          className={`mt-2 ${FILE}`}
          href={`/api/shortlists/${shortlist}/audience.csv?kind=${kind}&hash=${hash}`}
          download
        >
          Download {count(rows)} {rows === 1 ? "row" : "rows"}
        </a>
      )}
    </div>
  );
}

function Paper({ shortlist }: { shortlist: number }) {
  const query = useWorkLists(shortlist);
  const [sheet, setSheet] = useState("a4-24");
  const [used, setUsed] = useState(0);
  const found = query.data;
  return (
    <div className="w-[320px] shrink-0 border-l border-line pl-4">
      <h2 className="text-[15px]">Address labels</h2>
      <select
        aria-label="Sheet of labels"
        value={sheet}
        onChange={(event) => setSheet(event.target.value)}
        className="w-full box"
      >
        {found?.sheets.map((item) => (
          <option key={item.id} value={item.id}>
            {item.title}
          </option>
        ))}
      </select>
      <label className="mt-1.5 flex items-center gap-1.5">
        Labels already used
        <input
          type="number"
          min={0}
          max={29}
          value={used}
          onChange={(event) => setUsed(Math.max(0, Number(event.target.value)))}
          className="w-16 box"
        />
      </label>
      {found && found.addressed > 0 ? (
        <a
          className={`mt-1.5 ${FILE}`}
          href={`/api/shortlists/${shortlist}/labels.pdf?sheet=${sheet}&skip=${used}`}
          download
        >
          Download {count(found.addressed)} labels
        </a>
      ) : (
        <p className="text-soft">Nobody here has a postal address.</p>
      )}
      <h2 className="mt-4 text-[15px]">Round of visits</h2>
      {found && found.placed > 0 ? (
        <>
          <p className="text-soft">
            {count(found.placed)} stops in a short order,{" "}
            {found.from_home ? "from home" : "from the first stop"}, by distance through the air.
          </p>
          <p className="mt-1 flex gap-3">
            {["gpx", "kml", "geojson"].map((form) => (
              <a
                key={form}
                className="text-leaf-dark hover:underline"
                href={`/api/shortlists/${shortlist}/round.${form}`}
                download
              >
                {form === "geojson" ? "GeoJSON" : form.toUpperCase()}
              </a>
            ))}
          </p>
        </>
      ) : (
        <p className="text-soft">Nobody here has a place on the map.</p>
      )}
      <ErrorNote error={query.error} />
    </div>
  );
}
