import { XMarkIcon } from "@heroicons/react/16/solid";
import type { CheckInfo, ServiceAsked } from "../../api/client";
import { Button } from "../../components/Button";
import { money } from "../../lib/format";
import { useChecks } from "../../queries/catalogue";

interface Props {
  draft: ServiceAsked;
  currency: string;
  onChange: (next: ServiceAsked) => void;
}

const MONEY: ["fee" | "monthly" | "months" | "delivery", string][] = [
  ["fee", "Fee"],
  ["monthly", "a month"],
  ["months", "months kept"],
  ["delivery", "cost of delivery"],
];
const OUTCOMES = ["ok", "partial", "gap", "not applicable"] as const;

/** Everything of a service that can be changed. */
export default function Editor({ draft, currency, onChange }: Props) {
  const checks = useChecks().data ?? [];
  const total = draft.rules.reduce((sum, rule) => sum + rule.weight, 0) || 1;
  const margin = (draft.fee ?? 0) + (draft.monthly ?? 0) * (draft.months ?? 0) - (draft.delivery ?? 0);
  const title = (id: string) => checks.find((check) => check.id === id)?.title ?? id;
  const setRule = (at: number, more: Partial<ServiceAsked["rules"][number]>) =>
    onChange({ ...draft, rules: draft.rules.map((rule, n) => (n === at ? { ...rule, ...more } : rule)) });
  const gates = draft.gates ?? [];
  const setGate = (at: number, more: Partial<(typeof gates)[number]>) =>
    onChange({ ...draft, gates: gates.map((gate, n) => (n === at ? { ...gate, ...more } : gate)) });
  const free = checks.filter((check) => !draft.rules.some((rule) => rule.check === check.id));
  return (
    <>
      <input
        value={draft.title}
        onChange={(event) => onChange({ ...draft, title: event.target.value })}
        placeholder="Name of the service"
        aria-label="Name of the service"
        className="w-full border-b border-line bg-transparent font-serif text-xl font-semibold placeholder:text-soft"
      />
      <textarea
        value={draft.sentence}
        rows={2}
        onChange={(event) => onChange({ ...draft, sentence: event.target.value })}
        placeholder="Why a business needs it, in one sentence"
        aria-label="Why a business needs it"
        className={`mt-2 w-full font-serif box`}
      />
      <div className="mt-2 flex flex-wrap items-end gap-3">
        {MONEY.map(([key, label]) => (
          <label key={key} className="text-soft">
            {label}
            <input
              type="number"
              min={0}
              value={draft[key] ?? 0}
              onChange={(event) => onChange({ ...draft, [key]: Number(event.target.value) || 0 })}
              className={`block w-24 text-right text-ink box`}
            />
          </label>
        ))}
        <span className="pb-1">
          = <strong className="font-semibold">{money(margin, currency)}</strong> margin of one sale
        </span>
      </div>
      <h2 className="mt-5 border-b border-line pb-0.5">Checks that count</h2>
      <table className="w-full">
        <thead className="text-left text-soft">
          <tr>
            <th className="py-1 font-normal">Check</th>
            <th className="w-[42%] font-normal">Weight</th>
            <th className="w-12 text-right font-normal">Share</th>
            <th className="w-16 text-center font-normal" title="a gap here alone makes the need this high">
              Decisive
            </th>
            <th className="w-24 font-normal" title="how bad a gap and a partial are, 0 to 1">
              Gap · partial
            </th>
            <td className="w-6" />
          </tr>
        </thead>
        <tbody>
          {draft.rules.map((rule, at) => (
            <tr key={rule.check} className="border-b border-faint">
              <td className="py-1">{title(rule.check)}</td>
              <td>
                <span className="flex items-center gap-2 pr-3">
                  <input
                    type="range"
                    min={0.5}
                    max={10}
                    step={0.5}
                    value={rule.weight}
                    aria-label={`Weight of ${title(rule.check)}`}
                    onChange={(event) => setRule(at, { weight: Number(event.target.value) })}
                    className="min-w-0 flex-1 accent-acorn"
                  />
                  <span className="w-7 text-right">{rule.weight}</span>
                </span>
              </td>
              <td className="text-right text-soft">{Math.round((100 * rule.weight) / total)} %</td>
              <td className="text-center">
                <input
                  type="checkbox"
                  checked={rule.decisive ?? false}
                  aria-label={`${title(rule.check)} is decisive`}
                  onChange={(event) => setRule(at, { decisive: event.target.checked })}
                  className="accent-acorn"
                />
              </td>
              <td>
                {(["gap", "partial"] as const).map((outcome) => (
                  <input
                    key={outcome}
                    type="number"
                    min={0}
                    max={1}
                    step={0.1}
                    value={rule.severity?.[outcome] ?? (outcome === "gap" ? 1 : 0.5)}
                    aria-label={`Severity of ${outcome} in ${title(rule.check)}`}
                    onChange={(event) =>
                      setRule(at, {
                        severity: {
                          ...rule.severity,
                          [outcome]: Math.min(1, Math.max(0, Number(event.target.value))),
                        },
                      })
                    }
                    className="mr-1 w-11 rounded-[3px] border border-line bg-white px-1 text-right"
                  />
                ))}
              </td>
              <td>
                <Drop
                  label={`Remove ${title(rule.check)}`}
                  disabled={draft.rules.length === 1}
                  onClick={() => onChange({ ...draft, rules: draft.rules.filter((_, n) => n !== at) })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <AddCheck
        label="add a check …"
        checks={free}
        onAdd={(check) =>
          onChange({ ...draft, rules: [...draft.rules, { check, weight: 2, decisive: false }] })
        }
      />
      <h2 className="mt-5 border-b border-line pb-0.5">Only offered where</h2>
      {gates.length === 0 && <p className="mt-1 text-soft">Everywhere: it has no gate.</p>}
      {gates.map((gate, at) => (
        <div key={gate.check} className="flex items-baseline gap-2 border-b border-faint py-1">
          <span className="w-40 shrink-0">{title(gate.check)}</span>
          <span className="flex gap-2">
            {OUTCOMES.map((outcome) => (
              <label key={outcome} className="flex items-baseline gap-1">
                <input
                  type="checkbox"
                  checked={gate.passes.includes(outcome)}
                  onChange={(event) =>
                    setGate(at, {
                      passes: event.target.checked
                        ? [...gate.passes, outcome]
                        : gate.passes.length > 1
                          ? gate.passes.filter((item) => item !== outcome)
                          : gate.passes,
                    })
                  }
                  className="accent-leaf"
                />
                {outcome}
              </label>
            ))}
          </span>
          <input
            value={gate.otherwise ?? ""}
            onChange={(event) => setGate(at, { otherwise: event.target.value })}
            placeholder="message if not …"
            aria-label={`Message where ${title(gate.check)} does not pass`}
            className={`min-w-0 flex-1 box`}
          />
          <Drop
            label={`Remove the gate ${title(gate.check)}`}
            onClick={() => onChange({ ...draft, gates: gates.filter((_, n) => n !== at) })}
          />
        </div>
      ))}
      <AddCheck
        label="add a gate …"
        checks={checks.filter((check) => !gates.some((gate) => gate.check === check.id))}
        onAdd={(check) => onChange({ ...draft, gates: [...gates, { check, passes: ["ok"], otherwise: "" }] })}
      />
    </>
  );
}

function AddCheck({
  label,
  checks,
  onAdd,
}: {
  label: string;
  checks: CheckInfo[];
  onAdd: (check: string) => void;
}) {
  const groups = [...new Set(checks.map((check) => check.group))];
  return (
    <select
      value=""
      aria-label={label}
      onChange={(event) => onAdd(event.target.value)}
      className={`mt-1.5 box`}
    >
      <option value="">{label}</option>
      {groups.map((group) => (
        <optgroup key={group} label={group}>
          {checks
            .filter((check) => check.group === group)
            .map((check) => (
              <option key={check.id} value={check.id}>
                {check.title}
              </option>
            ))}
        </optgroup>
      ))}
    </select>
  );
}

function Drop({ label, disabled, onClick }: { label: string; disabled?: boolean; onClick: () => void }) {
  return (
    <Button look="quiet" aria-label={label} disabled={disabled} onClick={onClick} className="py-0">
      <XMarkIcon className="size-3.5" />
    </Button>
  );
}
