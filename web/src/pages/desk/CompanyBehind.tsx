import { Link } from "react-router";
import { day } from "../../lib/format";
import { useCompany } from "../../queries/gathering";

/** The company behind a business as its register has it, how sure that is, and what else belongs to it. */
export default function CompanyBehind({ id }: { id: number }) {
  const company = useCompany(id).data;
  if (!company) return null;
  const lines: [string, string][] = [
    ["Officers", company.officers.map((person) => `${person.name}, ${person.role}`).join("; ")],
    ["Incorporated", company.incorporated && day(company.incorporated)],
    ["Status", company.status],
    ["Parent", company.parent],
    ["Revenue", company.revenue_band],
    ["Office", company.office],
    ["Trading as", company.trading_as],
  ];
  return (
    <section aria-label="The company behind it">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">The company behind it</h3>
      <p>
        {company.name} <span className="text-soft">no. {company.number}</span>
      </p>
      <p className="text-soft">
        Joined by name and town, {Math.round(company.confidence * 100)} % sure; {company.source},{" "}
        {day(company.seen_at)}.
      </p>
      <dl className="mt-1">
        {lines
          .filter(([, value]) => value)
          .map(([name, value]) => (
            <div key={name} className="grid grid-cols-[88px_1fr] border-b border-faint py-0.5">
              <dt className="text-soft">{name}</dt>
              <dd className="min-w-0 break-words">{value}</dd>
            </div>
          ))}
      </dl>
      {company.kin.length > 0 && (
        <>
          <p className="mt-1 text-soft">Same owner:</p>
          <ul>
            {company.kin.map((item) => (
              <li key={item.id}>
                <Link className="text-leaf-dark hover:underline" to={`/businesses?b=${item.id}`}>
                  {item.name}
                </Link>
                <span className="text-soft">, {item.town}</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
