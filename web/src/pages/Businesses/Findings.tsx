import type { Business, Finding } from "../../api/client";
import { sentence } from "../../components/Bits";
import { Mark } from "../../components/Marks";
import { host, when } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";

/** Every finding with its evidence, by group. */
export default function Findings({ business }: { business: Business }) {
  const groups = [...new Set(business.findings.map((finding) => finding.group))];
  return (
    <section aria-label="Findings">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">Findings</h3>
      {groups.length === 0 && <p className="text-soft">Not audited yet.</p>}
      {groups.map((group) => (
        <div key={group} className="grid grid-cols-[84px_1fr] border-b border-faint py-1">
          <h4 className="pt-0.5 text-soft">{group}</h4>
          <ul>
            {business.findings
              .filter((finding) => finding.group === group)
              .map((finding) => (
                <Line key={finding.check} finding={finding} />
              ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

function Line({ finding }: { finding: Finding }) {
  const strong = finding.outcome === "gap" ? "font-semibold text-acorn" : "";
  return (
    <li>
      <details className="group">
        <summary className="flex cursor-pointer items-center gap-1.5 py-0.5 marker:content-['']">
          <Mark outcome={finding.outcome as Outcome} />
          <span className={`min-w-0 flex-1 truncate ${strong}`}>{finding.title}</span>
          <span className="text-soft">{finding.crashed ? "our fault" : finding.outcome}</span>
        </summary>
        <div className="mb-1.5 ml-[18px] border-l border-line pl-2">
          <p>{sentence(finding.reason)}</p>
          {finding.evidence.map((item) => (
            <p key={`${item.url}${item.snippet}`} className="mt-0.5 text-xs text-soft">
              <code className="block font-sans break-words whitespace-pre-wrap text-ink">{item.snippet}</code>
              {host(item.url)}, {when(item.at)}
            </p>
          ))}
          {finding.outcome === "gap" && <p className="mt-0.5 text-xs text-soft italic">{finding.why}</p>}
        </div>
      </details>
    </li>
  );
}
