import { useRef, useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Key } from "../../components/Key";
import { Loading } from "../../components/Loading";
import ResultButtons, { useResults } from "../../components/Results";
import UndoNote, { useActionLog } from "../../components/UndoNote";
import { setting } from "../../lib/filter";
import { count, day } from "../../lib/format";
import { RESULTS } from "../../lib/results";
import { useAddress } from "../../lib/useAddress";
import { useKeys } from "../../lib/useKeys";
import { useCurrency, useServices } from "../../queries/catalogue";
import { useCallSheet, useCalls } from "../../queries/outreach";
import Appointments from "./Appointments";
import Beside from "./Beside";
import CallSheet from "./CallSheet";
import History from "./History";
import Nav from "./Nav";

type Calls = NonNullable<ReturnType<typeof useCalls>["data"]>;

/** A list called one business after the other, by keys: what to say, what came of it, the next. */
export default function Call() {
  const [params, change] = useAddress();
  const shortlist = Number(params.get("shortlist") ?? 0);
  const calls = useCalls(shortlist);
  const queue = calls.data ?? [];
  const asked = Number(params.get("b") ?? 0);
  const current = asked || queue[0]?.id || 0;
  const show = (id: number) => change(setting("b", id ? String(id) : ""), { replace: true });
  const actions = useActionLog();
  return (
    <div className="flex h-full">
      <Nav chosen={shortlist} title="Calls" />
      {calls.error && <ErrorNote error={calls.error} />}
      {calls.data && current === 0 && (
        <Empty page title="Nobody to call now">
          {shortlist === 0 ? (
            "Everybody due for a call today, from all lists, appears here."
          ) : (
            <>
              Businesses selected or due today appear here.{" "}
              <Link className="text-leaf-dark underline" to={`/outreach?shortlist=${shortlist}`}>
                Back to the list
              </Link>
            </>
          )}
        </Empty>
      )}
      {current > 0 && (
        <Desk
          key={current}
          shortlist={shortlist}
          queue={queue}
          current={current}
          actions={actions}
          onShow={show}
        />
      )}
      <UndoNote actions={actions} />
    </div>
  );
}

interface DeskProps {
  shortlist: number;
  queue: Calls;
  current: number;
  actions: ReturnType<typeof useActionLog>;
  onShow: (id: number) => void;
}

function Desk({ shortlist, queue, current, actions, onShow }: DeskProps) {
  const [service, setService] = useState("");
  const [note, setNote] = useState("");
  const sheet = useCallSheet(current, service);
  const services = useServices().data ?? [];
  const currency = useCurrency();
  const at = queue.findIndex((call) => call.id === current);
  const go = (by: number) => {
    const next = queue[at < 0 ? 0 : (at + by + queue.length) % queue.length];
    if (next) onShow(next.id);
  };
  const results = useResults(current, service || sheet.data?.service || "", note, (action) => {
    actions.note(action, null);
    const rest = queue.filter((call) => call.id !== current);
    onShow(rest[Math.min(Math.max(at, 0), rest.length - 1)]?.id ?? 0);
  });
  const noteBox = useRef<HTMLTextAreaElement>(null);
  useKeys({
    j: () => go(1),
    k: () => go(-1),
    m: () => noteBox.current?.focus(),
    u: actions.undo,
    ...Object.fromEntries(RESULTS.map((kind) => [kind.key, () => void (sheet.data && results.choose(kind))])),
  });
  return (
    <>
      <section aria-label="Call sheet" className="relative flex min-w-0 flex-1 flex-col">
        <div className="min-h-0 flex-1 overflow-y-auto px-6 pt-3 pb-4">
          <p className="flex items-center gap-2 text-soft">
            {at >= 0 ? `${count(at + 1)} of ${count(queue.length)} to call` : "not to be called now"}
            {queue[at]?.follow_up && (
              <strong className="text-acorn">due {day(queue[at]?.follow_up ?? "")}</strong>
            )}
            {(queue[at]?.tried_today ?? 0) > 0 && <span>tried {queue[at]?.tried_today}× today</span>}
            <span className="ml-auto flex items-center gap-1.5">
              <Button onClick={() => go(-1)}>
                <Key>k</Key> Previous
              </Button>
              <Button onClick={() => go(1)}>
                <Key>j</Key> Next
              </Button>
            </span>
          </p>
          <Beside id={current} />
          <ErrorNote error={sheet.error} />
          {sheet.data ? (
            <CallSheet
              sheet={sheet.data}
              services={services}
              service={service || sheet.data.service}
              onService={setService}
              currency={currency}
            />
          ) : (
            <Loading className="mt-4" />
          )}
        </div>
        <div className="border-t border-line bg-paper px-4 py-2.5">
          <ResultButtons
            results={results}
            services={services}
            service={service || sheet.data?.service || ""}
            currency={currency}
            keys
            waiting={!sheet.data}
          />
        </div>
      </section>
      <aside
        aria-label="History"
        className="w-[232px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-3"
      >
        <label className="block">
          <span className="flex items-center gap-1.5 font-semibold">
            Note <Key>m</Key>
          </span>
          <textarea
            ref={noteBox}
            value={note}
            rows={3}
            onChange={(event) => setNote(event.target.value)}
            placeholder="Saved with the result"
            className="mt-1 w-full rounded-[3px] border border-line bg-white px-2 py-1 placeholder:text-soft"
          />
        </label>
        <Appointments business={current} />
        <History business={current} />
        <Link
          className="mt-3 block text-leaf-dark hover:underline"
          to={`/outreach/page/${current}?shortlist=${shortlist}`}
        >
          Owner’s page
        </Link>
        <a
          className="mt-1 block text-leaf-dark hover:underline"
          href={`/api/businesses/${current}/call-sheet.html`}
          target="_blank"
          rel="noopener"
        >
          This sheet to print
        </a>
      </aside>
    </>
  );
}
