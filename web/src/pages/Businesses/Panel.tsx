import { ArrowTopRightOnSquareIcon, XMarkIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import type { Business, Service } from "../../api/client";
import { ErrorNote } from "../../components/Bits";
import { distance, host, phone, when } from "../../lib/format";
import { useBusiness } from "../../queries/businesses";
import { useStatus } from "../../queries/catalogue";
import CompanyBehind from "./CompanyBehind";
import Findings from "./Findings";
import History from "./History";
import Nearby from "./Nearby";
import Origins from "./Origins";
import ScoreLedger from "./ScoreLedger";
import SiteLooks from "./SiteLooks";

export default function Panel({
  id,
  services,
  onClose,
}: {
  id: number;
  services: Service[];
  onClose: () => void;
}) {
  const query = useBusiness(id);
  const currency = useStatus().data?.currency ?? "AUD";
  const business = query.data;
  return (
    <aside
      aria-label="The chosen business"
      className="flex w-[400px] shrink-0 flex-col border-l border-line bg-sheet"
    >
      {query.error ? (
        <ErrorNote error={query.error} />
      ) : business ? (
        <Whole business={business} services={services} currency={currency} onClose={onClose} />
      ) : (
        <p className="p-4 text-soft">Loading …</p>
      )}
    </aside>
  );
}

interface WholeProps {
  business: Business;
  services: Service[];
  currency: string;
  onClose: () => void;
}

function Whole({ business, services, currency, onClose }: WholeProps) {
  const [service, setService] = useState("");
  return (
    <>
      <header className="border-b border-line px-4 pt-3 pb-2.5">
        <div className="flex items-start gap-2">
          <h2 className="min-w-0 flex-1 text-[17px] leading-tight">{business.name}</h2>
          <button
            type="button"
            onClick={onClose}
            aria-label="Close"
            className="p-0.5 text-soft hover:text-ink"
          >
            <XMarkIcon className="size-4" />
          </button>
        </div>
        <p className="mt-0.5 text-soft">
          {business.trade_label} · {business.street}, {business.town} · {distance(business.distance_m)} away
        </p>
        <p className="mt-1 flex flex-wrap gap-x-3">
          {business.website ? (
            <a
              href={business.website}
              target="_blank"
              rel="noopener noreferrer"
              className="flex items-center gap-1 text-leaf-dark underline"
            >
              {host(business.website)} <ArrowTopRightOnSquareIcon className="size-3" />
            </a>
          ) : (
            <span className="text-acorn">no website listed</span>
          )}
          {business.phone && <span>{phone(business.phone)}</span>}
        </p>
        {business.standing && (
          <p className="mt-1.5 border-l-[3px] border-leaf pl-2">
            Standing: {business.standing}. Held back from audits and never written to.
          </p>
        )}
        {business.rejected && (
          <p className="mt-1.5 border-l-[3px] border-acorn pl-2">Rejected: {business.rejected}.</p>
        )}
      </header>
      <section
        aria-label="All that is known of it"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
        tabIndex={0}
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-8"
      >
        <ScoreLedger
          business={business}
          services={services}
          currency={currency}
          chosen={service}
          onChoose={setService}
        />
        <SiteLooks key={`s${business.id}`} business={business} />
        <Findings business={business} />
        <Reach business={business} />
        <CompanyBehind id={business.id} />
        <History key={`h${business.id}`} business={business} />
        <Origins business={business} />
        <Nearby key={business.id} business={business} />
      </section>
    </>
  );
}

function Reach({ business }: { business: Business }) {
  return (
    <section aria-label="Ways to reach them">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">Ways to reach them</h3>
      {business.channels.length === 0 && (
        <p className="text-soft">None found: no phone is listed and no page gives an address.</p>
      )}
      <ul>
        {business.channels.map((channel) => (
          <li key={channel.kind} className="flex justify-between gap-2 py-0.5">
            <span className={`min-w-0 truncate ${channel.assumed ? "text-soft italic" : ""}`}>
              {phone(channel.value)}
            </span>
            <span className="text-soft">
              {channel.kind}, {Math.round(channel.chance * 100)} %
            </span>
          </li>
        ))}
      </ul>
      {business.people.length > 0 && (
        <ul aria-label="People to ask for" className="mt-1 border-t border-faint pt-1">
          {business.people.map((person) => (
            <li key={person.name} className="py-0.5">
              <span className="font-medium">{person.name}</span>{" "}
              <span className="text-soft">{person.roles.join(", ")}</span>
              {person.address && (
                <span className="block text-xs">
                  {person.address}
                  {person.guessed && (
                    <span className="text-acorn"> a guess by the pattern of another address there</span>
                  )}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {business.contacts.length > 0 && (
        <details className="mt-1">
          <summary className="cursor-pointer text-leaf-dark">
            Everything found on their pages ({business.contacts.length})
          </summary>
          <ul className="mt-1">
            {business.contacts.map((contact) => (
              <li key={`${contact.kind}${contact.value}`} className="py-0.5">
                <span className="break-all">{phone(contact.value)}</span>
                {contact.nature && <span className="text-soft"> {contact.nature}</span>}
                {contact.verified && (
                  <span
                    className={contact.verified.result === "dead" ? "text-alarm" : "text-leaf-dark"}
                    title={`${contact.verified.stage}: ${contact.verified.detail}, ${when(contact.verified.at)}`}
                  >
                    {" "}
                    {contact.verified.result}
                  </span>
                )}
                <span className="block truncate text-xs text-soft" title={contact.snippet}>
                  {contact.how} on {host(contact.url)}: “{contact.snippet}”
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
