import { useState } from "react";
import { Link } from "react-router";
import type { Business } from "../../api/client";
import { distance } from "../../lib/format";
import { useTrades } from "../../queries/catalogue";
import { useNearby } from "../../queries/gathering";

/** The others around it: neighbours to call on the same trip, or an existing client’s competition. */
export default function Nearby({ business }: { business: Business }) {
  const [open, setOpen] = useState(false);
  const [own, setOwn] = useState(false);
  const found = useNearby(business.id, own, open).data;
  const trades = useTrades().data ?? [];
  if (business.lat === null) return null;
  return (
    <details className="mt-4" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer text-leaf-dark">Nearby</summary>
      <label className="mt-1 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={own}
          onChange={(event) => setOwn(event.target.checked)}
          className="accent-leaf"
        />
        same trade only
      </label>
      {found?.length === 0 && <p className="text-soft">No other business within 25 km.</p>}
      <ul>
        {found?.map((item) => (
          <li key={item.id} className="flex justify-between gap-2 py-0.5">
            <Link
              className="min-w-0 truncate hover:underline"
              to={`/businesses?ids=${business.id},${item.id}&b=${item.id}`}
            >
              {item.name}
            </Link>
            <span className="whitespace-nowrap text-soft">
              {trades.find((trade) => trade.id === item.trade)?.label ?? item.trade}
              {item.relationship && `, ${item.relationship}`}, {distance(item.metres)}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
