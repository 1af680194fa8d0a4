import type { Business, Finding } from "../../api/client";
import Mark from "../../components/Mark";
import { host, sentence, when } from "../../lib/format";
import type { Outcome } from "../../lib/outcome";

const OPEN = new Set(["unknown", "not applicable"]);

/** Every finding with its evidence, by group; what is not known or does not apply is folded away, never hidden. */
export default function Findings({ business }: { business: Business }) {
  const groups = [...new Set(business.findings.map((finding) => finding.group))];
  return (
    <section aria-label="Findings">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">Findings</h3>
      {groups.length === 0 && <p className="text-soft">Not audited yet.</p>}
      {groups.map((group) => (
        <Group
          key={group}
          name={group}
          mark={business.marks.find((mark) => mark.group === group)}
          findings={business.findings.filter((finding) => finding.group === group)}
        />
      ))}
    </section>
  );
}

interface GroupProps {
  name: string;
  mark: Business["marks"][number] | undefined;
  findings: Finding[];
}

function Group({ name, mark, findings }: GroupProps) {
  const known = findings.filter((finding) => !OPEN.has(finding.outcome));
  const open = findings.filter((finding) => OPEN.has(finding.outcome));
  const reasons = new Set(open.map((finding) => finding.reason));
  const unknown = open.filter((finding) => finding.outcome === "unknown").length;
  const parts = [
    unknown ? `${unknown} unknown` : "",
    open.length - unknown ? `${open.length - unknown} that do not apply` : "",
  ].filter(Boolean);
  return (
    <div className="grid grid-cols-[84px_1fr] border-b border-faint py-1">
      <div>
        <h4 className="pt-0.5 text-soft">{name}</h4>
        {mark && mark.mark !== null && (
          <p title={`${mark.mark} of 100 points; ${Math.round(mark.known * 100)} % of it is known`}>
            <span className="font-semibold">{mark.mark}</span>
            <span className="text-soft"> of 100</span>
            {mark.known < 0.995 && (
              <span className="block text-xs text-soft">{Math.round(mark.known * 100)} % known</span>
            )}
          </p>
        )}
      </div>
      <div className="min-w-0">
        <ul>
          {known.map((finding) => (
            <Line key={finding.check} finding={finding} />
          ))}
        </ul>
        {open.length > 0 && (
          <details>
            <summary className="cursor-pointer py-0.5 text-soft">
              {parts.join(", ")}
              {reasons.size === 1 && `: ${[...reasons][0]}`}
            </summary>
            <ul>
              {open.map((finding) => (
                <Line key={finding.check} finding={finding} />
              ))}
            </ul>
          </details>
        )}
      </div>
    </div>
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
          {(finding.outcome === "gap" || finding.outcome === "partial") && (
            <p className="mt-0.5 text-xs text-soft italic">{finding.why}</p>
          )}
        </div>
      </details>
    </li>
  );
}
