import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { author } from "../../lib/session";
import { zoned } from "../../lib/zoned";
import { useAppointments, useCancelAppointment, useMakeAppointment } from "../../queries/appointments";

/** Appointments with a business: those there are, and a new one. */
export default function Appointments({ business }: { business: number }) {
  const query = useAppointments(business);
  const make = useMakeAppointment(business);
  const cancel = useCancelAppointment();
  const [at, setAt] = useState("");
  const [note, setNote] = useState("");
  const found = query.data ?? [];
  return (
    <section aria-label="Appointments" className="mt-3">
      <h3 className="flex border-b border-line pb-0.5">
        Appointments
        {found.length > 0 && (
          <a
            href={`/api/businesses/${business}/calendar.ics`}
            download
            className="ml-auto font-sans font-normal text-leaf-dark hover:underline"
          >
            Calendar file
          </a>
        )}
      </h3>
      <ul>
        {found.map((item) => (
          <li key={item.id} className="flex items-start gap-2 border-b border-faint py-1">
            <span className="min-w-0 flex-1">
              <strong className="font-semibold">{when(item.at)}</strong> {item.note}
            </span>
            <Button look="quiet" onClick={() => cancel.mutate({ id: item.id, by: author() })}>
              Cancel
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1.5 flex flex-wrap gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          const done = () => {
            setAt("");
            setNote("");
          };
          const body = { at: zoned(at), minutes: 30, place: "", note, remind_minutes: 15, by: author() };
          make.mutate(body, { onSuccess: done });
        }}
      >
        <input
          type="datetime-local"
          aria-label="Date and time"
          value={at}
          onChange={(event) => setAt(event.target.value)}
          className="w-full box"
        />
        <input
          aria-label="What for"
          placeholder="What for"
          value={note}
          maxLength={2000}
          onChange={(event) => setNote(event.target.value)}
          className="min-w-0 flex-1 box"
        />
        <Button type="submit" disabled={!at || make.isPending}>
          Add
        </Button>
      </form>
      <ErrorNote error={query.error ?? make.error ?? cancel.error} />
    </section>
  );
}
