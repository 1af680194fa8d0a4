import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import { author } from "../../lib/session";
import { type Site, useRestoreWebsite, useShareWebsite } from "../../queries/website";

const FILES: [string, string][] = [
  ["zip", "The website (ZIP)"],
  ["docx", "Its copy (DOCX)"],
  ["md", "Its copy (Markdown)"],
];

interface Props {
  id: number;
  site: Site;
  busy: boolean;
  onBegin: () => void;
}

/** What becomes of a website: shown to its owner, taken along, put back to an earlier version. */
export default function Share({ id, site, busy, onBegin }: Props) {
  const share = useShareWebsite(id);
  const restore = useRestoreWebsite(id);
  const [copied, setCopied] = useState(false);
  const open = site.shared_at && !site.withdrawn_at;
  return (
    <aside
      aria-label="What is done with it"
      className="w-[250px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-4"
    >
      <h2 className="text-[15px]">For the owner</h2>
      {open ? (
        <>
          <p>
            Shared {when(site.shared_at)}.{" "}
            {site.views === 0
              ? "Nobody has opened it yet."
              : `Opened ${count(site.views)} ${site.views === 1 ? "time" : "times"}, last ${when(site.viewed_at)}.`}
          </p>
          <p className="mt-1.5 border border-line bg-white px-2 py-1 text-xs break-all">{site.address}</p>
          <span className="mt-1.5 flex flex-wrap gap-1.5">
            <Button onClick={() => navigator.clipboard.writeText(site.address).then(() => setCopied(true))}>
              {copied ? "Copied" : "Copy the address"}
            </Button>
            {site.newer && (
              <Button look="main" onClick={() => share.mutate({ open: true, by: author() })}>
                Share the changes
              </Button>
            )}
            <Button look="quiet" onClick={() => share.mutate({ open: false, by: author() })}>
              Withdraw
            </Button>
          </span>
          {!site.public && (
            <p className="mt-1.5 text-soft">
              This address opens on this machine alone.{" "}
              <Link to="/settings#public_address" className="text-leaf-dark underline">
                Set the public address
              </Link>
            </p>
          )}
        </>
      ) : (
        <>
          <p className="text-soft">
            {site.withdrawn_at ? `Withdrawn ${when(site.withdrawn_at)}.` : "Nobody outside can see it yet."}
          </p>
          <Button
            look="main"
            className="mt-1.5"
            disabled={share.isPending}
            onClick={() => share.mutate({ open: true, by: author() })}
          >
            Share it
          </Button>
        </>
      )}
      <ErrorNote error={share.error ?? restore.error} />
      {site.questions.length > 0 && (
        <>
          <h2 className="mt-5 text-[15px]">To be asked</h2>
          <ul className="list-disc pl-4">
            {site.questions.map((question) => (
              <li key={question}>{question}</li>
            ))}
          </ul>
        </>
      )}
      <h2 className="mt-5 text-[15px]">Files</h2>
      <ul>
        {FILES.map(([form, label]) => (
          <li key={form}>
            <a
              href={`/api/businesses/${id}/website.${form}`}
              download
              className="text-leaf-dark hover:underline"
            >
              {label}
            </a>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-soft">
        The ZIP leaves questions out. A lawyer should check the privacy notice.
      </p>
      <h2 className="mt-5 text-[15px]">Versions</h2>
      <ul>
        {site.versions.slice(0, 12).map((version, at) => (
          <li key={version.number} className="flex items-baseline gap-1.5">
            <span className="flex-1">
              {when(version.at)} <span className="text-soft">{version.by}</span>
            </span>
            {at > 0 && (
              <Button look="quiet" onClick={() => restore.mutate({ number: version.number, by: author() })}>
                Restore
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Button className="mt-2" disabled={busy} onClick={onBegin}>
        Start again from today’s facts
      </Button>
    </aside>
  );
}
