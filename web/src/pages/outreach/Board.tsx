import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import ResultForm from "../../components/ResultForm";
import { count, money } from "../../lib/format";
import { ASKED_STAGES, RESULTS, type ResultKind } from "../../lib/results";
import { author } from "../../lib/session";
import { useCurrency, useServices } from "../../queries/catalogue";
import { useNoteContact } from "../../queries/outreach";
import { type Member, useBoard, useMove } from "../../queries/shortlists";
import Card from "./Card";

interface Props {
  shortlist: number;
  onOpen: (id: number) => void;
}

/** A list by stages. A card is dragged, or moved by Shift with the arrows; the arrows alone go from card to card. */
export default function Board({ shortlist, onOpen }: Props) {
  const query = useBoard(shortlist);
  const move = useMove(shortlist);
  const services = useServices().data ?? [];
  const currency = useCurrency();
  const [dragged, setDragged] = useState<number | null>(null);
  const [over, setOver] = useState("");
  const [asked, setAsked] = useState<{ id: number; kind: ResultKind } | null>(null);
  const contact = useNoteContact(asked?.id ?? 0);
  // a moved card keeps the focus: its element is another one in the column it went to
  const moved = useRef<number | null>(null);
  const board = query.data;
  useEffect(() => {
    if (moved.current === null || !board) return;
    document.querySelector<HTMLElement>(`[data-card="${moved.current}"]`)?.focus();
    moved.current = null;
  }, [board]);
  if (query.error) return <ErrorNote error={query.error} />;
  if (!board) return <Loading className="p-6" />;
  if (board.members.length === 0)
    return <Empty title="This list is empty">Select rows in the table and add them here.</Empty>;
  const of = (stage: string) => board.members.filter((member) => member.stage === stage);
  const send = (id: number, stage: string) => {
    const kind = RESULTS.find((item) => item.id === stage && ASKED_STAGES.has(stage));
    if (kind) setAsked({ id, kind });
    else move.mutate({ ids: [id], stage: stage as never, by: author() });
  };
  const onKeyDown = (event: KeyboardEvent, member: Member) => {
    const column = board.stages.indexOf(member.stage);
    const row = of(member.stage).findIndex((item) => item.id === member.id);
    const aside = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
    const along = { ArrowUp: -1, ArrowDown: 1 }[event.key] ?? 0;
    if (event.key === "Enter" && event.target === event.currentTarget) onOpen(member.id);
    if (event.target !== event.currentTarget || (!aside && !along)) return;
    event.preventDefault();
    const stage = board.stages[column + aside];
    if (event.shiftKey && aside && stage) {
      moved.current = member.id;
      send(member.id, stage);
    } else if (!event.shiftKey)
      focusCard(aside ? nearest(column, aside, row) : of(member.stage)[row + along]);
  };
  const nearest = (column: number, aside: number, row: number): Member | undefined => {
    for (let at = column + aside; at >= 0 && at < board.stages.length; at += aside) {
      const there = of(board.stages[at] ?? "");
      if (there.length > 0) return there[Math.min(row, there.length - 1)];
    }
  };
  return (
    <>
      <ErrorNote error={move.error ?? contact.error} />
      {asked && (
        <div className="mt-3">
          <p className="mb-1 font-semibold">
            {board.members.find((member) => member.id === asked.id)?.name}: {asked.kind.words}
          </p>
          <ResultForm
            key={`${asked.id}${asked.kind.id}`}
            kind={asked.kind}
            services={services}
            service={board.members.find((member) => member.id === asked.id)?.offer ?? ""}
            currency={currency}
            busy={contact.isPending}
            onSend={(report) =>
              contact.mutate({ by: author(), ...report }, { onSuccess: () => setAsked(null) })
            }
            onClose={() => setAsked(null)}
          />
        </div>
      )}
      <div className="mt-3 grid auto-cols-[minmax(124px,1fr)] grid-flow-col gap-2 overflow-x-auto pb-4">
        {board.stages.map((stage) => (
          <section
            key={stage}
            aria-label={stage}
            onDragOver={(event) => {
              event.preventDefault();
              setOver(stage);
            }}
            onDrop={() => {
              if (dragged !== null) send(dragged, stage);
              setDragged(null);
              setOver("");
            }}
            className={`min-h-40 border-t-2 px-1 pt-1 ${over === stage && dragged !== null ? "border-leaf bg-leaf-soft" : "border-line"}`}
          >
            <h2 className="flex justify-between px-1 text-[13px]">
              {stage}{" "}
              <span className="font-sans font-normal text-soft">{count(board.counts[stage] ?? 0)}</span>
            </h2>
            <ul>
              {of(stage).map((member) => (
                <Card
                  key={member.id}
                  member={member}
                  offer={services.find((service) => service.id === member.offer)?.title ?? ""}
                  value={money(member.value, currency)}
                  onDrag={setDragged}
                  onKeyDown={onKeyDown}
                  onOpen={onOpen}
                />
              ))}
            </ul>
          </section>
        ))}
      </div>
      {Object.values(board.counts).reduce((sum, number) => sum + number, 0) > board.shown && (
        <p className="text-soft">The {count(board.shown)} most valuable are shown.</p>
      )}
    </>
  );
}

const focusCard = (member: Member | undefined): void =>
  document.querySelector<HTMLElement>(`[data-card="${member?.id}"]`)?.focus();
