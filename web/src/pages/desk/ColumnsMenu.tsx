import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { ChevronDownIcon, ChevronUpIcon, ViewColumnsIcon } from "@heroicons/react/16/solid";
import { Button } from "../../components/Button";
import type { Column } from "./columns";

interface Props {
  all: Column[];
  order: string[];
  onOrder: (order: string[]) => void;
  onUsual: () => void;
}

/** Which columns are shown, and in which order. */
export default function ColumnsMenu({ all, order, onOrder, onUsual }: Props) {
  const rest = all.filter((column) => !order.includes(column.key));
  const move = (at: number, by: number) => {
    const next = [...order];
    const [key] = next.splice(at, 1);
    if (key) next.splice(at + by, 0, key);
    onOrder(next);
  };
  const title = (key: string) => all.find((column) => column.key === key)?.head ?? key;
  return (
    <Popover>
      <PopoverButton as={Button} aria-label="Columns" title="Columns" className="px-1.5">
        <ViewColumnsIcon className="size-4" />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 mt-1 max-h-[70vh] w-64 overflow-y-auto border border-line bg-sheet p-2 shadow-lg"
      >
        <h3 className="px-1 text-[13px]">Shown, from left to right</h3>
        <ul>
          {order.map((key, at) => (
            <li key={key} className="flex items-center gap-1 rounded-[3px] px-1 hover:bg-faint">
              <label className="flex min-w-0 flex-1 items-center gap-1.5 py-[2px]">
                <input
                  type="checkbox"
                  checked
                  disabled={key === "name"}
                  onChange={() => onOrder(order.filter((item) => item !== key))}
                  className="accent-leaf"
                />
                {title(key)}
              </label>
              <button
                type="button"
                aria-label={`Move ${title(key)} left`}
                disabled={at === 0}
                onClick={() => move(at, -1)}
                className="p-0.5 text-soft hover:text-ink disabled:opacity-30"
              >
                <ChevronUpIcon className="size-3.5" />
              </button>
              <button
                type="button"
                aria-label={`Move ${title(key)} right`}
                disabled={at === order.length - 1}
                onClick={() => move(at, 1)}
                className="p-0.5 text-soft hover:text-ink disabled:opacity-30"
              >
                <ChevronDownIcon className="size-3.5" />
              </button>
            </li>
          ))}
        </ul>
        <h3 className="mt-2 px-1 text-[13px]">Left out</h3>
        <ul>
          {rest.map((column) => (
            <li key={column.key}>
              <label className="flex items-center gap-1.5 rounded-[3px] px-1 py-[2px] hover:bg-faint">
                <input
                  type="checkbox"
                  checked={false}
                  onChange={() => onOrder([...order, column.key])}
                  className="accent-leaf"
                />
                {column.head}
              </label>
            </li>
          ))}
        </ul>
        <Button look="quiet" onClick={onUsual}>
          Reset to default
        </Button>
      </PopoverPanel>
    </Popover>
  );
}
