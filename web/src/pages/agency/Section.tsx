import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { sentence } from "../../lib/format";
import type { Values } from "../../queries/agency";
import SettingRow from "./SettingRow";
import Trial from "./Trial";

export type SectionInfo = Schemas["SettingSection"];

interface Props {
  section: SectionInfo;
  draft: Values;
  where: string;
  problem: string;
  onChange: (values: Values) => void;
}

/** A section of settings with its trial, if it has one. */
export default function Section({ section, draft, where, problem, onChange }: Props) {
  const mine = Object.fromEntries(
    Object.entries(draft).filter(([name]) => section.fields.some((f) => f.name === name)),
  );
  const address = section.fields.find((field) => field.name.endsWith(".endpoint"));
  const offer = address && !(draft[address.name] ?? address.value) ? section.public : null;
  return (
    <section aria-label={section.title} id={section.id} className="mt-6 max-w-3xl scroll-mt-4">
      <h2 className="text-[15px]">{section.title}</h2>
      {section.about && <p className="text-soft">{sentence(section.about)}</p>}
      {offer && address && (
        <div className="mt-1 flex items-start gap-3 border border-line bg-sheet px-3 py-2">
          <p className="flex-1">
            {offer.terms}{" "}
            <a href={offer.rules_at} target="_blank" rel="noreferrer" className="text-leaf-dark underline">
              Its rules
            </a>
          </p>
          <Button
            onClick={() =>
              onChange({
                [address.name]: offer.address,
                [address.name.replace("endpoint", "pace_s")]: offer.pace_s,
              })
            }
          >
            Use the public service
          </Button>
        </div>
      )}
      {section.fields.map((field) => (
        <SettingRow
          key={`${field.name} ${JSON.stringify(field.value)} ${offer ? "offered" : ""}`}
          field={field}
          value={field.name in draft ? draft[field.name] : field.value}
          problem={where === field.name ? problem : ""}
          onChange={(value) => onChange({ [field.name]: value })}
        />
      ))}
      {section.trial && (
        <div className="border-t border-faint py-2">
          <Trial what={section.trial} name={section.title} values={mine} />
        </div>
      )}
    </section>
  );
}
