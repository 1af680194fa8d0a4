import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Download } from "../../components/Download";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import ShownOnce from "../../components/ShownOnce";
import { count, when } from "../../lib/format";
import { useBackUp, useBackups, useMakeBackupKey, useTakeIn } from "../../queries/spending";
import Nav from "./Nav";

const PLAIN =
  "inline-flex items-center rounded-[3px] border border-line bg-sheet px-2.5 py-1 font-medium hover:border-leaf";
const EVERY: Record<string, string> = {
  never: "None is made by the clock.",
  day: "One is made every day.",
  week: "One is made every week.",
};

/** Backups by the clock with their key; and everything as one file for other programs. */
export default function BackupsPage() {
  return (
    <div className="flex h-full">
      <Nav title="Backups and files" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Backups" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">Backups and files</h1>
        <Backups />
        <Everything />
      </section>
    </div>
  );
}

function Backups() {
  const query = useBackups();
  const make = useBackUp();
  const makeKey = useMakeBackupKey();
  const found = query.data;
  const key = makeKey.data?.key ?? "";
  if (!found) return query.isPending ? <Loading /> : <ErrorNote error={query.error} />;
  return (
    <div className="max-w-3xl">
      <h2 className="mt-3 text-[15px]">Backups</h2>
      <p>
        {EVERY[found.every]} {found.every !== "never" && `The last ${count(found.keep)} are kept.`}{" "}
        <Link to="/settings#backups" className="text-leaf-dark underline">
          Change this in Settings
        </Link>
      </p>
      <p className="text-soft">
        Each is tried out, then encrypted. This computer cannot open them: only your key can. They are in{" "}
        {found.folder}.
      </p>
      {key && (
        <ShownOnce
          words="This is the key of your backups. Keep it somewhere else: without it nobody can open them."
          text={key}
          onDone={() => makeKey.reset()}
        />
      )}
      <p className="mt-2 flex gap-1.5">
        <Button look="main" disabled={!found.locked || make.isPending} onClick={() => make.mutate(undefined)}>
          {make.isPending ? "Backing up …" : "Back up now"}
        </Button>
        <Button disabled={makeKey.isPending} onClick={() => makeKey.mutate(undefined)}>
          {found.locked ? "Make a new key" : "Make a key"}
        </Button>
      </p>
      {!found.locked && <p className="mt-1">Make a key first: backups are always encrypted.</p>}
      <ErrorNote error={make.error ?? makeKey.error} />
      {found.backups.length === 0 && <p className="mt-2">There is no backup here yet.</p>}
      <ul className="mt-2">
        {found.backups.map((one) => (
          <li key={one.name} className="flex gap-4 border-t border-line py-1">
            <span className="w-44">{when(one.at)}</span>
            <span className="w-24 text-right">{(one.bytes / 1e6).toFixed(1)} MB</span>
            <span className="text-soft">{one.name}</span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-soft">
        To put one back: <code>./acorn restore FILE --key KEYFILE</code>
      </p>
    </div>
  );
}

function Everything() {
  const takeIn = useTakeIn();
  const done = takeIn.data;
  return (
    <div className="mt-6 max-w-3xl">
      <h2 className="text-[15px]">Everything as one file</h2>
      <p className="text-soft">
        All businesses with findings, people, lists and history, for other programs. It holds names and
        addresses of people.
      </p>
      <p className="mt-1 flex flex-wrap items-center gap-1.5">
        <Download className={PLAIN} from="/api/everything.ndjson">
          As NDJSON
        </Download>
        <Download className={PLAIN} from="/api/everything.sqlite">
          As SQLite
        </Download>
        <label className={`${PLAIN} cursor-pointer focus-within:border-leaf`}>
          {takeIn.isPending ? "Taking in …" : "Take a file in"}
          <input
            type="file"
            accept=".ndjson"
            className="sr-only"
            disabled={takeIn.isPending}
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) takeIn.mutate(file);
              event.target.value = "";
            }}
          />
        </label>
      </p>
      <ErrorNote error={takeIn.error} />
      {done && (
        <output className="mt-1 block">
          {count(done.businesses)} businesses taken in, {count(done.new)} of them new.
          {done.all_refused > 0 && ` ${count(done.all_refused)} lines could not be used:`}
        </output>
      )}
      {done && done.refused.length > 0 && (
        <ul className="mt-1 max-h-48 overflow-y-auto border border-line bg-sheet px-3 py-1 text-alarm">
          {done.refused.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
