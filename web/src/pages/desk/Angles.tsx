import { XMarkIcon } from "@heroicons/react/16/solid";
import { useState } from "react";
import type { Service } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { type Change, cleared, replaced, sameFilter } from "../../lib/filter";
import { count, money } from "../../lib/format";
import { marks } from "../../lib/marks";
import { useCurrency } from "../../queries/catalogue";
import { useAddAngle, useAngles, useDropAngle } from "../../queries/desk";

const SHOWN = 7;

interface Props {
  filter: Record<string, string>;
  services: Service[];
  live: boolean;
  onChange: (change: Change) => void;
}

/** Ready-made cases, those with most value behind them first; the filter of now can be kept as one more. */
export default function Angles({ filter, services, live, onChange }: Props) {
  const angles = useAngles(live).data ?? [];
  const currency = useCurrency();
  const [whole, setWhole] = useState(false);
  const drop = useDropAngle();
  const shown = whole ? angles : angles.filter((angle) => angle.count > 0 || angle.own).slice(0, SHOWN);
  const active = angles.find((angle) => sameFilter(angle.filter, filter));
  return (
    <>
      <h2 className="mt-2 mb-0.5 px-1.5 text-[13px]">Angles</h2>
      <ul>
        {shown.map((angle) => {
          const on = angle === active;
          return (
            <li key={angle.id} className="flex items-center">
              <button
                type="button"
                aria-pressed={on}
                title={`${angle.line} Worth ${money(angle.worth, currency)} in total.`}
                onClick={() => onChange(on ? cleared : (now) => replaced(now, angle.filter))}
                className={`flex min-w-0 flex-1 items-baseline gap-1.5 rounded-[3px] px-1.5 py-[2px] text-left ${on ? "bg-acorn-soft font-semibold" : angle.count ? "hover:bg-faint" : "text-soft hover:bg-faint"}`}
              >
                <span className="min-w-0 flex-1 leading-[1.25]">{angle.name}</span>
                <span className="font-normal text-soft">{count(angle.count)}</span>
              </button>
              {angle.own && (
                <button
                  type="button"
                  aria-label={`Delete the angle ${angle.name}`}
                  onClick={() => drop.mutate(Number(angle.id.split(":")[1]))}
                  className="p-0.5 text-soft hover:text-alarm"
                >
                  <XMarkIcon className="size-3" />
                </button>
              )}
            </li>
          );
        })}
      </ul>
      {angles.length > shown.length || whole ? (
        <button
          type="button"
          onClick={() => setWhole(!whole)}
          className="px-1.5 text-xs text-leaf-dark hover:underline"
        >
          {whole ? "fewer" : `all ${count(angles.length)}`}
        </button>
      ) : null}
      {Object.keys(filter).length > 0 && !active && <KeepAngle filter={filter} services={services} />}
    </>
  );
}

/** Keeps the filter of now, with what it sells and how to begin. */
function KeepAngle({ filter, services }: { filter: Record<string, string>; services: Service[] }) {
  const add = useAddAngle();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [service, setService] = useState("");
  const [line, setLine] = useState("");
  if (!open)
    return (
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="block px-1.5 text-xs text-leaf-dark hover:underline"
      >
        save this filter as an angle
      </button>
    );
  const box = "w-full rounded-[3px] border border-line bg-white px-1.5 py-0.5";
  return (
    <form
      className="mx-1 mt-1 grid gap-1 border border-line bg-paper p-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate({ name, service, line, filter }, { onSuccess: () => setOpen(false) });
      }}
    >
      <input
        className={box}
        value={name}
        onChange={(event) => setName(event.target.value)}
        placeholder="Name of the angle"
        aria-label="Name of the angle"
        {...marks(add.error, "name")}
      />
      <select
        className={box}
        value={service}
        onChange={(event) => setService(event.target.value)}
        aria-label="Service it sells"
      >
        <option value="">sells …</option>
        {services.map((item) => (
          <option key={item.id} value={item.id}>
            {item.title}
          </option>
        ))}
      </select>
      <textarea
        className={box}
        rows={2}
        value={line}
        onChange={(event) => setLine(event.target.value)}
        placeholder="Opening line, true for all of them"
        aria-label="Opening line"
        {...marks(add.error, "line")}
      />
      <ErrorNote error={add.error} />
      <span className="flex gap-1">
        <Button type="submit" look="main" disabled={!name.trim() || add.isPending}>
          Keep
        </Button>
        <Button look="quiet" onClick={() => setOpen(false)}>
          Cancel
        </Button>
      </span>
    </form>
  );
}
