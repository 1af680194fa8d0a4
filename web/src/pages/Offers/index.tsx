import { useEffect } from "react";
import { ErrorNote } from "../../components/Bits";
import { money } from "../../lib/format";
import { useServices, useStatus } from "../../queries/catalogue";

export default function Offers() {
  const services = useServices();
  const currency = useStatus().data?.currency ?? "AUD";
  useEffect(() => {
    document.title = "Offers – Open Acorn";
  }, []);
  return (
    <section
      aria-label="Offers"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
      tabIndex={0}
      className="h-full overflow-y-auto px-8 py-5"
    >
      <h1 className="text-xl">What you sell, and by which findings a business needs it</h1>
      <p className="mt-1 max-w-3xl text-soft">
        Score = 100 × need<sup>.6</sup> × fit<sup>.2</sup> × reach<sup>.2</sup>. Need is the weighted share of
        gaps among the checks below; a decisive check lifts it by itself. Unknown adds nothing. Expected value
        = chance of winning × margin.
      </p>
      <ErrorNote error={services.error} />
      <div className="mt-5 grid grid-cols-2 gap-x-10 gap-y-8">
        {services.data?.map((service) => {
          const total = service.rules.reduce((sum, rule) => sum + rule.weight, 0);
          return (
            <article key={service.id} aria-label={service.title}>
              <h2 className="border-b border-ink pb-1 text-[16px]">{service.title}</h2>
              <p className="mt-1 font-serif">{service.sentence}</p>
              <dl className="mt-2 grid grid-cols-5 text-soft">
                <Figure name="Fee" value={money(service.fee, currency)} />
                <Figure name="Monthly" value={money(service.monthly, currency)} />
                <Figure name="Months kept" value={String(service.months)} />
                <Figure name="Delivery" value={`−${money(service.delivery, currency)}`} />
                <Figure name="Margin" value={money(service.margin, currency)} strong />
              </dl>
              <table className="mt-2 w-full">
                <thead className="sr-only">
                  <tr>
                    <th>Check</th>
                    <th>Weight</th>
                    <th>Share</th>
                  </tr>
                </thead>
                <tbody>
                  {service.rules.map((rule) => (
                    <tr key={rule.check} className="border-b border-faint">
                      <td className="w-44 py-0.5">
                        {rule.title}
                        {rule.decisive && (
                          <span className="ml-1.5 rounded-[3px] bg-acorn-soft px-1 text-xs text-ink">
                            decisive
                          </span>
                        )}
                      </td>
                      <td className="py-0.5">
                        <span
                          className="block h-2 bg-acorn"
                          style={{ width: `${(100 * rule.weight) / total}%` }}
                        />
                      </td>
                      <td className="w-14 py-0.5 text-right text-soft">
                        {rule.weight} of {total}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {service.gates.length > 0 && (
                <p className="mt-1 text-soft">Only offered where {service.gates.join(" and ")}.</p>
              )}
            </article>
          );
        })}
      </div>
    </section>
  );
}

function Figure({ name, value, strong }: { name: string; value: string; strong?: boolean }) {
  return (
    <div>
      <dt className="text-xs">{name}</dt>
      <dd className={strong ? "font-semibold text-ink" : "text-ink"}>{value}</dd>
    </div>
  );
}
