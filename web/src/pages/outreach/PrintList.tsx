import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count } from "../../lib/format";
import { useAuditAgain } from "../../queries/audits";
import { useCalls, usePaperParts } from "../../queries/outreach";

/** A list or its call sheets on paper, with the parts that are wanted. */
export default function PrintList({ shortlist, onClose }: { shortlist: number; onClose: () => void }) {
  const query = usePaperParts();
  const [what, setWhat] = useState<"sheets" | "list">("sheets");
  const [left, setLeft] = useState<string[]>([]);
  const stale = (useCalls(shortlist).data ?? []).filter((call) => call.stale).map((call) => call.id);
  const again = useAuditAgain();
  const parts = (what === "sheets" ? query.data?.sheet : query.data?.columns) ?? [];
  const wanted = parts.filter((part) => !left.includes(part.id));
  const print = (form: string) => {
    const name = what === "sheets" ? "parts" : "columns";
    // one that there is not stands for none at all
    const asked = (wanted.length ? wanted.map((part) => part.id) : ["none"]).map((id) => `${name}=${id}`);
    const file = what === "sheets" ? "call-sheets" : "list";
    // not a new window: after waiting, browsers open none
    const show = () =>
      window.location.assign(`/api/shortlists/${shortlist}/${file}.${form}?${asked.join("&")}`);
    if (what === "sheets" && stale.length > 0)
      again.mutate({ ids: stale, held_back: true }, { onSuccess: show });
    else show();
  };
  return (
    <section
      aria-label="Print"
      className="mt-3 border border-line bg-sheet px-3 py-2"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <div className="flex items-start gap-8">
        <fieldset>
          <legend className="font-serif text-[15px]">Print</legend>
          {(
            [
              ["sheets", "Call sheets, a page each"],
              ["list", "The list as a table"],
            ] as const
          ).map(([id, title]) => (
            <label key={id} className="flex items-center gap-1.5 py-0.5">
              <input type="radio" name="what" checked={what === id} onChange={() => setWhat(id)} />
              {title}
            </label>
          ))}
        </fieldset>
        <fieldset className="min-w-0 flex-1">
          <legend className="font-serif text-[15px]">With</legend>
          <div className="flex flex-wrap gap-x-4 gap-y-1">
            {parts.map((part) => (
              <label key={part.id} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={!left.includes(part.id)}
                  onChange={() =>
                    setLeft((now) =>
                      now.includes(part.id) ? now.filter((id) => id !== part.id) : [...now, part.id],
                    )
                  }
                />
                {part.title}
              </label>
            ))}
          </div>
          {what === "sheets" && stale.length > 0 && (
            <p className="mt-1 text-soft">
              {count(stale.length)} not looked at for 14 days are looked at again first.
            </p>
          )}
          <ErrorNote error={query.error ?? again.error} />
          <p className="mt-2 flex gap-1.5">
            <Button look="main" disabled={again.isPending || !query.data} onClick={() => print("html")}>
              {again.isPending ? "Looking again …" : "Open to print"}
            </Button>
            <Button disabled={again.isPending || !query.data} onClick={() => print("pdf")}>
              Save as PDF
            </Button>
          </p>
        </fieldset>
        <Button look="quiet" onClick={onClose}>
          Close
        </Button>
      </div>
    </section>
  );
}
