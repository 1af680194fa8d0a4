import { ArrowsPointingOutIcon, XMarkIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import { Link } from "react-router";
import type { Service } from "../../api/client";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import May from "../../components/May";
import { useBusiness } from "../../queries/businesses";
import { useCurrency } from "../../queries/catalogue";
import CompanyBehind from "./CompanyBehind";
import Facts from "./Facts";
import Findings from "./Findings";
import History from "./History";
import Nearby from "./Nearby";
import Notes from "./Notes";
import Origins from "./Origins";
import PeersBeside from "./PeersBeside";
import Reach from "./Reach";
import ScoreLedger from "./ScoreLedger";
import SiteLooks from "./SiteLooks";

interface Props {
  id: number;
  services: Service[];
  onClose: () => void;
}

/** Selected business beside the table. */
export default function Panel({ id, services, onClose }: Props) {
  const query = useBusiness(id);
  const currency = useCurrency();
  const business = query.data;
  const [service, setService] = useState("");
  return (
    <aside
      aria-label="Selected business"
      className="flex w-[400px] shrink-0 flex-col border-l border-line bg-sheet"
    >
      {query.error ? (
        <ErrorNote error={query.error} />
      ) : business ? (
        <>
          <header className="border-b border-line px-4 pt-3 pb-2.5">
            <div className="flex items-start gap-2">
              <h2 className="min-w-0 flex-1 text-[17px] leading-tight">{business.name}</h2>
              <Link
                to={`/businesses/${business.id}`}
                aria-label="Open as a full page"
                title="Open as a full page (e)"
                className="p-0.5 text-soft hover:text-ink"
              >
                <ArrowsPointingOutIcon className="size-4" />
              </Link>
              <button
                type="button"
                onClick={onClose}
                aria-label="Close"
                className="p-0.5 text-soft hover:text-ink"
              >
                <XMarkIcon className="size-4" />
              </button>
            </div>
            <Facts business={business} />
          </header>
          <section
            aria-label="Everything known about it"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
            tabIndex={0}
            className="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto px-4 pb-8"
          >
            <SiteLooks key={`s${business.id}`} business={business} />
            <ScoreLedger
              business={business}
              services={services}
              currency={currency}
              chosen={service}
              onChoose={setService}
            />
            <May what="people">
              <Notes key={`n${business.id}`} business={business} />
            </May>
            <Findings business={business} />
            <Reach business={business} />
            <PeersBeside business={business} />
            <May what="people">
              <CompanyBehind id={business.id} />
              <History key={`h${business.id}`} business={business} />
              <Origins business={business} />
            </May>
            <Nearby key={business.id} business={business} />
          </section>
        </>
      ) : (
        <Loading className="p-4" />
      )}
    </aside>
  );
}
