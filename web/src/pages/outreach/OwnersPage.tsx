import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import PagesProgress from "../../components/PagesProgress";
import { count, when } from "../../lib/format";
import { author } from "../../lib/session";
import { useBusiness } from "../../queries/businesses";
import {
  type OwnerPage,
  useMakePages,
  useOwnerPage,
  useSections,
  useSharePage,
  useWithdrawPage,
} from "../../queries/outreach";
import Nav from "./Nav";
import OwnerLanguage from "./OwnerLanguage";

const SECTIONS: [string, string][] = [
  ["look", "On a phone"],
  ["findings", "What matters most"],
  ["marks", "Scores by area"],
  ["peers", "How others nearby do"],
  ["first", "What we would do first"],
  ["fine", "What is fine"],
  ["unseen", "What we could not check"],
  ["reply", "Reply form"],
];

/** The page for one business's owner: made, looked at, shared, refreshed, withdrawn. */
export default function OwnersPage() {
  const id = Number(useParams().id ?? 0);
  const [params] = useSearchParams();
  const business = useBusiness(id);
  const page = useOwnerPage(id);
  const make = useMakePages();
  const [made, setMade] = useState(0);
  const begin = (again: boolean) => make.mutate({ ids: [id], again, by: author() });
  const name = business.data?.name ?? "";
  const live = page.data && !page.data.withdrawn_at ? page.data : null;
  return (
    <div className="flex h-full">
      <Nav
        chosen={Number(params.get("shortlist") ?? 0)}
        title={name ? `Owner’s page of ${name}` : "Owner’s page"}
      />
      <section aria-label="Owner’s page" className="flex min-w-0 flex-1 flex-col px-5 py-4">
        <h1 className="text-lg">
          Owner’s page of{" "}
          <Link className="hover:underline" to={`/businesses/${id}`}>
            {name}
          </Link>
        </h1>
        <ErrorNote error={business.error ?? page.error ?? make.error} />
        {live ? (
          <iframe
            key={`${live.made_at}${live.sections.join()}${made}`}
            title="The page as its owner sees it"
            src={`/api/owner-pages/${live.id}/preview`}
            className="mt-2 min-h-0 w-full flex-1 border border-line bg-white"
          />
        ) : (
          page.isSuccess && (
            <div className="mt-3 max-w-lg">
              {page.data?.withdrawn_at && (
                <p>The page was withdrawn {when(page.data.withdrawn_at)}. A new one gets a new address.</p>
              )}
              <p className="text-soft">
                The page shows what we found, with evidence, under your letterhead. It claims only what was
                seen in the last 14 days. Older sites are checked again first.
              </p>
              <Button look="main" className="mt-3" disabled={make.isPending} onClick={() => begin(false)}>
                Create the page
              </Button>
            </div>
          )
        )}
      </section>
      <aside
        aria-label="What is done with it"
        className="w-[280px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-3"
      >
        {make.data && (
          <p className="mb-2">
            <PagesProgress
              key={make.data.run_id}
              run={make.data.run_id}
              onDone={() => setMade(make.data?.run_id ?? 0)}
            />
          </p>
        )}
        <OwnerLanguage business={id} />
        {live && <Controls page={live} busy={make.isPending} onRefresh={() => begin(true)} />}
      </aside>
    </div>
  );
}

function Controls({ page, busy, onRefresh }: { page: OwnerPage; busy: boolean; onRefresh: () => void }) {
  const share = useSharePage();
  const withdraw = useWithdrawPage();
  const choose = useSections();
  const [copied, setCopied] = useState(false);
  const toggle = (section: string) => {
    const on = page.sections.includes(section);
    const sections = SECTIONS.map(([name]) => name).filter((name) =>
      name === section ? !on : page.sections.includes(name),
    );
    choose.mutate({ page_id: page.id, sections });
  };
  const copy = () => navigator.clipboard.writeText(page.address).then(() => setCopied(true));
  return (
    <>
      {page.shared_at ? (
        <>
          <p>
            <strong className="font-semibold">Shared</strong> {when(page.shared_at)}.{" "}
            {page.views === 0
              ? "Nobody has opened it yet."
              : `Opened ${count(page.views)} ${page.views === 1 ? "time" : "times"}, last ${when(page.viewed_at)}.`}
          </p>
          <p className="mt-1.5 border border-line bg-white px-2 py-1 text-xs break-all">{page.address}</p>
          <span className="mt-1.5 flex gap-1.5">
            <Button look={page.newer ? "plain" : "main"} onClick={copy}>
              {copied ? "Copied" : "Copy the address"}
            </Button>
            <a
              className="inline-flex items-center rounded-[3px] border border-line px-2.5 py-1 font-medium hover:border-leaf"
              href={`/api/owner-pages/${page.id}/pdf`}
              download
            >
              PDF
            </a>
          </span>
          {!page.public && (
            <p className="mt-1.5 text-soft">
              This address opens on this machine alone; send the PDF instead. For owners to reach it, let a
              proxy forward to its port and{" "}
              <Link to="/settings#public_address" className="text-leaf-dark underline">
                set the public address
              </Link>
              .
            </p>
          )}
        </>
      ) : (
        <p>
          Made {when(page.made_at)}, not shared: nobody outside can see it.{" "}
          <a className="text-leaf-dark underline" href={`/api/owner-pages/${page.id}/pdf`} download>
            PDF
          </a>
        </p>
      )}
      {(page.newer || !page.shared_at) && (
        <div className="mt-2">
          {page.newer && (
            <p className="border-l-[3px] border-acorn pl-2">
              What you see was made {when(page.made_at)}; the owner still sees what was shared.
              {page.no_longer.length > 0 && ` No longer true: ${page.no_longer.join(" ")}`}
            </p>
          )}
          <Button
            look="main"
            className="mt-1.5"
            disabled={share.isPending}
            onClick={() => share.mutate({ page_id: page.id, by: author() })}
          >
            {page.shared_at ? "Share this instead" : "Share it"}
          </Button>
        </div>
      )}
      <span className="mt-2 flex flex-wrap gap-1.5">
        <Button disabled={busy} onClick={onRefresh}>
          Re-check and update
        </Button>
        {page.shared_at && (
          <Button
            className="text-alarm"
            disabled={withdraw.isPending}
            onClick={() => withdraw.mutate({ page_id: page.id, by: author() })}
          >
            Withdraw
          </Button>
        )}
      </span>
      <ErrorNote error={share.error ?? withdraw.error ?? choose.error} />
      <fieldset className="mt-3">
        <legend className="border-b border-line font-serif font-semibold">Sections</legend>
        {SECTIONS.map(([section, words]) => (
          <label key={section} className="mt-1 flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={page.sections.includes(section)}
              onChange={() => toggle(section)}
            />
            {words}
          </label>
        ))}
      </fieldset>
      {page.untranslated.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer text-acorn">
            {page.untranslated.length === 1 ? "One sentence" : `${count(page.untranslated.length)} sentences`}{" "}
            in English, not translated
          </summary>
          <ul className="text-soft">
            {page.untranslated.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </details>
      )}
      <h2 className="mt-3 border-b border-line text-[13px]">Claims</h2>
      <ul>
        {page.claims.map((claim) => (
          <li key={claim} className="border-b border-faint py-0.5">
            {claim}
          </li>
        ))}
        {page.claims.length === 0 && <li className="text-soft">Nothing: nothing was found wrong.</li>}
      </ul>
      {page.withheld.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer text-leaf-dark">
            Found but withheld: {page.withheld.length}
          </summary>
          <ul className="text-soft">
            {page.withheld.map((item) => (
              <li key={item.check}>
                {item.title} {item.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
