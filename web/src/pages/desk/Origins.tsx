import { useState } from "react";
import { Link } from "react-router";
import type { Business, Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { day, host, sentence, when } from "../../lib/format";
import { useCorrect, useForgetDecision, useOrigins, useSplit } from "../../queries/gathering";

const FIELD_NAMES: Record<string, string> = {
  lat: "latitude",
  lon: "longitude",
  staff_band: "staff",
  price_band: "price band",
};
const FIXED = new Set(["lat", "lon", "status"]);

/** Where each fact came from, the listings behind it, corrections, and a merge undone. */
export default function Origins({ business }: { business: Business }) {
  const origins = useOrigins(business.id).data;
  return (
    <section aria-label="Where each fact came from">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">Where each fact came from</h3>
      <table className="w-full">
        <tbody>
          {business.facts.map((fact) => (
            <FactLine
              key={fact.field}
              business={business}
              fact={fact}
              corrected={origins?.corrections[fact.field]}
            />
          ))}
        </tbody>
      </table>
      {origins && origins.listings.length > 0 && <Listings id={business.id} origins={origins} />}
      {origins && origins.branches.length > 0 && (
        <>
          <h3 className="mt-4 mb-1 border-b border-line pb-0.5">Branches of {origins.chain}</h3>
          <ul>
            {origins.branches.map((branch) => (
              <li key={branch.id}>
                <Link className="hover:underline" to={`/businesses?b=${branch.id}&ids=${branch.id}`}>
                  {branch.street || branch.name}, {branch.town}
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-2 text-soft">
        {business.audited_at ? `Audited ${when(business.audited_at)}` : "Not audited yet"}
        {business.audit_seconds ? ` in ${business.audit_seconds.toFixed(1)} s` : ""}
        {business.chain.length > 1 ? `, by way of ${business.chain.map(host).join(" → ")}` : ""}.
        {business.cut_short && ` ${sentence(business.cut_short)}`}
      </p>
    </section>
  );
}

interface FactProps {
  business: Business;
  fact: Business["facts"][number];
  corrected: string | number | undefined;
}

function FactLine({ business, fact, corrected }: FactProps) {
  const correct = useCorrect(business.id);
  const [text, setText] = useState<string | null>(null);
  const value = corrected ?? fact.value;
  return (
    <tr className="border-b border-faint align-top">
      <th scope="row" className="w-20 py-0.5 pr-2 text-left font-normal text-soft">
        {FIELD_NAMES[fact.field] ?? fact.field}
      </th>
      <td className="py-0.5 pr-2 break-words">
        {text === null ? (
          <button
            type="button"
            disabled={FIXED.has(fact.field)}
            title={FIXED.has(fact.field) ? undefined : "Edit"}
            className="text-left enabled:hover:underline"
            onClick={() => setText(String(value))}
          >
            {shown(value)}
          </button>
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              correct.mutate({ field: fact.field, value: text }, { onSuccess: () => setText(null) });
            }}
          >
            <input
              // biome-ignore lint/a11y/noAutofocus: the user has just asked to type here
              autoFocus
              aria-label={`Edit ${fact.field}`}
              value={text}
              onChange={(event) => setText(event.target.value)}
              onKeyDown={(event) => event.key === "Escape" && setText(null)}
              className="w-full rounded-[3px] border border-line bg-white px-1"
            />
          </form>
        )}
        <ErrorNote error={correct.error} />
        {(fact.others.length > 0 || corrected !== undefined) && (
          <span className="block text-xs text-soft">
            elsewhere:{" "}
            {[...(corrected === undefined ? [] : [fact.value]), ...fact.others].map(shown).join(" · ")}
          </span>
        )}
      </td>
      <td
        className="w-28 py-0.5 text-right text-xs whitespace-nowrap text-soft"
        title={`${fact.source} ${fact.source_id}, ${when(fact.seen_at)}`}
      >
        {corrected === undefined ? (
          <>
            {fact.source}
            <span className="block">{day(fact.seen_at)}</span>
          </>
        ) : (
          <>
            you
            <button
              type="button"
              className="block w-full text-right text-leaf-dark underline"
              onClick={() => correct.mutate({ field: fact.field, value: null })}
            >
              take back
            </button>
          </>
        )}
      </td>
    </tr>
  );
}

function Listings({ id, origins }: { id: number; origins: Schemas["OriginsResponse"] }) {
  const split = useSplit(id);
  const forget = useForgetDecision();
  const [away, setAway] = useState<ReadonlySet<number>>(new Set());
  const many = origins.listings.length > 1;
  const toggle = (listing: number) => {
    const next = new Set(away);
    if (!next.delete(listing)) next.add(listing);
    setAway(next);
  };
  return (
    <>
      <h3 className="mt-4 mb-1 border-b border-line pb-0.5">
        {many ? `Merged from ${origins.listings.length} listings` : "From one listing"}
      </h3>
      <ul>
        {origins.listings.map((item) => (
          <li key={item.id} className="border-b border-faint py-1">
            <div className="flex items-baseline gap-1.5">
              {many && (
                <input
                  type="checkbox"
                  checked={away.has(item.id)}
                  onChange={() => toggle(item.id)}
                  className="accent-leaf"
                  aria-label={`${item.name} from ${item.source} does not belong here`}
                />
              )}
              <span className="min-w-0 flex-1">
                <span className="font-medium">{item.source}</span>: {item.name}
                <span className="block text-soft">
                  {[item.street, item.town, item.phone].filter(Boolean).join(" · ")}
                </span>
                {Object.keys(item.extra).length > 0 && (
                  <span className="block text-soft">
                    {Object.entries(item.extra)
                      .map(([name, value]) => `${name.replaceAll("_", " ")}: ${shown(value)}`)
                      .join(" · ")}
                  </span>
                )}
              </span>
            </div>
          </li>
        ))}
      </ul>
      {away.size > 0 && (
        <p className="mt-1">
          <Button
            disabled={away.size === origins.listings.length || split.isPending}
            onClick={() => split.mutate([...away], { onSuccess: () => setAway(new Set()) })}
          >
            Split {away.size === 1 ? "it" : "these"} off
          </Button>
        </p>
      )}
      <ErrorNote error={split.error ?? forget.error} />
      {origins.decisions.length > 0 && (
        <details className="mt-1">
          <summary className="cursor-pointer text-leaf-dark">
            Your decisions ({origins.decisions.length})
          </summary>
          <ul>
            {origins.decisions.map((item) => (
              <li key={`${item.a}/${item.b}`} className="flex justify-between gap-2">
                <span>
                  {item.verdict === "one" ? "Same business as" : "Not the same as"}{" "}
                  <Link
                    className="hover:underline"
                    to={`/businesses?b=${item.left_business === id ? item.right_business : item.left_business}`}
                  >
                    listing {origins.listings.some((listing) => listing.id === item.a) ? item.b : item.a}
                  </Link>
                </span>
                <Button look="quiet" onClick={() => forget.mutate({ a: item.a, b: item.b })}>
                  Take back
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

const shown = (value: unknown): string =>
  typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
