import { ArrowLeftIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import May from "../../components/May";
import { useTitle } from "../../lib/useTitle";
import { useBusiness } from "../../queries/businesses";
import { useCurrency, useServices } from "../../queries/catalogue";
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

/** A business as a page of its own: the panel's parts in three columns. */
export default function Whole() {
  const id = Number(useParams().id);
  const possible = Number.isSafeInteger(id) && id > 0;
  const query = useBusiness(possible ? id : null);
  const services = useServices().data ?? [];
  const currency = useCurrency();
  const [service, setService] = useState("");
  const navigate = useNavigate();
  const business = query.data;
  useTitle(business?.name ?? "");
  if (!possible)
    return (
      <Empty page title="There is no such business">
        Look for it in{" "}
        <Link to="/businesses" className="text-leaf-dark underline">
          the table
        </Link>
        .
      </Empty>
    );
  if (query.error) return <ErrorNote error={query.error} />;
  if (!business) return <Loading className="p-6" />;
  const column = "relative min-w-0 overflow-x-hidden overflow-y-auto px-5 pb-8";
  return (
    <article className="flex h-full flex-col bg-sheet" aria-label={business.name}>
      <header className="flex items-start gap-6 border-b border-line px-5 py-3">
        <div className="min-w-0 flex-1">
          <h1 className="text-xl leading-tight">{business.name}</h1>
          <Facts business={business} />
        </div>
        <button
          type="button"
          onClick={() => navigate(-1)}
          className="flex items-center gap-1 text-leaf-dark hover:underline"
        >
          <ArrowLeftIcon className="size-3.5" /> back
        </button>
        <Link to={`/businesses?b=${business.id}`} className="text-leaf-dark hover:underline">
          in the side panel
        </Link>
      </header>
      <div className="grid min-h-0 flex-1 grid-cols-3 divide-x divide-line">
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
        <section aria-label="Score and contact" tabIndex={0} className={column}>
          <h2 className="sr-only">Score and contact</h2>
          <ScoreLedger
            business={business}
            services={services}
            currency={currency}
            chosen={service}
            onChoose={setService}
          />
          <Reach business={business} />
          <May what="people">
            <Notes business={business} />
          </May>
        </section>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
        <section aria-label="Site and findings" tabIndex={0} className={column}>
          <SiteLooks business={business} />
          <Findings business={business} />
        </section>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
        <section aria-label="Peers, sources and history" tabIndex={0} className={column}>
          <PeersBeside business={business} />
          <May what="people">
            <CompanyBehind id={business.id} />
            <History business={business} />
            <Origins business={business} />
          </May>
          <Nearby business={business} />
        </section>
      </div>
    </article>
  );
}
