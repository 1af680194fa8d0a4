import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import ShownOnce from "../../components/ShownOnce";
import { count, day } from "../../lib/format";
import { useEndViewLink, useMakeViewLink, useViewLinks } from "../../queries/sharing";

interface Props {
  open: boolean;
  filter: Record<string, string>;
  sort: string;
  many: number;
  onClose: () => void;
}

const DAYS = [1, 7, 14, 30, 90];

/** A link to what is shown, for who has no account: nothing of people is in it, and it ends. */
export default function ViewLinks({ open, filter, sort, many, onClose }: Props) {
  const query = useViewLinks(open);
  const make = useMakeViewLink();
  const end = useEndViewLink();
  const [name, setName] = useState("");
  const [days, setDays] = useState(14);
  const address = make.data?.address ?? "";
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/25" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[88vh] w-[640px] flex-col overflow-y-auto border border-line bg-sheet px-5 py-3 shadow-xl">
          <DialogTitle className="text-lg">Share {count(many)} businesses by a link</DialogTitle>
          <p className="text-soft">
            Anybody with the link sees names, websites and scores, kept up to date. People, phone numbers and
            your notes are left out.
          </p>
          <form
            className="mt-3 flex items-end gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              make.mutate({ name, filter, sort, columns: [], days }, { onSuccess: () => setName("") });
            }}
          >
            <label className="flex-1">
              <span className="block text-soft">Heading</span>
              <input
                value={name}
                maxLength={80}
                onChange={(event) => setName(event.target.value)}
                className="w-full box"
              />
            </label>
            <label>
              <span className="block text-soft">Good for</span>
              <select value={days} onChange={(event) => setDays(Number(event.target.value))} className="box">
                {DAYS.map((one) => (
                  <option key={one} value={one}>
                    {one === 1 ? "one day" : `${one} days`}
                  </option>
                ))}
              </select>
            </label>
            <Button type="submit" look="main" disabled={!name.trim() || make.isPending}>
              Make a link
            </Button>
          </form>
          {address.startsWith("http://127.") && (
            <p className="mt-2 text-acorn">
              This link opens on this computer alone. Set the address of the application in Settings first.
            </p>
          )}
          {address && (
            <ShownOnce
              words="Send this link to the people who should see it. It is shown this once."
              text={address}
              onDone={() => make.reset()}
            />
          )}
          <ErrorNote error={make.error ?? end.error ?? query.error} />
          <ul className="mt-3">
            {(query.data?.links ?? []).map((one) => (
              <li key={one.id} className="flex items-baseline gap-3 border-t border-line py-1">
                <span className="min-w-0 flex-1 truncate font-medium">{one.name}</span>
                <span className="text-soft">
                  {one.by && `${one.by}, `}until {day(one.expires_at)}, opened {count(one.opened)}×
                </span>
                <Button look="quiet" onClick={() => end.mutate(one.id)}>
                  End it
                </Button>
              </li>
            ))}
          </ul>
          <p className="mt-3">
            <Button onClick={onClose}>Close</Button>
          </p>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
