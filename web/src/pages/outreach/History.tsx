import { dated, when } from "../../lib/format";
import { useActivity } from "../../queries/shortlists";

/** Everything done about a business on any list, the latest first. */
export default function History({ business }: { business: number }) {
  const steps = useActivity(business);
  return (
    <>
      <h3 className="mt-3 border-b border-line pb-0.5">Activity</h3>
      <ul aria-label="Activity">
        {steps.data?.map((step) => (
          <li key={step.id} className="border-b border-faint py-1">
            <span className={step.kind === "reply" ? "font-semibold" : ""}>{dated(step.text)}</span>
            <span className="block text-xs text-soft">
              {when(step.at)}
              {step.by && `, ${step.by}`}
            </span>
          </li>
        ))}
        {steps.data?.length === 0 && <li className="py-1 text-soft">Nothing yet.</li>}
      </ul>
    </>
  );
}
