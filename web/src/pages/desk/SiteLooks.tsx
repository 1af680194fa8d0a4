import type { Business } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import SiteLink from "../../components/SiteLink";
import { when } from "../../lib/format";
import { pictureOf } from "../../lib/pictures";
import { useAuditAgain } from "../../queries/audits";

const NAMES: Record<string, string> = { desk: "Desktop", phone: "Phone" };

/** What the site looks like, on a desk and on a phone; or a browser to look with. */
export default function SiteLooks({ business }: { business: Business }) {
  const look = useAuditAgain();
  const site = business.found || business.website;
  if (!site) return null;
  const kinds = Object.keys(business.pictures).sort();
  return (
    <section aria-label="The site">
      <h3 className="mt-5 mb-1 flex items-baseline justify-between border-b border-line pb-0.5">
        The site
        <Button
          look="quiet"
          disabled={look.isPending || business.relationship !== ""}
          onClick={() => look.mutate({ ids: [business.id], rendered: true })}
        >
          {kinds.length ? "Retake screenshots" : "Take screenshots"}
        </Button>
      </h3>
      {business.found && (
        <p className="border-l-[3px] border-acorn pl-2">
          Found by us, not in any listing: <SiteLink site={business.found} />
        </p>
      )}
      <ErrorNote error={look.error} />
      {look.isPending && (
        <p className="text-soft">Opening it in a browser at phone speed: about 20 seconds …</p>
      )}
      {kinds.length === 0 && !look.isPending && (
        <p className="text-soft">
          Not opened in a browser yet. Until then, what scripts or tag managers load is unknown.
        </p>
      )}
      <div className="mt-1 flex items-start gap-2">
        {kinds.map((kind) => {
          const picture = pictureOf(business.id, kind, business.pictures[kind]);
          return (
            <a
              key={kind}
              href={picture}
              target="_blank"
              rel="noopener noreferrer"
              className={`block border border-line bg-white ${kind === "desk" ? "min-w-0 flex-1" : "w-[86px]"}`}
            >
              <img
                src={picture}
                alt={`${business.name}’s site ${NAMES[kind]?.toLowerCase()}, ${when(business.pictures[kind])}`}
                className={`w-full object-cover object-top ${kind === "desk" ? "aspect-[8/5]" : "h-[162px]"}`}
              />
              <span className="block border-t border-line px-1 text-xs text-soft">{NAMES[kind] ?? kind}</span>
            </a>
          );
        })}
      </div>
    </section>
  );
}
