import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../../components/Button";
import { ErrorNote } from "../../../components/ErrorNote";
import { sentence } from "../../../lib/format";
import { useSaveSettings, useSettings } from "../../../queries/agency";
import type { SectionInfo } from "../Section";
import type { StepProps } from "../SetUp";
import Trial from "../Trial";

const addressOf = (source: SectionInfo) =>
  String(source.fields.find((field) => field.name.endsWith(".endpoint"))?.value ?? "");

/** The sources there are: the public one with its rules, and the ways to add others. */
export default function SourcesStep({ onNext }: StepProps) {
  const settings = useSettings();
  const sources = settings.data?.sources ?? [];
  const contact = settings.data?.sections
    .flatMap((section) => section.fields)
    .find((field) => field.name === "contact_address");
  return (
    <div className="mt-3 max-w-3xl space-y-3">
      <ErrorNote error={settings.error} />
      {sources
        .filter((source) => source.public)
        .map((source) => (
          <Offered key={source.id} source={source} contact={String(contact?.value ?? "")} />
        ))}
      <section aria-label="Other sources" className="border border-line bg-sheet px-4 py-3">
        <h3>Other sources</h3>
        <ul className="mt-1 space-y-1">
          <li>
            <Link to="/sweeps/files" className="text-leaf-dark underline">
              A list of your own
            </Link>{" "}
            <span className="text-soft">– a spreadsheet, a file, or pasted text</span>
          </li>
          <li>
            <Link to="/sweeps/directories" className="text-leaf-dark underline">
              A directory
            </Link>{" "}
            <span className="text-soft">– any website with pages of results</span>
          </li>
          <li>
            <Link to="/sweeps/services" className="text-leaf-dark underline">
              A JSON service
            </Link>{" "}
            <span className="text-soft">
              – any search service that programs can ask, by its documentation
            </span>
          </li>
          {sources
            .filter((source) => !source.public)
            .map((source) => (
              <li key={source.id}>
                <Link to={`/settings#${source.id}`} className="text-leaf-dark underline">
                  {source.title}
                </Link>{" "}
                <span className="text-soft">
                  – {source.about}
                  {addressOf(source) && ". It is set up"}
                </span>
              </li>
            ))}
        </ul>
      </section>
      <Button look="main" onClick={onNext}>
        Continue
      </Button>
    </div>
  );
}

function Offered({ source, contact }: { source: SectionInfo; contact: string }) {
  const save = useSaveSettings();
  const [mail, setMail] = useState(contact);
  const offer = source.public;
  const used = addressOf(source) !== "";
  if (!offer) return null;
  return (
    <section aria-label={source.title} className="border border-line bg-sheet px-4 py-3">
      <h3>{source.title}</h3>
      <p>{sentence(source.about)}</p>
      <p className="mt-1 text-soft">
        {offer.terms}{" "}
        <a href={offer.rules_at} target="_blank" rel="noreferrer" className="text-leaf-dark underline">
          Its rules
        </a>
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        {used ? (
          <>
            <span className="font-semibold text-leaf-dark">It is set up: {addressOf(source)}</span>
            <Button
              look="quiet"
              onClick={() => save.mutate({ [`${source.id}.endpoint`]: "" })}
              disabled={save.isPending}
            >
              Do not use it
            </Button>
          </>
        ) : (
          <>
            <label className="flex items-center gap-2">
              Your contact e-mail
              <input value={mail} onChange={(event) => setMail(event.target.value)} className="box w-60" />
            </label>
            <Button
              disabled={!mail.includes("@") || save.isPending}
              onClick={() =>
                save.mutate({
                  contact_address: mail.trim(),
                  [`${source.id}.endpoint`]: offer.address,
                  [`${source.id}.pace_s`]: offer.pace_s,
                })
              }
            >
              Use it
            </Button>
          </>
        )}
      </div>
      {used && (
        <div className="mt-2">
          <Trial what={source.trial} name={source.title} />
        </div>
      )}
      <ErrorNote error={save.error} />
    </section>
  );
}
