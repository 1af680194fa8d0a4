import { useRef, useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, host, when } from "../../lib/format";
import { author } from "../../lib/session";
import { type SitePicture, useConsent, useFetchPicture, useSitePictures } from "../../queries/sitePictures";
import type { Site } from "../../queries/website";

type Placed = Site["pictures"][number];

const AT_ONCE = 12;
const PLACES = ["On top of the home page", "On “About us”"];

const asPlaced = (picture: SitePicture): Placed => ({ id: picture.id, alt: picture.alt });

interface Props {
  id: number;
  placed: Placed[];
  onChange: (placed: Placed[]) => void;
}

/** Pictures of the old website: taken over, put in their places, described, and whether the owner agreed. */
export default function Pictures({ id, placed, onChange }: Props) {
  const query = useSitePictures(id);
  const consent = useConsent(id);
  const found = query.data;
  const stored = found?.pictures ?? [];
  const chosen = placed.flatMap((item) => {
    const picture = stored.find((one) => one.id === item.id);
    return picture ? [{ item, picture }] : [];
  });
  const others = stored.filter((picture) => !placed.some((item) => item.id === picture.id));
  const agreed = stored.length > 0 && stored.every((picture) => picture.agreed_at);
  const first = stored.find((picture) => picture.agreed_at);
  const swap = (at: number) => {
    const next = [...placed];
    const [moved] = next.splice(at, 1);
    if (moved) next.splice(at - 1, 0, moved);
    onChange(next);
  };
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
    <div className="mt-2 min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
      <ErrorNote error={query.error ?? consent.error} />
      {found && (
        <TakeOver
          id={id}
          waiting={found.waiting.map((item) => item.url)}
          none={stored.length === 0}
          onTaken={(pictures) =>
            onChange([...placed, ...pictures.filter((picture) => !picture.logo).map(asPlaced)])
          }
        />
      )}
      {stored.length > 0 && (
        <label className="mt-2 flex items-start gap-1.5">
          <input
            type="checkbox"
            checked={agreed}
            disabled={consent.isPending}
            onChange={(event) => consent.mutate({ agreed: event.target.checked, by: author() })}
            className="mt-1"
          />
          <span>
            The owner agreed that these pictures are used
            {first && (
              <span className="text-soft">
                {" "}
                · noted {when(first.agreed_at)} {first.agreed_by && `by ${first.agreed_by}`}
              </span>
            )}
            <span className="block text-soft">
              {agreed
                ? "They are in the files for the host."
                : "Until then only the owner sees them: files for the host leave them out."}
            </span>
          </span>
        </label>
      )}
      <ul className="mt-2">
        {chosen.map(({ item, picture }, at) => (
          <li key={item.id} className="flex items-start gap-3 border-t border-line py-2">
            <Thumb id={id} picture={picture} />
            <span className="min-w-0 flex-1">
              <span className="block font-medium">{PLACES[at] ?? "Below the services"}</span>
              <input
                aria-label={`What picture ${at + 1} shows`}
                placeholder="What it shows, for people who cannot see it"
                value={item.alt ?? ""}
                maxLength={200}
                onChange={(event) =>
                  onChange(
                    placed.map((one) => (one.id === item.id ? { ...one, alt: event.target.value } : one)),
                  )
                }
                className={`mt-1 w-full box ${item.alt ? "" : "border-dashed border-acorn"}`}
              />
              <span className="mt-1 flex items-center gap-1.5">
                <Source picture={picture} />
                {at > 0 && (
                  <Button look="quiet" onClick={() => swap(placed.indexOf(item))}>
                    Move up
                  </Button>
                )}
                <Button look="quiet" onClick={() => onChange(placed.filter((one) => one.id !== item.id))}>
                  Leave out
                </Button>
              </span>
            </span>
          </li>
        ))}
      </ul>
      {others.length > 0 && (
        <>
          <h2 className="mt-3 text-[15px]">Not used</h2>
          <ul className="mt-1 flex flex-wrap gap-3">
            {others.map((picture) => (
              <li key={picture.id} className="w-40">
                <Thumb id={id} picture={picture} />
                <Source picture={picture} />
                <Button className="mt-1" onClick={() => onChange([...placed, asPlaced(picture)])}>
                  Use
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function Thumb({ id, picture }: { id: number; picture: SitePicture }) {
  return (
    <img
      src={`/api/businesses/${id}/website/pictures/${picture.id}/${picture.widths[0]}.webp`}
      alt={picture.alt || "A picture without a description"}
      className="h-28 w-40 shrink-0 border border-line bg-white object-contain"
    />
  );
}

function Source({ picture }: { picture: SitePicture }) {
  return (
    <span className="block min-w-0 truncate text-xs text-soft">
      {picture.logo && "Logo · "}
      {count(picture.width)} × {count(picture.height)} ·{" "}
      <a href={picture.page} target="_blank" rel="noreferrer" title={picture.url} className="hover:underline">
        {host(picture.page)}
      </a>
    </span>
  );
}

interface TakeOverProps {
  id: number;
  waiting: string[];
  none: boolean;
  onTaken: (pictures: SitePicture[]) => void;
}

/** Fetches pictures one after another; it can be stopped, and what was fetched stays. */
function TakeOver({ id, waiting, none, onTaken }: TakeOverProps) {
  const fetchOne = useFetchPicture(id);
  const [at, setAt] = useState(-1);
  const [most, setMost] = useState(0);
  const [failed, setFailed] = useState<Record<string, string>>({});
  const stopped = useRef(false);
  const left = waiting.filter((url) => !(url in failed));
  const take = async () => {
    const urls = left.slice(0, AT_ONCE);
    stopped.current = false;
    setMost(urls.length);
    const taken: SitePicture[] = [];
    for (const [index, url] of urls.entries()) {
      if (stopped.current) break;
      setAt(index);
      try {
        const answer = await fetchOne.mutateAsync(url);
        taken.push(...answer.pictures.filter((picture) => picture.url === url));
      } catch (error) {
        setFailed((now) => ({ ...now, [url]: error instanceof Error ? error.message : "it failed" }));
      }
    }
    setAt(-1);
    onTaken(taken);
  };
  const troubles = Object.entries(failed);
  return (
    <>
      <p className="flex flex-wrap items-center gap-2">
        {at >= 0 ? (
          <>
            <output>
              Fetching picture {at + 1} of {most} …
            </output>
            <Button
              onClick={() => {
                stopped.current = true;
              }}
            >
              Stop
            </Button>
          </>
        ) : left.length > 0 ? (
          <>
            <span>
              {none ? "The old website shows" : "It shows"} {count(left.length)}{" "}
              {left.length === 1 ? "picture" : "pictures"}
              {none ? "." : " more."}
            </span>
            <Button look={none ? "main" : "plain"} onClick={take}>
              Take over {left.length === 1 ? "it" : count(Math.min(left.length, AT_ONCE))}
            </Button>
          </>
        ) : (
          none &&
          troubles.length === 0 && (
            <span className="text-soft">The old website shows no picture that could be taken over.</span>
          )
        )}
      </p>
      {troubles.length > 0 && (
        <details className="mt-1 text-soft">
          <summary>
            {count(troubles.length)} {troubles.length === 1 ? "picture" : "pictures"} could not be taken over
          </summary>
          <ul className="list-disc pl-5">
            {troubles.map(([url, why]) => (
              <li key={url} className="break-all">
                {url}: {why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
