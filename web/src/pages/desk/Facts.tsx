import { Link } from "react-router";
import type { Business } from "../../api/client";
import May from "../../components/May";
import { Phone } from "../../components/Phone";
import SiteLink from "../../components/SiteLink";
import { distance } from "../../lib/format";

/** What stands under a business's name: trade, place, site, phone, and what holds it back. */
export default function Facts({ business }: { business: Business }) {
  const place = [business.street, business.town].filter(Boolean).join(", ");
  return (
    <>
      <p className="mt-0.5 text-soft">
        {business.trade_label} · {place} · {distance(business.distance_m)} away
      </p>
      <p className="mt-1 flex flex-wrap gap-x-3">
        {business.website ? (
          <SiteLink site={business.website} />
        ) : (
          <span className="text-acorn">no website listed</span>
        )}
        {business.phone && (
          <span>
            <Phone number={business.phone} />
          </span>
        )}
        <May what="people">
          <Link to={`/outreach/page/${business.id}`} className="text-leaf-dark hover:underline">
            Owner’s page
          </Link>
          <Link to={`/businesses/${business.id}/website`} className="text-leaf-dark hover:underline">
            New website
          </Link>
          <Link to={`/businesses/${business.id}/proposals`} className="text-leaf-dark hover:underline">
            Proposals
          </Link>
        </May>
      </p>
      {business.relationship && (
        <p className="mt-1.5 border-l-[3px] border-leaf pl-2">
          Marked as {business.relationship}: excluded from audits and messages.
        </p>
      )}
      {business.rejected && (
        <p className="mt-1.5 border-l-[3px] border-acorn pl-2">Rejected: {business.rejected}.</p>
      )}
    </>
  );
}
