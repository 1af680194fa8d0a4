import type { ReactNode } from "react";
import { Link, useSearchParams } from "react-router";
import type { Business, CheckInfo } from "../../api/client";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import Mark from "../../components/Mark";
import { Phone } from "../../components/Phone";
import { count, distance, host, money } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";
import { useTitle } from "../../lib/useTitle";
import { useChecks, useCurrency, useServices } from "../../queries/catalogue";
import { useCompare } from "../../queries/desk";

/** Two to four businesses side by side; rows in which they differ stand out. */
export default function Compare() {
  const [params] = useSearchParams();
  const query = useCompare(params.get("ids") ?? "");
  const checks = useChecks().data ?? [];
  const services = useServices().data ?? [];
  const currency = useCurrency();
  useTitle("Side by side");
  if (query.error) return <ErrorNote error={query.error} />;
  if (!params.get("ids"))
    return (
      <Empty title="Nobody chosen">Select two to four rows in Businesses and press c to compare them.</Empty>
    );
  const all = query.data ?? [];
  const best = (business: Business) => business.opportunities.find((item) => item.service === business.offer);
  const title = (id: string) => services.find((service) => service.id === id)?.title ?? "–";
  const rows: [string, (business: Business) => ReactNode][] = [
    ["Trade", (b) => b.trade_label],
    ["Town", (b) => b.town],
    ["Away", (b) => distance(b.distance_m)],
    ["Website", (b) => (b.website ? host(b.website) : "none listed")],
    ["Phone", (b) => (b.phone ? <Phone number={b.phone} /> : "–")],
    ["Best offer", (b) => title(b.offer)],
    ["Score", (b) => String(best(b)?.score ?? "–")],
    ["Value", (b) => money(best(b)?.value, currency)],
    ["Reviews", (b) => (b.reviews === null ? "–" : count(b.reviews))],
    ["Rating", (b) => b.rating?.toFixed(1) ?? "–"],
    ["Ways to reach them", (b) => b.channels.map((channel) => channel.kind).join(", ") || "none found"],
    ["People", (b) => b.people.map((person) => person.name).join(", ") || "nobody named"],
    ["Made with", (b) => b.platform || "–"],
    ["Founded", (b) => b.founded || "–"],
  ];
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
    <section aria-label="Side by side" tabIndex={0} className="h-full overflow-auto bg-sheet px-6 pb-10">
      <table className="w-full table-fixed">
        <thead>
          <tr className="sticky top-0 border-b border-ink bg-sheet">
            <td className="w-48 py-3">
              <h1 className="text-lg">Side by side</h1>
            </td>
            {all.map((business) => (
              <th key={business.id} scope="col" className="py-3 pr-3 text-left font-serif text-[15px]">
                <Link to={`/businesses/${business.id}`} className="hover:underline">
                  {business.name}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([head, cell]) => (
            <tr key={head} className="border-b border-faint align-top">
              <th scope="row" className="py-1 text-left font-normal text-soft">
                {head}
              </th>
              {all.map((business) => (
                <td key={business.id} className="py-1 pr-3 break-words">
                  {cell(business)}
                </td>
              ))}
            </tr>
          ))}
          <Checks all={all} checks={checks} />
        </tbody>
      </table>
    </section>
  );
}

function Checks({ all, checks }: { all: Business[]; checks: CheckInfo[] }) {
  const answer = (business: Business, check: string) =>
    business.findings.find((finding) => finding.check === check);
  const compared = checks.map((check) => ({
    check,
    answers: all.map((business) => answer(business, check.id)),
  }));
  const differ = compared.filter(
    ({ answers }) => new Set(answers.map((finding) => finding?.outcome ?? "not asked")).size > 1,
  );
  const alike = compared.length - differ.length;
  return (
    <>
      <tr>
        <th scope="row" colSpan={all.length + 1} className="pt-5 pb-1 text-left font-serif text-[15px]">
          Differing findings{" "}
          <span className="font-sans text-[13px] font-normal text-soft">
            ({differ.length}; in {alike} they are alike)
          </span>
        </th>
      </tr>
      {differ.map(({ check, answers }) => (
        <tr key={check.id} className="border-b border-faint align-top">
          <th scope="row" className="py-1 text-left font-normal text-soft" title={check.why}>
            {check.title}
          </th>
          {answers.map((finding, at) => (
            <td key={all[at]?.id} className="py-1 pr-3">
              <span className="flex gap-1.5">
                <span className="mt-[3px]">
                  <Mark outcome={(finding?.outcome ?? "not asked") as Outcome} />
                </span>
                {finding?.reason ?? "not asked"}
              </span>
            </td>
          ))}
        </tr>
      ))}
    </>
  );
}
