import type { ComponentType } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { Button } from "../../components/Button";
import { useTitle } from "../../lib/useTitle";
import { useSaveSettings } from "../../queries/agency";
import AgencyStep from "./steps/AgencyStep";
import FirstSweepStep from "./steps/FirstSweepStep";
import HomeStep from "./steps/HomeStep";
import OffersStep from "./steps/OffersStep";
import SourcesStep from "./steps/SourcesStep";
import SpendingStep from "./steps/SpendingStep";

export interface StepProps {
  /** Goes on to the next step. */
  onNext: () => void;
}

const STEPS: [string, string, ComponentType<StepProps>][] = [
  ["Your agency", "How you show yourselves to business owners.", AgencyStep],
  ["Where you are", "Sets the map, phone numbers, money, distances and the clock.", HomeStep],
  ["What you sell", "Switch off what you do not sell, and enter your fees.", OffersStep],
  ["Where listings come from", "At least one source, or a list of your own.", SourcesStep],
  ["What it may cost", "Limits for a month. Sweeps stop there and say so.", SpendingStep],
  ["Your first sweep", "The businesses around your home town.", FirstSweepStep],
];

/** From nothing to a first sweep: short steps, each of which can be skipped and changed later. */
export default function SetUp() {
  const [params, setParams] = useSearchParams();
  const at = Math.min(Math.max(1, Number(params.get("step")) || 1), STEPS.length);
  const navigate = useNavigate();
  const leave = useSaveSettings();
  useTitle("Set-up");
  const [title, about, Step] = STEPS[at - 1] as (typeof STEPS)[number];
  const last = at === STEPS.length;
  const go = (step: number) => setParams({ step: String(step) });
  return (
    <div className="flex h-full">
      <nav aria-label="Set-up" className="w-[214px] shrink-0 border-r border-line bg-sheet p-2.5">
        <h1 className="px-1.5 font-serif text-[15px] font-semibold">Set-up</h1>
        <ol className="mt-1">
          {STEPS.map(([name], index) => (
            <li key={name}>
              <button
                type="button"
                aria-current={index + 1 === at ? "step" : undefined}
                onClick={() => go(index + 1)}
                className={`mt-0.5 w-full rounded-[3px] px-1.5 py-1 text-left ${index + 1 === at ? "bg-leaf-soft font-semibold text-leaf-dark" : "hover:bg-faint"}`}
              >
                {index + 1}. {name}
              </button>
            </li>
          ))}
        </ol>
        <p className="mt-4 px-1.5 text-soft">You can change all of it later, under Settings and Offers.</p>
        <Button
          look="quiet"
          className="mt-2"
          onClick={() => leave.mutate({ set_up: true }, { onSuccess: () => navigate("/businesses") })}
        >
          Leave set-up
        </Button>
      </nav>
      <section aria-label={title} className="min-w-0 flex-1 overflow-y-auto px-8 py-5">
        <p className="text-soft">
          Step {at} of {STEPS.length}
        </p>
        <h2 className="text-xl">{title}</h2>
        <p className="text-soft">{about}</p>
        <Step key={at} onNext={() => go(at + 1)} />
        {!last && (
          <Button look="quiet" className="mt-3" onClick={() => go(at + 1)}>
            Skip this step
          </Button>
        )}
      </section>
    </div>
  );
}
