import { Link } from "react-router";
import type { Business } from "../../api/client";
import { count, distance } from "../../lib/format";

const LACKS = 6;

/** The nearest of the trade side by side, and what most of them have that this one lacks. */
export default function PeersBeside({ business }: { business: Business }) {
  const peers = business.peers;
  if (!peers) return null;
  const rank = (share: number | null) =>
    share === null ? "not known" : `as good as or better than ${Math.round(share * 100)} %`;
  return (
    <section aria-label="Compared with peers">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">
        Compared with the nearest {peers.count} in the trade
      </h3>
      <p className="text-soft">
        Reviews: {rank(peers.reviews_rank)} · rating: {rank(peers.rating_rank)}
      </p>
      {peers.lacks.length > 0 && (
        <ul className="mt-1">
          {peers.lacks.slice(0, LACKS).map((lack) => (
            <li key={lack.check} className="flex items-center gap-2 py-0.5">
              <span className="min-w-0 flex-1 truncate">{lack.title}</span>
              <span className="h-2 w-20 bg-faint" aria-hidden="true">
                <span
                  className="block h-full bg-acorn"
                  style={{ width: `${Math.round((100 * lack.have) / lack.of)}%` }}
                />
              </span>
              <span className="w-[104px] text-right whitespace-nowrap text-soft">
                {lack.have} of {lack.of} are fine
              </span>
            </li>
          ))}
        </ul>
      )}
      <table className="mt-1 w-full">
        <thead className="sr-only">
          <tr>
            <th>Name</th>
            <th>Away</th>
            <th>Reviews</th>
            <th>Rating</th>
          </tr>
        </thead>
        <tbody>
          <tr className="border-b border-line font-semibold">
            <td className="py-0.5">{business.name}</td>
            <td />
            <td className="text-right">{business.reviews === null ? "–" : count(business.reviews)}</td>
            <td className="w-10 text-right">{business.rating?.toFixed(1) ?? "–"}</td>
          </tr>
          {peers.nearest.map((peer) => (
            <tr key={peer.id} className="border-b border-faint">
              <td className="max-w-0 truncate py-0.5">
                <Link to={`/businesses/${peer.id}`} className="hover:underline">
                  {peer.name}
                </Link>
              </td>
              <td className="w-14 text-right text-soft">{distance(peer.distance_m)}</td>
              <td className="w-14 text-right">{peer.reviews === null ? "–" : count(peer.reviews)}</td>
              <td className="w-10 text-right">{peer.rating?.toFixed(1) ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
