import type { ReactNode } from "react";
import type { Service } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Phone } from "../../components/Phone";
import SiteLink from "../../components/SiteLink";
import { dated, day, host, money, sentence, when } from "../../lib/format";
import { useAuditAgain } from "../../queries/audits";
import type { CallSheet as Sheet } from "../../queries/outreach";
import OwnerLanguage from "./OwnerLanguage";

interface Props {
  sheet: Sheet;
  services: Service[];
  service: string;
  onService: (service: string) => void;
  currency: string;
}

/** What a caller has in front of them. */
export default function CallSheet({ sheet, services, service, onService, currency }: Props) {
  const [first, ...others] = sheet.numbers;
  const again = useAuditAgain();
  return (
    <article className="max-w-[720px]">
      <h1 className="mt-1 text-[22px] leading-tight">{sheet.name}</h1>
      <p className="text-soft">
        {[sheet.trade, sheet.town].filter(Boolean).join(" · ")}
        {" · "}
        {sheet.website ? <SiteLink site={sheet.website} /> : "no website listed"}
        {sheet.hours && ` · ${sheet.hours}`}
      </p>
      {sheet.relationship && (
        <p
          className={`mt-2 border-l-[3px] px-2.5 py-1 ${sheet.relationship === "refused" ? "border-alarm bg-acorn-soft/60" : "border-leaf"}`}
        >
          <strong className="font-semibold">Marked as {sheet.relationship}.</strong>{" "}
          {sheet.relationship === "refused"
            ? "They asked not to be contacted."
            : "Read the last contact below before you call."}
        </p>
      )}
      {sheet.last && (
        <p className="mt-2 border-l-[3px] border-leaf px-2.5 py-1">
          Last contact {when(sheet.last.at)}
          {sheet.last.by && ` by ${sheet.last.by}`}: {dated(sheet.last.text)}
        </p>
      )}
      <div className="mt-3 grid grid-cols-2 gap-x-8 border-y border-line py-2.5">
        <div>
          <h2 className="text-[13px]">Number</h2>
          {first ? (
            <>
              <a
                href={`tel:${first.value}`}
                className="block text-[22px] leading-tight font-semibold hover:underline"
              >
                <Phone number={first.value} />
              </a>
              <span className="text-soft">
                {first.line}
                {first.register && <strong className="text-alarm"> do not call: {first.register}</strong>}
                {first.times.length > 0 && ` · ${timesOf(first.times)} there`}
              </span>
              {others.map((number) => (
                <span key={number.value} className="block">
                  <Phone number={number.value} /> <span className="text-soft">{number.line}</span>
                  {number.register && <span className="text-alarm"> do not call: {number.register}</span>}
                </span>
              ))}
            </>
          ) : (
            <span className="text-soft">No number may be called.</span>
          )}
        </div>
        <div>
          <h2 className="text-[13px]">Ask for</h2>
          {sheet.people.slice(0, 3).map((person, at) => (
            <span key={person.name} className={`block ${at === 0 ? "text-[15px] font-semibold" : ""}`}>
              {person.name} <span className="text-[13px] font-normal text-soft">{person.role}</span>
            </span>
          ))}
          {sheet.people.length === 0 && <span className="text-soft">Nobody is known by name.</span>}
        </div>
      </div>
      <div className="mt-2.5 flex items-center gap-2">
        <label htmlFor="service" className="text-soft">
          To sell
        </label>
        <select
          id="service"
          value={service}
          onChange={(event) => onService(event.target.value)}
          className="box"
        >
          {service === "" && <option value="">nothing that is known to be needed</option>}
          {services.map((item) => (
            <option key={item.id} value={item.id}>
              {item.title}
            </option>
          ))}
        </select>
        {sheet.value !== null && (
          <span className="text-soft">expected value {money(sheet.value, currency)}</span>
        )}
        <span className="ml-auto w-64 text-soft">
          <OwnerLanguage business={sheet.id} />
        </span>
      </div>
      {sheet.line && <p className="mt-2.5 font-serif text-[17px] leading-snug">“{sheet.line}”</p>}
      <Part title="What to say">
        {sheet.stale && (
          <div className="flex items-center gap-2">
            <span>
              {sheet.looked_at
                ? `The site was last looked at on ${day(sheet.looked_at)}: nothing of it is claimed.`
                : "The site was never looked at: nothing of it is claimed."}
            </span>
            <Button
              disabled={again.isPending || sheet.relationship === "refused"}
              onClick={() => again.mutate({ ids: [sheet.id], held_back: true })}
            >
              {again.isPending ? "Looking …" : "Look at it now"}
            </Button>
          </div>
        )}
        <ErrorNote error={again.error} />
        <ol className="list-decimal pl-5">
          {sheet.claims.map((claim) => (
            <li key={claim.check} className="py-0.5">
              <strong className="font-semibold">{claim.text}</strong> {claim.why}
              <span className="block text-xs text-soft">
                {sentence(claim.seen)}{" "}
                {claim.evidence[0] && `${host(claim.evidence[0].url)}, ${day(claim.evidence[0].at)}`}
              </span>
            </li>
          ))}
        </ol>
        {sheet.claims.length === 0 && !sheet.stale && (
          <p className="text-soft">No confirmed problem to mention.</p>
        )}
      </Part>
      {sheet.peers.length > 0 && (
        <Part title="Others nearby">
          <ul>
            {sheet.peers.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </Part>
      )}
      <Part title="If they say">
        <dl className="grid grid-cols-[200px_1fr] gap-x-3 gap-y-1">
          {sheet.objections.map((item) => (
            <div key={item.says} className="contents">
              <dt className="text-soft">“{item.says}”</dt>
              <dd>{item.answer}</dd>
            </div>
          ))}
        </dl>
      </Part>
      {sheet.withheld.length > 0 && (
        <details className="mt-3">
          <summary className="cursor-pointer text-leaf-dark">
            Not to be claimed: {sheet.withheld.length}
          </summary>
          <ul className="text-soft">
            {sheet.withheld.map((item) => (
              <li key={item.check}>
                {item.title} {item.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
    </article>
  );
}

/** One hour, or from the earliest to the latest where the number does not tell. */
const timesOf = (times: string[]): string =>
  times.length > 1 ? `${times[0]}–${times[times.length - 1]}` : (times[0] ?? "");

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-3">
      <h2 className="mb-1 border-b border-line pb-0.5 text-[14px]">{title}</h2>
      {children}
    </section>
  );
}
